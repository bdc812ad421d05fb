import { beforeEach, describe, expect, test } from '@jest/globals';
import {
  DEFAULT_SETTINGS,
  booksIn,
  checkSystem,
  openBook,
  readFile,
  trialSchema,
  type Conclusion,
  type Mapping,
  type Reading,
  type ReadLog,
  type ScenarioFile,
  type System,
} from '@long-tally/core';
import fc from 'fast-check';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { lookIntoBooks, restoreBook } from '../workers/restore.js';
import { bookOfHome } from '../workers/saveBook.js';
import { failureText } from '../workers/words.js';
import { saveAppliances } from './appliances.js';
import { addPicture, removePicture } from './attachments.js';
import { addCorrection, dismiss, removeCorrection } from './corrections.js';
import { db, type Home, type RememberedMapping, type Source } from './database.js';
import {
  addHome,
  allHomes,
  belongings,
  bookSaved,
  ChangedElsewhere,
  homeOf,
  newHome,
  removeEverything,
  removeHome,
  saveSystem,
} from './homes.js';
import { addNote, addNotes, removeNote } from './journal.js';
import { agrees, rememberedMapping } from './mappings.js';
import { saveOffers } from './offers.js';
import { saveScenarios } from './scenarios.js';
import { addReading, addReadings } from './readings.js';
import {
  badSources,
  chunksOf,
  deleteSource,
  filesOfHome,
  hashOf,
  loadSources,
  putBack,
  sameSources,
  setRemoved,
  sourcesOf,
  storeSources,
  type NewSource,
} from './sources.js';
import { addTrial, addTrialReading, beginTrial, setTrialState, strikeTrialReading } from './trials.js';
import { longTest } from '../../../core/src/testing/long.js';

const SYSTEM: System = checkSystem(
  {
    schema: 'long-tally/system@1',
    name: 'Mill Lane',
    timeZone: 'Pacific/Auckland',
    configurations: [{ from: '2022-03-01T00:00:00+13:00', battery: { modules: 2, moduleKWh: 5.12 } }],
  },
  'system',
);
const rows = (first: number) =>
  Array.from(
    { length: 400 },
    (_, i) => `${new Date(Date.UTC(2024, 0, 30) + i * 900_000).toISOString()},${first + i},${i % 100}`,
  );
const CSV = `time,load_w,soc_pct\n${rows(0).join('\n')}\n`;
const OTHER = `time,load_w,soc_pct\n${rows(1000).join('\n')}\n`;

async function readText(text: string): Promise<ReadLog> {
  async function* chunks() {
    yield await Promise.resolve(new TextEncoder().encode(text));
  }
  const [first] = await readFile('log.csv', chunks, SYSTEM);
  return { log: first!.log, rows: first!.rows };
}

async function sourceOf(file: File, read: ReadLog, name = file.name): Promise<NewSource> {
  return { file, hash: await hashOf(file), name, shape: 'shape', mapping: null, proposal: null, read };
}

async function store(home: Home, file: File, read: ReadLog): Promise<void> {
  await storeSources(home, [await sourceOf(file, read)]);
}

/** Everything that is stored, to be compared. */
async function everything(): Promise<string> {
  const tables = await Promise.all(db.tables.map(async (table) => [table.name, await table.toArray()]));
  return JSON.stringify(tables, (_key, value: unknown) =>
    value instanceof Blob
      ? `file of ${value.size}`
      : ArrayBuffer.isView(value)
        ? Array.from(value as Float64Array)
        : value,
  );
}

/** A home with something in every table. */
const TRIAL = trialSchema.parse({
  schema: 'long-tally/trial@1',
  kind: 'drawdown',
  readings: [
    { at: '2024-01-20T20:00:00Z', soc: 0.9 },
    { at: '2024-01-20T21:00:00Z', soc: 9 / 90 },
  ],
});
const PICTURE = new File([Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 7)], 'display.png');
const PUMP = { name: 'pump', watts: 900, startFactor: 4, essential: true, canWait: false };
const SCENARIO: ScenarioFile = {
  schema: 'long-tally/scenario@1',
  name: 'one more',
  change: { battery: { modules: 3 } },
};
const FULL_READING: Reading = {
  atMs: 77,
  counters: { import: 12.34 },
  decimals: { import: 2 },
  socPct: 55,
  batteryC: 21,
  use: { part: 'car', unit: 'km', shown: 12400, decimals: 0 },
  note: 'all of it',
};
const OFFER = { name: 'ten kWh', price: 6000, usableKWh: 10 };

async function fullHome(): Promise<Home> {
  const home = newHome(SYSTEM, 'mill');
  await store(home, new File([CSV], 'log.csv'), await readText(CSV));
  await addNote('mill', { fromMs: 1, toMs: 2, kind: 'fault', text: 'x', leaveOut: false });
  await addReading('mill', { atMs: 5, counters: { import: 10 }, note: '' });
  await addReading('mill', { atMs: 86_400_005, counters: { import: 15 }, note: '' });
  await addCorrection('mill', { kind: 'scale', source: null, quantity: 'load', factor: 2 }, 'why');
  await dismiss('mill', 'gaps');
  return homeOf('mill');
}

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

describe('a book', () => {
  test('of a home, wiped and opened again, holds what the home held', async () => {
    const home = await fullHome();
    const [source] = await sourcesOf('mill');
    await store(home, new File([OTHER], 'next.csv'), await readText(OTHER));
    await setRemoved(source!, 77);
    const trialId = await addTrial('mill', TRIAL);
    await strikeTrialReading(trialId, 1);
    await addPicture((await db.trials.get(trialId))!, 0, PICTURE);
    await saveAppliances('mill', [PUMP]);
    await saveScenarios('mill', [SCENARIO]);
    await addReading('mill', FULL_READING);
    await saveOffers('mill', [OFFER]);
    const before = await loadSources('mill');
    const { blob, without } = await bookOfHome(await homeOf('mill'), null, null);
    expect(without).toEqual([]);
    await removeEverything();
    const file = new File([blob], 'mill.zip');
    const [book] = await lookIntoBooks(file);
    expect(book!.found).toMatchObject({
      homeName: 'Mill Lane',
      holds: { logs: 2, notes: 1, readings: 3, trials: 1 },
      replaces: null,
      lost: [],
    });
    expect(await restoreBook(book!, 'new', 'refuse')).toEqual({
      homeId: 'mill',
      settings: null,
      problems: [],
    });
    const columns = (logs: typeof before) =>
      [...logs.values()].map((log) => [log.name, log.startMs, [...log.columns]]);
    expect(columns(await loadSources('mill'))).toEqual(columns(before));
    expect((await sourcesOf('mill')).map(({ name, removedAt }) => [name, removedAt])).toEqual([
      ['log.csv', 77],
      ['next.csv', null],
    ]);
    expect(await belongings('mill')).toEqual({ logs: 2, notes: 1, readings: 3, corrections: 1 });
    const [trial] = await db.trials.toArray();
    expect(trial).toMatchObject({ homeId: 'mill', file: TRIAL, struck: [1], state: 'done' });
    const [shown] = await db.attachments.toArray();
    expect(shown).toMatchObject({ homeId: 'mill', trialId: trial!.id, place: 0, name: 'display.png' });
    expect([shown!.picture.type, await shown!.picture.arrayBuffer()]).toEqual([
      'image/png',
      await PICTURE.arrayBuffer(),
    ]);
    expect(await db.appliances.toArray()).toEqual([{ homeId: 'mill', appliances: [PUMP] }]);
    expect(await db.offers.toArray()).toEqual([{ homeId: 'mill', offers: [OFFER] }]);
    expect(await db.scenarios.toArray()).toEqual([{ homeId: 'mill', scenarios: [SCENARIO] }]);
    // Everything that was noted with a reading comes back, to the last digit of its counters.
    expect(await db.readings.toArray()).toContainEqual(expect.objectContaining(FULL_READING));
    // Opened once more it may stand beside the home that is here, under an id of its own.
    const again = await restoreBook((await lookIntoBooks(file))[0]!, 'new', 'refuse');
    expect([again.homeId === 'mill', await db.homes.count()]).toEqual([false, 2]);
    const [bytes] = await booksIn('mill.zip', new Uint8Array(await file.arrayBuffer()));
    expect((await openBook('mill.zip', bytes!.bytes)).id).toBe('mill');
  });

  test('counts what has changed since it was saved, trials and appliances among it', async () => {
    const home = await fullHome();
    await bookSaved('mill', home.revision);
    const since = async () => {
      const { revision, savedRevision } = await homeOf('mill');
      return revision - savedRevision!;
    };
    expect(await since()).toBe(0);
    const trialId = await beginTrial('mill', 'drawdown');
    await addTrialReading(trialId, TRIAL.readings[0]!);
    await addPicture((await db.trials.get(trialId))!, 0, PICTURE);
    await removePicture((await db.attachments.toArray())[0]!);
    await saveAppliances('mill', [PUMP]);
    await saveOffers('mill', [OFFER]);
    // No figure follows any of these; what is shown of the home stays as it is.
    expect([await since(), (await homeOf('mill')).revision]).toEqual([6, home.revision]);
    await setTrialState(trialId, 'done');
    expect([await since(), (await homeOf('mill')).revision]).toEqual([7, home.revision + 1]);
  });

  test('with a picture that is none is opened without it, and says so', async () => {
    await fullHome();
    const trialId = await addTrial('mill', TRIAL);
    const picture = new Blob(['<svg/>'], { type: 'image/png' });
    await db.attachments.add({ homeId: 'mill', trialId, place: 0, name: 'x.png', picture, addedAt: 1 });
    const { blob } = await bookOfHome(await homeOf('mill'), null, null);
    const [book] = await lookIntoBooks(new File([blob], 'mill.zip'));
    const { problems } = await restoreBook(book!, 'replace', 'refuse');
    expect(problems).toEqual([
      'attachments/001 x.png: It is neither a PNG nor a JPEG picture, and is left out.',
    ]);
    expect([await db.trials.count(), await db.attachments.count()]).toEqual([1, 0]);
  });

  test('brings the settings of its reader, and none where nothing was chosen', async () => {
    await fullHome();
    const theirs = { ...DEFAULT_SETTINGS, temperature: 'F' } as const;
    for (const settings of [theirs, null]) {
      const { blob } = await bookOfHome(await homeOf('mill'), null, settings);
      const [book] = await lookIntoBooks(new File([blob], 'mill.zip'));
      expect((await restoreBook(book!, 'replace', 'refuse')).settings).toEqual(settings);
    }
  });

  test('of before books held trials takes the home’s place and leaves its trials', async () => {
    await fullHome();
    const { blob } = await bookOfHome(await homeOf('mill'), null, null);
    const members = unzipSync(new Uint8Array(await blob.arrayBuffer()));
    delete members['trials.json'];
    const manifest = strFromU8(members['MANIFEST.sha256']!).replace(/^.*trials\.json\n/m, '');
    const older = zipSync({ ...members, 'MANIFEST.sha256': strToU8(manifest) });
    const trialId = await addTrial('mill', TRIAL);
    await addPicture((await db.trials.get(trialId))!, 0, PICTURE);
    await saveAppliances('mill', [PUMP]);
    for (const [bytes, kept] of [
      [older, 1],
      [new Uint8Array(await blob.arrayBuffer()), 0],
    ] as const) {
      const [book] = await lookIntoBooks(new File([bytes], 'mill.zip'));
      expect(await restoreBook(book!, 'replace', 'refuse')).toEqual({
        homeId: 'mill',
        settings: null,
        problems: [],
      });
      const counts = [db.trials, db.attachments, db.appliances].map((table) => table.count());
      expect(await Promise.all(counts)).toEqual([kept, kept, kept]);
    }
  });
});
