import { beforeEach, describe, expect, test } from '@jest/globals';
import { type System } from '@long-tally/core';
import { lookIntoBooks, restoreBook } from '../workers/restore.js';
import { bookOfHome } from '../workers/saveBook.js';
import { failureText } from '../workers/words.js';
import { addCorrection, removeCorrection } from './corrections.js';
import { db, type Home, type Source } from './database.js';
import { addHome, allHomes, homeOf, newHome, removeHome, saveSystem } from './homes.js';
import { addNote, addNotes, removeNote } from './journal.js';
import { addReadings } from './readings.js';
import {
  badSources,
  deleteSource,
  filesOfHome,
  loadSources,
  setRemoved,
  sourcesOf,
  storeSources,
} from './sources.js';
import { longTest } from '../../../core/src/testing/long.js';
import { SYSTEM, CSV, OTHER, readText, sourceOf, store, everything, fullHome } from './testing.js';

beforeEach(async () => {
  await db.delete();
  await db.open();
});

describe('a write that fails', () => {
  const note = { fromMs: 7, toMs: 8, kind: 'weather', text: 'new', leaveOut: false } as const;
  const WRITES: Readonly<Record<string, (home: Home) => Promise<unknown>>> = {
    'an import with a correction': async (home) =>
      storeSources(
        home,
        [await sourceOf(new File([OTHER], 'next.csv'), await readText(OTHER))],
        [{ correction: { kind: 'scale', source: null, quantity: 'load', factor: 3 }, reason: '' }],
      ),
    'a note': ({ id }) => addNote(id, note),
    'notes of a file': ({ id }) => addNotes(id, [note, { ...note, text: 'second' }]),
    'a note struck out': async () => removeNote((await db.journal.toArray())[0]!),
    'readings of a file': ({ id }) => addReadings(id, [{ atMs: 9, counters: { load: 1 }, note: '' }]),
    'a correction': ({ id }) =>
      addCorrection(id, { kind: 'scale', source: null, quantity: 'load', factor: -1 }, ''),
    'a correction taken away': async () => removeCorrection((await db.corrections.toArray())[0]!),
    'a source taken out': async ({ id }) => setRemoved((await sourcesOf(id))[0]!, 5),
    'a source deleted': async ({ id }) => deleteSource((await sourcesOf(id))[0]!),
    'a system': ({ id, system }) => saveSystem(id, system, { ...system, name: 'Other' }),
    'a home removed': ({ id }) => removeHome(id),
    'a book restored in the place of its home': async (home) => {
      const { blob } = await bookOfHome(home, null, null);
      const [book] = await lookIntoBooks(new File([blob], 'b.zip'));
      return restoreBook(book!, 'replace', 'refuse');
    },
  };

  longTest.each(Object.keys(WRITES))('%s: at whatever step, everything stays as it was', async (name) => {
    const full = () => {
      throw new DOMException('The disk is full.', 'QuotaExceededError');
    };
    let failed = 0;
    for (let at = 0; ; at++) {
      await db.delete();
      await db.open();
      const home = await fullHome();
      const before = await everything();
      let steps = 0;
      const trap = () => {
        if (steps++ === at) full();
      };
      const hooks = db.tables.flatMap((table) => [
        table.hook('creating'),
        table.hook('updating'),
        table.hook('deleting'),
      ]);
      for (const hook of hooks) hook.subscribe(trap);
      const outcome = await WRITES[name]!(home).then(
        () => null,
        (error: unknown) => error,
      );
      for (const hook of hooks) hook.unsubscribe(trap);
      if (outcome === null) break;
      failed++;
      expect(failureText(outcome)).toMatch(/storage is full|could not be stored/);
      expect([name, at, (await everything()) === before]).toEqual([name, at, true]);
    }
    expect(failed).toBeGreaterThan(0);
  });
});

test.each([
  'Failed to fetch dynamically imported module: http://127.0.0.1/assets/reader.js',
  'error loading dynamically imported module: http://127.0.0.1/assets/reader.js',
  'Importing a module script failed.',
])('a part of the application that is not there is told in words, however a browser says it: %s', (said) => {
  expect(failureText(new TypeError(said))).toMatch(/could not be fetched\. Reload the page/);
});

describe('rows that are damaged', () => {
  test('set one home aside with its files, and the others work', async () => {
    await fullHome();
    await addHome(newHome({ ...SYSTEM, name: 'Sound' }, 'sound'));
    await db.homes.put({
      ...(await homeOf('mill')),
      system: { name: 'Mill Lane', timeZone: 5 } as unknown as System,
    });
    const { homes, bad } = await allHomes();
    expect(homes.map(({ id }) => id)).toEqual(['sound']);
    expect(bad).toEqual([{ id: 'mill', name: 'Mill Lane', part: 'system.schema' }]);
    await expect(homeOf('mill')).rejects.toThrow(/damaged/);
    const [file] = await filesOfHome('mill');
    expect([file!.name, await file!.blob.text()]).toEqual(['log.csv', CSV]);
    await removeHome('mill');
    expect((await allHomes()).bad).toEqual([]);
  });

  test('of a source, a month or a note are left out and told, the rest is read', async () => {
    const home = await fullHome();
    await store(home, new File([OTHER], 'next.csv'), await readText(OTHER));
    const [first, second] = (await sourcesOf('mill')) as [Source, Source];
    await db.sources.update(first.id, { stepMs: -1 });
    expect(await badSources('mill')).toEqual(['log.csv']);
    expect([...(await loadSources('mill')).keys()]).toEqual([second.id]);
    await db.chunks.update([second.id, 'load', '2024-01'], { values: 'gone' as unknown as Float64Array });
    const [log] = (await loadSources('mill')).values();
    expect(log!.columns.get('load')!.values.filter((value) => Number.isNaN(value)).length).toBeGreaterThan(
      100,
    );
    expect(log!.columns.get('soc')!.values.some((value) => Number.isNaN(value))).toBe(false);
  });
});
