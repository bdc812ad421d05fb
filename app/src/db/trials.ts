import { trialSchema, type TrialFile, type TrialKind } from '@long-tally/core';
import { db, type StoredTrial } from './database.js';
import { bumpRevision, countChange } from './homes.js';

type Typed = TrialFile['readings'][number];

/** Begins a trial. */
export function beginTrial(homeId: string, kind: TrialKind, more: Partial<TrialFile> = {}): Promise<number> {
  const file = trialSchema.parse({ schema: 'long-tally/trial@1', kind, readings: [], ...more });
  return db.transaction('rw', db.trials, db.homes, async () => {
    await countChange(homeId);
    return db.trials.add({ homeId, file, struck: [], state: 'running', madeAt: Date.now() });
  });
}

/** Puts a trial of a file beside the others, as done. */
export function addTrial(homeId: string, file: TrialFile): Promise<number> {
  return db.transaction('rw', db.trials, db.homes, async () => {
    await bumpRevision(homeId);
    return db.trials.add({ homeId, file, struck: [], state: 'done', madeAt: Date.now() });
  });
}

/** Writes a reading down, as it was typed. */
export function addTrialReading(id: number, reading: Typed): Promise<unknown> {
  return change(id, (trial) => ({
    file: trialSchema.parse({ ...trial.file, readings: [...trial.file.readings, reading] }),
  }));
}

/** Strikes a reading out, or lets it count again: it stays where it is. */
export function strikeTrialReading(id: number, place: number): Promise<unknown> {
  return change(id, ({ struck }) => ({
    struck: struck.includes(place) ? struck.filter((one) => one !== place) : [...struck, place],
  }));
}

/** Pauses a trial, goes on with it, ends or abandons it. */
export function setTrialState(id: number, state: StoredTrial['state']): Promise<unknown> {
  return change(id, () => ({ state }));
}

/** Takes a trial out for good. */
export async function removeTrial({ id, homeId }: StoredTrial): Promise<void> {
  await db.transaction('rw', db.trials, db.attachments, db.homes, async () => {
    await bumpRevision(homeId);
    await db.attachments.where('trialId').equals(id).delete();
    await db.trials.delete(id);
  });
}

/** In one transaction, so that two tabs on one trial do not undo each other. */
function change(id: number, of: (trial: StoredTrial) => Partial<StoredTrial>): Promise<unknown> {
  return db.transaction('rw', db.trials, db.homes, async () => {
    const trial = await db.trials.get(id);
    if (!trial) throw new Error('This trial is no longer here; it was taken out in another tab.');
    const changed = of(trial);
    await db.trials.update(id, changed);
    // The figures follow a trial once it is done, and no longer when it is taken up again.
    const counts = trial.state === 'done' || changed.state === 'done';
    await (counts ? bumpRevision : countChange)(trial.homeId);
  });
}
