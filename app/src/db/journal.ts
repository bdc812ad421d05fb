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

/** Puts another note in the place of one that was written. */
export async function changeNote({ id, homeId }: StoredNote, note: JournalNote): Promise<void> {
  const checked = noteSchema.parse(note);
  await db.transaction('rw', db.homes, db.journal, async () => {
    await db.journal.put({ id, homeId, ...checked });
    await bumpRevision(homeId);
  });
}

/** Writes notes of a file, all of them or none; those that are here already are not written twice. */
export async function addNotes(homeId: string, notes: readonly JournalNote[]): Promise<number> {
  return db.transaction('rw', db.homes, db.journal, async () => {
    const mark = ({ fromMs, toMs, kind, text, leaveOut }: JournalNote) =>
      JSON.stringify([fromMs, toMs, kind, text, leaveOut]);
    const here = new Set((await db.journal.where('homeId').equals(homeId).toArray()).map(mark));
    const fresh = notes.filter((note) => !here.has(mark(note)));
    await db.journal.bulkAdd(fresh.map((note) => ({ homeId, ...note })));
    await bumpRevision(homeId);
    return fresh.length;
  });
}

/** Strikes a note out. */
export async function removeNote({ id, homeId }: StoredNote): Promise<void> {
  await db.transaction('rw', db.homes, db.journal, async () => {
    await db.journal.delete(id);
    await bumpRevision(homeId);
  });
}

/** Puts back what was taken away, in its own place. */
export async function putBackNote(row: StoredNote): Promise<void> {
  await db.transaction('rw', db.homes, db.journal, async () => {
    await db.journal.put(row);
    await bumpRevision(row.homeId);
  });
}
