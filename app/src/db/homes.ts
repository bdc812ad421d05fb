import type { System } from '@long-tally/core';
import { db, type Home } from './database.js';
import { checkedRows, homeRow } from './rows.js';

/**
 * A new home for a system, not yet stored.
 * @param id for a home that is known again, as a demo home or one from a book; random where it is left out
 */
export function newHome(system: System, id: string = crypto.randomUUID()): Home {
  const now = Date.now();
  // Revisions begin at the present instant: what was computed of a home that once had this id is never taken for it.
  return { id, system, revision: now, addedAt: now, savedAt: null, savedRevision: null };
}

/** A home that is stored but cannot be used. */
export interface BadHome {
  readonly id: string;
  readonly name: string;
  /** The part of its row that is wrong. */
  readonly part: string;
}

/** The homes of this browser, and those that cannot be used. */
export async function allHomes(): Promise<{
  readonly homes: readonly Home[];
  readonly bad: readonly BadHome[];
}> {
  const { good, bad } = checkedRows(homeRow, await db.homes.toArray());
  return {
    homes: good,
    bad: bad.map(({ row, part }) => {
      const { id, system } = row as { id: unknown; system?: { name?: unknown } };
      const name = typeof system?.name === 'string' ? system.name : String(id);
      return { id: String(id), name, part };
    }),
  };
}

/**
 * A home as it is stored.
 * @throws Error in words when there is none of that id, or its row is damaged
 */
export async function homeOf(id: string): Promise<Home> {
  const row = await db.homes.get(id);
  if (!row)
    throw new Error('This home is not in this browser: it was removed, or the address is of another one.');
  const [home] = checkedRows(homeRow, [row]).good;
  if (!home)
    throw new Error(
      'The description of this home is damaged. The start page tells of it and saves its files.',
    );
  return home;
}

/** Stores a new home. */
export async function addHome(home: Home): Promise<void> {
  await db.homes.add(home);
}

/** Another tab has changed what was to be saved. */
export class ChangedElsewhere extends Error {
  override readonly name = 'ChangedElsewhere';
}

/**
 * Saves a changed description.
 * @param base the description that was changed
 * @throws ChangedElsewhere when the stored one is another by now: nothing is overwritten
 */
export async function saveSystem(homeId: string, base: System, system: System): Promise<void> {
  await db.transaction('rw', db.homes, async () => {
    const home = await homeOf(homeId);
    if (JSON.stringify(home.system) !== JSON.stringify(base))
      throw new ChangedElsewhere(
        'The description was changed in another tab meanwhile. What you typed is still here: load the page anew in another tab to see the other change, then save again what should stand.',
      );
    await db.homes.put({ ...home, system, revision: home.revision + 1 });
  });
}

/** Tells everything computed of a home that it has changed; to be called within a transaction on homes. */
export async function bumpRevision(homeId: string): Promise<void> {
  const changed = await db.homes
    .where('id')
    .equals(homeId)
    .modify((home) => {
      Object.assign(home, { revision: home.revision + 1 });
    });
  // A home that another tab has removed takes nothing more.
  if (changed === 0) throw new Error('This home was removed in another tab; nothing was written.');
}

/** Counts a change that no figure follows: one more since the book was saved. */
export async function countChange(homeId: string): Promise<void> {
  await db.homes
    .where('id')
    .equals(homeId)
    .modify((home) => {
      if (home.savedRevision !== null) Object.assign(home, { savedRevision: home.savedRevision - 1 });
    });
}

/** Notes that the book of a home was saved as it stands at a revision. */
export async function bookSaved(homeId: string, revision: number): Promise<void> {
  await db.homes.update(homeId, { savedAt: Date.now(), savedRevision: revision });
}

/** How much belongs to a home, to be said before it is deleted. */
export async function belongings(homeId: string) {
  const of = { homeId };
  const [sources, notes, readings, corrections] = await Promise.all([
    db.sources.where(of).toArray(),
    db.journal.where(of).count(),
    db.readings.where(of).count(),
    db.corrections.where(of).count(),
  ]);
  return { logs: sources.length, notes, readings, corrections };
}

/** Removes a home with everything that belongs to it. */
export async function removeHome(homeId: string): Promise<void> {
  await db.transaction('rw', HOME_TABLES, async () => {
    await removeWithin(homeId);
  });
}

export const HOME_TABLES = [
  db.homes,
  db.sources,
  db.files,
  db.chunks,
  db.homeMappings,
  db.corrections,
  db.dismissals,
  db.journal,
  db.readings,
  db.trials,
  db.appliances,
  db.attachments,
  db.offers,
  db.scenarios,
  db.layouts,
  db.folders,
];

/**
 * As {@link removeHome}, within a transaction on {@link HOME_TABLES}.
 * @param what `but-trials` leaves trials, their pictures, appliances, offers and scenarios, for the home that takes its place
 */
export async function removeWithin(homeId: string, what: 'all' | 'but-trials' = 'all'): Promise<void> {
  const own = [
    ...[db.sources, db.homeMappings, db.corrections, db.dismissals, db.journal, db.readings],
    ...(what === 'all'
      ? [db.trials, db.appliances, db.attachments, db.offers, db.scenarios, db.layouts, db.folders]
      : []),
  ];
  const ids = await db.sources.where('homeId').equals(homeId).primaryKeys();
  await db.chunks.where('sourceId').anyOf(ids).delete();
  await db.files.bulkDelete(ids);
  await Promise.all(own.map((table) => table.where('homeId').equals(homeId).delete()));
  await db.homes.delete(homeId);
}

/** Removes every home with everything that belongs to them. */
export async function removeEverything(): Promise<void> {
  await db.transaction('rw', HOME_TABLES, () => Promise.all(HOME_TABLES.map((table) => table.clear())));
}
