import type { System } from '@long-tally/core';
import { db, type Home } from './database.js';

/** A new home for a system, not yet stored; its id comes from its name and is made unique. */
export async function newHome(system: System): Promise<Home> {
  const plain =
    system.name
      .normalize('NFD')
      .replace(/\p{M}/gu, '')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '') || 'home';
  let id = plain;
  for (let n = 2; await db.homes.get(id); n++) id = `${plain}-${n}`;
  return { id, system, revision: 0, addedAt: Date.now() };
}

/** Stores a new home. */
export async function addHome(home: Home): Promise<void> {
  await db.homes.add(home);
}

/** Saves a changed description. */
export async function saveSystem(homeId: string, system: System): Promise<void> {
  await db.homes
    .where('id')
    .equals(homeId)
    .modify((home) => {
      Object.assign(home, { system, revision: home.revision + 1 });
    });
}

/** Tells everything computed of a home that it has changed; to be called within a transaction on homes. */
export async function bumpRevision(homeId: string): Promise<void> {
  await db.homes
    .where('id')
    .equals(homeId)
    .modify((home) => {
      Object.assign(home, { revision: home.revision + 1 });
    });
}

/** Removes a home with everything that belongs to it. */
export async function removeHome(homeId: string): Promise<void> {
  const own = [db.sources, db.corrections, db.dismissals, db.journal, db.readings];
  await db.transaction('rw', [db.homes, db.files, db.chunks, ...own], async () => {
    const ids = await db.sources.where('homeId').equals(homeId).primaryKeys();
    await db.chunks.where('sourceId').anyOf(ids).delete();
    await db.files.bulkDelete(ids);
    await Promise.all(own.map((table) => table.where('homeId').equals(homeId).delete()));
    await db.homes.delete(homeId);
  });
}
