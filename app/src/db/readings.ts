import { readingSchema, type Reading } from '@long-tally/core';
import { db, type StoredReading } from './database.js';
import { bumpRevision } from './homes.js';

/** Writes down counters read by hand. */
export async function addReading(homeId: string, reading: Reading): Promise<void> {
  const checked = readingSchema.parse(reading);
  await db.transaction('rw', db.homes, db.readings, async () => {
    await db.readings.add({ homeId, ...checked });
    await bumpRevision(homeId);
  });
}

/** Puts another reading in the place of one that was written down. */
export async function changeReading({ id, homeId }: StoredReading, reading: Reading): Promise<void> {
  const checked = readingSchema.parse(reading);
  await db.transaction('rw', db.homes, db.readings, async () => {
    await db.readings.put({ id, homeId, ...checked });
    await bumpRevision(homeId);
  });
}

/** Writes readings of a file, all of them or none; those that are here already are not written twice. */
export async function addReadings(homeId: string, readings: readonly Reading[]): Promise<number> {
  return db.transaction('rw', db.homes, db.readings, async () => {
    const mark = ({ atMs, counters, note }: Reading) => JSON.stringify([atMs, counters, note]);
    const here = new Set((await db.readings.where('homeId').equals(homeId).toArray()).map(mark));
    const fresh = readings.filter((reading) => !here.has(mark(reading)));
    await db.readings.bulkAdd(fresh.map((reading) => ({ homeId, ...reading })));
    await bumpRevision(homeId);
    return fresh.length;
  });
}

/** Strikes a reading out. */
export async function removeReading({ id, homeId }: StoredReading): Promise<void> {
  await db.transaction('rw', db.homes, db.readings, async () => {
    await db.readings.delete(id);
    await bumpRevision(homeId);
  });
}

/** Puts back what was taken away, in its own place. */
export async function putBackReading(row: StoredReading): Promise<void> {
  await db.transaction('rw', db.homes, db.readings, async () => {
    await db.readings.put(row);
    await bumpRevision(row.homeId);
  });
}
