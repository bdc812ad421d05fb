import fc from 'fast-check';
import { beforeEach, describe, expect, test } from '@jest/globals';
import { type Conclusion, type Mapping } from '@long-tally/core';
import { db, type RememberedMapping, type Source } from './database.js';
import {
  addHome,
  belongings,
  ChangedElsewhere,
  homeOf,
  newHome,
  removeEverything,
  removeHome,
  saveSystem,
} from './homes.js';
import { addNote } from './journal.js';
import { agrees, rememberedMapping } from './mappings.js';
import {
  chunksOf,
  deleteSource,
  hashOf,
  loadSources,
  putBack,
  sameSources,
  setRemoved,
  sourcesOf,
  storeSources,
} from './sources.js';
import { SYSTEM, CSV, readText, sourceOf, store, fullHome } from './testing.js';

beforeEach(async () => {
  await db.delete();
  await db.open();
});

describe('the store', () => {
  test('keeps a source with its file, in months, and gives back the same columns', async () => {
    const home = newHome(SYSTEM);
    const read = await readText(CSV);
    await store(home, new File([CSV], 'log.csv'), read);
    expect((await db.chunks.toArray()).map(({ quantity, month }) => `${quantity} ${month}`).sort()).toEqual([
      'load 2024-01',
      'load 2024-02',
      'soc 2024-01',
      'soc 2024-02',
    ]);
    const [loaded] = (await loadSources(home.id)).values();
    expect(loaded).toEqual(read.log);
    // What was loaded before is not read from the store again.
    const held = await loadSources(home.id);
    expect([...(await loadSources(home.id, held)).values()][0]).toBe([...held.values()][0]);
  });

  test('knows a file by its contents: another name is the same, the same name and size may be another', async () => {
    const home = newHome(SYSTEM);
    await store(home, new File([CSV], 'export.csv'), await readText(CSV));
    const same = new File([CSV], 'renamed.csv');
    const altered = new File([CSV.replace(',7,7\n', ',8,7\n')], 'export.csv');
    expect([same.size, altered.size]).toEqual([CSV.length, CSV.length]);
    expect(await sameSources(home.id, await hashOf(same), same.size)).toHaveLength(1);
    expect(await sameSources(home.id, await hashOf(altered), altered.size)).toEqual([]);
    // One that was stored before hashes were taken gets its own when it is asked for.
    await db.sources.toCollection().modify({ hash: null });
    expect(await sameSources(home.id, await hashOf(same), same.size)).toHaveLength(1);
    expect((await sourcesOf(home.id))[0]!.hash).toBe(await hashOf(same));
  });

  test('puts a source back that was taken out and comes again', async () => {
    const home = newHome(SYSTEM);
    const file = new File([CSV], 'log.csv');
    await store(home, file, await readText(CSV));
    await setRemoved((await sourcesOf(home.id))[0]!, 1);
    expect((await loadSources(home.id)).size).toBe(0);
    await putBack(home.id, await sameSources(home.id, await hashOf(file), file.size));
    expect((await loadSources(home.id)).size).toBe(1);
  });

  test('homes have ids of their own, whatever they are called; removing one leaves the other whole', async () => {
    const named = { ...SYSTEM, name: 'Constructor' };
    const [first, second] = [newHome(named), newHome(named)];
    expect(first.id).not.toBe(second.id);
    await store(first, new File([CSV], 'log.csv'), await readText(CSV));
    await store(second, new File([CSV], 'log.csv'), await readText(CSV));
    expect(await homeOf(first.id)).toMatchObject({ system: { name: 'Constructor' } });
    await removeHome(second.id);
    await expect(homeOf(second.id)).rejects.toThrow(/not in this browser/);
    expect([
      await db.homes.count(),
      await db.sources.count(),
      await db.files.count(),
      await db.chunks.count(),
    ]).toEqual([1, 1, 1, 4]);
    const [source] = await sourcesOf(first.id);
    await deleteSource(source!);
    expect([await db.sources.count(), await db.files.count(), await db.chunks.count()]).toEqual([0, 0, 0]);
    await removeEverything();
    expect(await db.homes.count()).toBe(0);
  });

  test('a removed home that comes again under its old id is never taken for what it was', async () => {
    const before = newHome(SYSTEM, 'mill');
    await addHome(before);
    await removeHome('mill');
    await new Promise((resolve) => setTimeout(resolve, 2));
    expect(newHome(SYSTEM, 'mill').revision).toBeGreaterThan(before.revision);
  });

  test('texts of one file share it; it goes with the last of them', async () => {
    const home = newHome(SYSTEM);
    const file = new File([CSV], 'logs.zip');
    const read = await readText(CSV);
    await storeSources(home, [
      await sourceOf(file, read, 'logs.zip › a.csv'),
      await sourceOf(file, read, 'logs.zip › b.csv'),
    ]);
    const [a, b] = (await sourcesOf(home.id)) as [Source, Source];
    expect([await db.files.count(), a.fileOf, b.fileOf]).toEqual([1, a.id, a.id]);
    await deleteSource(a);
    expect(await db.files.count()).toBe(1);
    await deleteSource(b);
    expect(await db.files.count()).toBe(0);
  });

  test('says before a home is deleted what goes with it', async () => {
    await fullHome();
    expect(await belongings('mill')).toEqual({ logs: 1, notes: 1, readings: 2, corrections: 1 });
  });

  test('months of a column put together are the column', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.double({ noNaN: true }), fc.constant(NaN)), { minLength: 1, maxLength: 90 }),
        fc.integer({ min: 1, max: 200 }),
        (list, hours) => {
          const values = Float64Array.from(list);
          const grid = { startMs: Date.UTC(2023, 11, 20), stepMs: hours * 3_600_000, count: values.length };
          const back = new Float64Array(values.length).fill(NaN);
          for (const { from, values: part } of chunksOf(1, 'load', values, grid)) back.set(part, from);
          expect(back).toEqual(values);
        },
      ),
    );
  });
});

describe('two tabs', () => {
  test('never undo each other: a description that was changed meanwhile is not overwritten', async () => {
    const home = newHome(SYSTEM);
    await addHome(home);
    const mine = { ...SYSTEM, name: 'Mine' };
    const theirs = { ...SYSTEM, name: 'Theirs' };
    await saveSystem(home.id, SYSTEM, theirs);
    await expect(saveSystem(home.id, SYSTEM, mine)).rejects.toThrow(ChangedElsewhere);
    expect((await homeOf(home.id)).system.name).toBe('Theirs');
    await saveSystem(home.id, theirs, mine);
    expect((await homeOf(home.id)).system.name).toBe('Mine');
  });

  test('write at once and lose nothing; each write raises the revision by one', async () => {
    const home = newHome(SYSTEM);
    await addHome(home);
    const note = { fromMs: 1, toMs: 2, kind: 'fault', leaveOut: false } as const;
    await Promise.all(Array.from({ length: 20 }, (_, i) => addNote(home.id, { ...note, text: String(i) })));
    expect(await db.journal.count()).toBe(20);
    expect((await homeOf(home.id)).revision).toBe(home.revision + 20);
  });

  test('bring the same file at once, and it is stored once', async () => {
    const home = newHome(SYSTEM);
    await addHome(home);
    const read = await readText(CSV);
    await Promise.all([1, 2, 3].map(() => store(home, new File([CSV], 'log.csv'), read)));
    expect([await db.sources.count(), await db.files.count(), await db.chunks.count()]).toEqual([1, 1, 4]);
  });

  test('a home that the other has removed takes nothing more', async () => {
    const home = await fullHome();
    await removeHome(home.id);
    await expect(
      addNote(home.id, { fromMs: 1, toMs: 2, kind: 'fault', text: '', leaveOut: false }),
    ).rejects.toThrow(/removed in another tab; nothing was written/);
    expect(await db.journal.count()).toBe(0);
  });
});

describe('mappings that were used', () => {
  const mapping: Mapping = {
    schema: 'long-tally/mapping@1',
    table: { separator: ',', decimal: '.', headerLine: 1, skipLines: 0 },
    time: { columns: ['Time'], format: 'ymd', zone: 'UTC', marks: 'start' },
    columns: [{ column: 'Load', quantity: 'load', unit: 'kW', sign: 1, kind: 'power' }],
  };
  const inW: Mapping = { ...mapping, columns: [{ ...mapping.columns[0]!, unit: 'W' }] };
  const asks = (about: string): Conclusion => ({
    about,
    says: '',
    evidence: [],
    confidence: 0.5,
    alternatives: [],
    asks: true,
  });
  const used = (of: Partial<RememberedMapping>) => ({
    mapping,
    proposed: inW,
    asked: ['column:Load'],
    ...of,
  });

  test('serve when the new rows say the same or leave it open, and not when they say otherwise for certain', () => {
    // The owner answered kW to what was open.
    expect(agrees(used({}), { mapping: inW, conclusions: [asks('column:Load')] })).toBe(true);
    expect(agrees(used({}), { mapping, conclusions: [] })).toBe(true);
    // The next file is in watts, and its rows show it: kW must not be taken in silence.
    expect(agrees(used({}), { mapping: inW, conclusions: [] })).toBe(false);
    // Changed by its owner although the rows were certain, and they are so again.
    expect(agrees(used({ asked: [] }), { mapping: inW, conclusions: [] })).toBe(true);
    expect(agrees(used({ proposed: null, asked: [] }), { mapping: inW, conclusions: [] })).toBe(false);
    const clock = { ...mapping, time: { ...mapping.time, zone: 'Europe/Lisbon' } };
    expect(agrees(used({ proposed: mapping }), { mapping: clock, conclusions: [] })).toBe(false);
  });

  test('belong to one home', async () => {
    const home = newHome(SYSTEM, 'mill');
    const source = await sourceOf(new File([CSV], 'log.csv'), await readText(CSV));
    await storeSources(home, [{ ...source, mapping, proposal: { mapping, conclusions: [] } }]);
    expect(await rememberedMapping('mill', 'shape', { mapping, conclusions: [] })).toEqual(mapping);
    expect(await rememberedMapping('other', 'shape', { mapping, conclusions: [] })).toBeNull();
    await removeHome('mill');
    expect(await db.homeMappings.count()).toBe(0);
  });
});
