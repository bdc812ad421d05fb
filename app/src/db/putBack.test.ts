import { beforeEach, describe, expect, test } from '@jest/globals';
import 'fake-indexeddb/auto';
import {
  addCorrection,
  correctionsOf,
  dismiss,
  putBackCorrection,
  removeCorrection,
  showAgain,
} from './corrections.js';
import { db } from './database.js';
import { addHome, homeOf, newHome } from './homes.js';
import { addNote, putBackNote, removeNote } from './journal.js';
import { addReading, putBackReading, removeReading } from './readings.js';

const HOME = 'mill-lane';
const revision = async () => (await homeOf(HOME)).revision;

beforeEach(async () => {
  await Promise.all(db.tables.map((table) => table.clear()));
  await addHome(newHome({ schema: 'long-tally/system@1', name: 'Mill Lane', timeZone: 'UTC' }, HOME));
});

describe('what was taken away and is put back', () => {
  test('is the note as it was, in its own place, and the views learn of it', async () => {
    await addNote(HOME, { fromMs: 0, toMs: 3_600_000, kind: 'weather', text: 'gale', leaveOut: false });
    const [note] = await db.journal.toArray();
    await removeNote(note!);
    expect(await db.journal.count()).toBe(0);
    const before = await revision();
    await putBackNote(note!);
    expect(await db.journal.toArray()).toEqual([note]);
    expect(await revision()).toBe(before + 1);
  });

  test('is the reading with its counters', async () => {
    await addReading(HOME, { atMs: 1000, counters: { import: 812.4 }, note: '' });
    const [reading] = await db.readings.toArray();
    await removeReading(reading!);
    await putBackReading(reading!);
    expect(await db.readings.toArray()).toEqual([reading]);
  });

  test('is the correction, and it counts again', async () => {
    await addCorrection(HOME, { kind: 'flip', quantity: 'grid' } as never, 'the sign');
    const [stored] = await db.corrections.toArray();
    await removeCorrection(stored!);
    const none = await correctionsOf(HOME);
    await putBackCorrection(stored!);
    expect(none).toEqual([]);
    expect(await db.corrections.toArray()).toEqual([stored]);
  });

  test('is one finding, and no other that was set aside', async () => {
    await dismiss(HOME, 'a');
    await dismiss(HOME, 'b');
    await showAgain(HOME, 'a');
    expect((await db.dismissals.toArray()).map(({ key }) => key)).toEqual(['b']);
  });
});
