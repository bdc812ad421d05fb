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

/** Strikes a reading out. */
export async function removeReading({ id, homeId }: StoredReading): Promise<void> {
  await db.transaction('rw', db.homes, db.readings, async () => {
    await db.readings.delete(id);
    await bumpRevision(homeId);
  });
}
