import { noteSchema, type JournalNote } from '@long-tally/core';
import { db, type StoredNote } from './database.js';
import { bumpRevision } from './homes.js';

/** Writes a note; every view that shows the day learns of it. */
export async function addNote(homeId: string, note: JournalNote): Promise<void> {
  const checked = noteSchema.parse(note);
  await db.transaction('rw', db.homes, db.journal, async () => {
    await db.journal.add({ homeId, ...checked });
    await bumpRevision(homeId);
  });
}

/** Strikes a note out. */
export async function removeNote({ id, homeId }: StoredNote): Promise<void> {
  await db.transaction('rw', db.homes, db.journal, async () => {
    await db.journal.delete(id);
    await bumpRevision(homeId);
  });
}
