import type { Correction } from '@long-tally/core';
import { db, type StoredCorrection } from './database.js';
import { bumpRevision } from './homes.js';
import { checkedRows, correctionRow } from './rows.js';

/** Lays a correction over a home's logs. */
export async function addCorrection(homeId: string, correction: Correction, reason: string): Promise<void> {
  await db.transaction('rw', db.homes, db.corrections, async () => {
    await db.corrections.add({ homeId, correction, reason, madeAt: Date.now() });
    await bumpRevision(homeId);
  });
}

/** Takes a correction away; the logs stand again as they came. */
export async function removeCorrection({ id, homeId }: StoredCorrection): Promise<void> {
  await db.transaction('rw', db.homes, db.corrections, async () => {
    await db.corrections.delete(id);
    await bumpRevision(homeId);
  });
}

/** Puts back what was taken away, in its own place. */
export async function putBackCorrection(row: StoredCorrection): Promise<void> {
  await db.transaction('rw', db.homes, db.corrections, async () => {
    await db.corrections.put(row);
    await bumpRevision(row.homeId);
  });
}

/** The corrections of a home's logs, in the order in which they were made. */
export async function correctionsOf(homeId: string): Promise<Correction[]> {
  const rows = await db.corrections.where('homeId').equals(homeId).sortBy('id');
  return checkedRows(correctionRow, rows).good.map(({ correction }) => correction);
}

/** Sets a finding aside. */
export async function dismiss(homeId: string, key: string): Promise<void> {
  await db.dismissals.put({ homeId, key });
}

/** Shows a finding again that was set aside. */
export async function showAgain(homeId: string, key: string): Promise<void> {
  await db.dismissals.delete([homeId, key]);
}

/** Shows every finding of a home again. */
export async function showDismissed(homeId: string): Promise<void> {
  await db.dismissals.where('homeId').equals(homeId).delete();
}
