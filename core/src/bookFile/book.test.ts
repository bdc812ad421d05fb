import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Ajv2020 } from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import { gzipSync, strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { describe, expect, test } from '@jest/globals';
import Papa from 'papaparse';
import { readFile, type FileLog } from '../import/readLog.js';
import { parseReadings, readingsText } from '../import/merge/readingsFile.js';
import { readingsLog, type Reading } from '../import/merge/readings.js';
import { prepare } from '../passes/prepare.js';
import { InputError } from '../model/problem.js';
import { report } from '../report/report.js';
import { endMs } from '../model/log.js';
import type { JournalNote } from '../system/journal.js';
import { SHAPES } from '../testing/corpus.js';
import { CORPUS_HOME, series } from '../testing/shape.js';
import { DATA_PACKAGE_SCHEMA } from '../testing/dataPackageSchema.js';
import { tryMany } from '../testing/fuzzing.js';
import { bytesOf } from '../testing/logs.js';
import { tryBook } from '../testing/spoiltBooks.js';
import { booksIn, logsOfBook, openBook, readBook } from './openBook.js';
import { trialRecords } from '../books/trial/trialRecords.js';
import { DEFAULT_SETTINGS, type Settings } from '../system/settings.js';
import type { ReportLayout } from '../system/reportLayout.js';
import type { ScenarioFile } from '../books/whatif/scenarioFile.js';
import type { Offer } from '../books/money/offers.js';
import { countingTrials, type BookCorrection, type BookTrial } from './documents.js';
import { bookOf, pathOfFile } from './writeBook.js';
import { longTest } from '../testing/long.js';

const FROM = Date.UTC(2024, 4, 3) - 3_600_000;
const SAVED = Date.UTC(2024, 6, 1, 12);
const list = series(FROM, 12, 15);
const written = (name: string) => {
  const content = SHAPES.find((shape) => shape.name === name)!.write(list);
  return typeof content === 'string' ? strToU8(content) : content;
};
/** Four files of one home: a foreign log, an archive with a log and a readme, a packed one, a canonical one. */
const FILES: readonly (readonly [name: string, bytes: Uint8Array])[] = [
  ['Erzeugung März;1.csv', written('German words')],
  ['halves.zip', written('a zip of two halves')],
  ['log.csv.gz', gzipSync(written('kilowatts'))],
  ['log.csv', written('canonical')],
];
const readings: Reading[] = [
  { atMs: FROM - 20 * 86_400_000, counters: { import: 1000, solar: 50.5 }, note: '=by hand, "kitchen"' },
  { atMs: FROM - 2 * 86_400_000, counters: { import: 1090.4, solar: 99 }, note: '' },
];
const journal: JournalNote[] = [
  { fromMs: FROM + 86_400_000, toMs: FROM + 90_000_000, kind: 'test', text: 'switch off', leaveOut: false },
  { fromMs: FROM + 3 * 86_400_000, toMs: FROM + 3.2 * 86_400_000, kind: 'fault', text: 'ü', leaveOut: true },
];
const corrections: BookCorrection[] = [
  { correction: { kind: 'lead', source: 'log.csv', quantity: 'load' }, reason: 'better', madeAt: 5 },
  {
    correction: { kind: 'scale', source: 'log.csv', quantity: 'solar', factor: 1.02 },
    reason: '',
    madeAt: 6,
  },
];

const at = (hours: number) => new Date(FROM + hours * 3_600_000).toISOString();
const PICTURE = 'attachments/001 display.png';
const drawdown: BookTrial['file'] = {
  schema: 'long-tally/trial@1',
  kind: 'drawdown',
  readings: [
    { at: at(20), soc: 0.9, dischargeKWh: 100, chargeKWh: 90 },
    { at: at(22), soc: 0.99 },
    { at: at(30), soc: 0.3, dischargeKWh: 105.5, chargeKWh: 90 },
  ],
};
const trials: BookTrial[] = [
  {
    file: drawdown,
    struck: [1],
    state: 'done',
    madeAt: 9,
    pictures: [{ path: PICTURE, name: 'display.png', place: 2, addedAt: 10 }],
  },
  { file: { ...drawdown, name: 'again' }, struck: [], state: 'running', madeAt: 11, pictures: [] },
];
const appliances = [
  { name: 'well pump', watts: 900, startFactor: 4, leg: 1 as const, essential: true, canWait: false },
];
const offers: Offer[] = [{ name: 'ten kWh', price: 6000, usableKWh: 10, years: 10 }];
const scenarios: ScenarioFile[] = [
  { schema: 'long-tally/scenario@1', name: 'one more', change: { battery: { modules: 3 } } },
  { schema: 'long-tally/scenario@1', name: 'no battery', change: { noBattery: true } },
];
const settings: Settings = { ...DEFAULT_SETTINGS, dates: '2024-09-14', leadingSchool: 'supply' };
const reportLayout: ReportLayout = {
  schema: 'long-tally/report-layout@1',
  kind: 'evidence',
  heading: 'Mill Lane',
  remarks: '',
  claim: 'the battery fades faster than its warranty says',
  without: ['money'],
  paper: 'A4',
};
const picture = Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 1, 2, 3);

interface Saved {
  readonly bytes: Uint8Array;
  readonly prepared: ReturnType<typeof prepare>;
}

async function made(): Promise<Saved> {
  const read: { log: FileLog; path: string; fileName: string }[] = [];
  for (const [i, [fileName, bytes]] of FILES.entries())
    for (const log of await readFile(fileName, () => bytesOf(bytes), CORPUS_HOME))
      read.push({ log, path: pathOfFile(i, fileName), fileName });
  const counting = read.filter(({ fileName }) => fileName !== 'log.csv.gz').map(({ log }) => log.log);
  const layers = corrections.map(({ correction }) => correction);
  const prepared = prepare(
    CORPUS_HOME,
    [...counting, readingsLog(readings)!],
    layers,
    journal,
    trialRecords(countingTrials(trials), CORPUS_HOME),
  );
  const chunks: Uint8Array[] = [];
  for await (const chunk of bookOf(
    {
      id: 'home-1',
      files: [
        ...FILES.map(([name, bytes], i) => ({ path: pathOfFile(i, name), open: () => bytesOf(bytes) })),
        { path: PICTURE, open: () => bytesOf(picture) },
      ],
      sources: read.map(({ log, path, fileName }) => ({
        path,
        fileName,
        name: log.log.name,
        mapping: log.mapping,
        importedAt: 7,
        removedAt: fileName === 'log.csv.gz' ? 8 : null,
        leftOut: log.log.findings.filter(({ code }) => code === 'left-out'),
      })),
      readings,
      corrections,
      dismissals: ['gaps 5'],
      trials,
      appliances,
      offers,
      scenarios,
      reportLayout,
      settings,
    },
    prepared,
    prepared,
    SAVED,
  ))
    chunks.push(chunk);
  return { bytes: new Uint8Array(Buffer.concat(chunks)), prepared };
}

let kept: Promise<Saved> | undefined;
/** The home saved as a book, once for all tests. */
const saved = () => (kept ??= made());

const problemsOf = async (promise: Promise<unknown>) => {
  try {
    await promise;
  } catch (error) {
    if (error instanceof InputError) return error.message;
    throw error;
  }
  throw new Error('It was opened.');
};

describe('a book', () => {
  test('read back gives every file byte by byte and every figure to the last digit', async () => {
    const { bytes, prepared } = await saved();
    const book = await openBook('home.zip', bytes);
    expect([book.id, book.system, book.readings, book.dismissals]).toEqual([
      'home-1',
      CORPUS_HOME,
      readings,
      ['gaps 5'],
    ]);
    expect(book.corrections).toEqual(corrections);
    expect(book.journal).toEqual(journal);
    for (const [i, [name, own]] of FILES.entries())
      expect([name, Buffer.compare(book.files.get(pathOfFile(i, name))!, own)]).toEqual([name, 0]);
    const logs = logsOfBook(book, await readBook(book));
    const layers = book.corrections.map(({ correction }) => correction);
    expect([
      book.trials,
      book.appliances,
      book.offers,
      book.scenarios,
      book.reportLayout,
      book.settings,
    ]).toEqual([trials, appliances, offers, scenarios, reportLayout, settings]);
    expect(Buffer.compare(book.files.get(PICTURE)!, picture)).toBe(0);
    const records = trialRecords(countingTrials(book.trials!), book.system);
    const { log, ...of } = prepare(book.system, logs, layers, book.journal, records);
    const again = report({ log, ...of }, { fromMs: log.startMs, toMs: endMs(log) });
    // The reading struck out does not count, and the trial under way does not yet.
    expect(countingTrials(book.trials!).map((file) => file.readings.length)).toEqual([2]);
    const first = report(prepared, { fromMs: prepared.log.startMs, toMs: endMs(prepared.log) });
    expect(again).toEqual(first);
    expect(again.findings.map(({ message }) => message).join()).toContain('readme.md is not read');
    // A JSON file of it says the same, so a reader without this program has the figures too.
    expect(JSON.parse(strFromU8(unzipSync(bytes)['report.json']!))).toEqual(
      JSON.parse(JSON.stringify(first)),
    );
  });

  test('is a zip whose manifest holds the SHA-256 of every member, and a Data Package that describes every table', async () => {
    const { bytes } = await saved();
    const members = unzipSync(bytes);
    const lines = strFromU8(members['MANIFEST.sha256']!).trimEnd().split('\n');
    expect(lines.map((line) => line.slice(66)).sort()).toEqual(
      Object.keys(members)
        .filter((name) => name !== 'MANIFEST.sha256')
        .sort(),
    );
    // node:crypto is the outside reference for FIPS 180-4.
    for (const line of lines)
      expect(line.slice(0, 64)).toBe(createHash('sha256').update(members[line.slice(66)]!).digest('hex'));
    const { resources } = JSON.parse(strFromU8(members['datapackage.json']!)) as {
      resources: { path: string; name: string; schema: { fields: { name: string; type: string }[] } }[];
    };
    const tables = Object.keys(members).filter(
      (name) => name.endsWith('.csv') && !name.startsWith('sources/'),
    );
    expect(resources.map(({ path }) => path).sort()).toEqual(tables.sort());
    for (const { path, name, schema } of resources) {
      expect(name).toMatch(/^[a-z0-9-]+$/);
      // papaparse is the outside reference for RFC 4180.
      const { data, meta } = Papa.parse<Record<string, string>>(strFromU8(members[path]!).trim(), {
        header: true,
      });
      expect([path, meta.fields]).toEqual([path, schema.fields.map((field) => field.name)]);
      for (const { name: column, type } of schema.fields)
        if (type === 'number' || type === 'integer')
          expect([
            path,
            column,
            data.slice(0, 300).every((row) => row[column] === '' || Number.isFinite(Number(row[column]))),
          ]).toEqual([path, column, true]);
    }
  });

  longTest('is a sound Data Package by the profile of the standard, which a spoilt one is not', async () => {
    const members = unzipSync((await saved()).bytes);
    const description = JSON.parse(strFromU8(members['datapackage.json']!)) as Record<string, unknown> & {
      resources: Record<string, unknown>[];
    };
    // ajv is the outside reference for JSON Schema 2020-12.
    const ajv = new Ajv2020({ strict: true, strictRequired: false, allErrors: true });
    addFormats(ajv);
    const isSound = ajv.compile(DATA_PACKAGE_SCHEMA);
    isSound(description);
    expect(isSound.errors).toBeNull();
    const [first] = description.resources;
    for (const spoilt of [
      { ...description, resources: [] },
      { ...description, created: 'yesterday' },
      { ...description, resources: [{ ...first, name: 'Log of March' }] },
      { ...description, resources: [{ ...first, path: '../log.csv' }] },
      { ...description, resources: [{ ...first, schema: { fields: [{ name: 'a', type: 'float' }] } }] },
    ])
      expect(isSound(spoilt)).toBe(false);
  });

  longTest('unpacks by the usual tool, and sha256sum finds every member as it was', async () => {
    const folder = await mkdtemp(join(tmpdir(), 'long-tally-book-'));
    try {
      await writeFile(join(folder, 'home.zip'), (await saved()).bytes);
      const run = (command: string, ...args: string[]) =>
        spawnSync(command, args, {
          cwd: folder,
          encoding: 'utf8',
          env: { ...process.env, LC_ALL: 'C.UTF-8' },
        });
      // Where the machine has no unzip, Python's own module takes its place.
      const unpacked = run('unzip', '-q', 'home.zip');
      if (unpacked.error) expect(run('python3', '-m', 'zipfile', '-e', 'home.zip', '.').status).toBe(0);
      else expect([unpacked.status, unpacked.stderr]).toEqual([0, '']);
      const checked = run('sha256sum', '--strict', '-c', 'MANIFEST.sha256');
      expect([checked.status, checked.stderr]).toEqual([0, '']);
      expect(checked.stdout).toContain('log.csv: OK');
      await writeFile(join(folder, 'log.csv'), 'time\n');
      expect(run('sha256sum', '--strict', '-c', 'MANIFEST.sha256').status).toBe(1);
    } finally {
      await rm(folder, { recursive: true });
    }
  });

  longTest('saved before books held trials, scenarios and layouts opens without them', async () => {
    const members = unzipSync((await saved()).bytes);
    const later =
      /^(trials|scenarios|attachments)\/|^(trials|appliances|offers|report-layout|settings)\.json$/;
    const kept = Object.fromEntries(Object.entries(members).filter(([name]) => !later.test(name)));
    kept['MANIFEST.sha256'] = strToU8(
      strFromU8(members['MANIFEST.sha256']!)
        .split('\n')
        .filter((line) => !later.test(line.slice(66)))
        .join('\n'),
    );
    const book = await openBook('old.zip', zipSync(kept));
    expect([
      book.trials,
      book.appliances,
      book.offers,
      book.scenarios,
      book.reportLayout,
      book.settings,
    ]).toEqual([null, [], [], [], null, null]);
    expect(logsOfBook(book, await readBook(book)).length).toBeGreaterThan(FILES.length - 1);
    expect([book.readings, book.journal]).toEqual([readings, journal]);
  });

  longTest('damaged in any one member is refused by its name, and salvaged without it', async () => {
    const { bytes } = await saved();
    const members = unzipSync(bytes);
    for (const name of Object.keys(members)) {
      if (name === 'MANIFEST.sha256') continue;
      const { [name]: own, ...others } = members;
      const missing = zipSync(others, { level: 1 });
      expect([name, await problemsOf(openBook('b.zip', missing))]).toEqual([
        name,
        expect.stringContaining(`b.zip › ${name}: This member is missing.`),
      ]);
      const longer = new Uint8Array(own!.length + 1);
      longer.set(own!);
      const altered = zipSync({ ...members, [name]: longer }, { level: 1 });
      expect(await problemsOf(openBook('b.zip', altered))).toContain(
        `b.zip › ${name}: This member is not what it was when the book was saved.`,
      );
      if (name === 'system.json') continue;
      const whole = await openBook('b.zip', altered, 'salvage');
      expect(whole.lost).toHaveLength(1);
      expect(whole.sources.length).toBeGreaterThanOrEqual(name === 'sources.json' ? 0 : 3);
    }
    const lost = await openBook(
      'b.zip',
      zipSync({ ...members, 'sources/001 Erzeugung März_1.csv': strToU8('x') }),
      'salvage',
    );
    const [first] = logsOfBook(lost, await readBook(lost, 'salvage'));
    expect(first!.findings[0]!.message).toMatch(
      /sources\/001 Erzeugung März_1\.csv is not read: This member is not what/,
    );
  });

  longTest(
    'spoilt in any way is refused in words or is the same, and what is saved of it is what it was',
    async () => {
      // The long checks spoil 2000 of them.
      const { counts, bad } = await tryMany(20261126, 150, tryBook);
      expect(bad).toEqual([]);
      expect(counts.refused).toBeGreaterThan(120);
    },
  );

  test('of a later version is refused by its version, salvaged or not', async () => {
    const members = unzipSync((await saved()).bytes);
    const later = strToU8(strFromU8(members['datapackage.json']!).replace('book@1', 'book@2'));
    const manifest = strFromU8(members['MANIFEST.sha256']!).replace(
      /^\w+( {2}datapackage\.json)$/m,
      `${createHash('sha256').update(later).digest('hex')}$1`,
    );
    const bytes = zipSync({ ...members, 'datapackage.json': later, 'MANIFEST.sha256': strToU8(manifest) });
    for (const damaged of ['refuse', 'salvage'] as const)
      expect(await problemsOf(openBook('b.zip', bytes, damaged))).toMatch(
        /b\.zip: This book is of another version of Long Tally \(long-tally\/book@2\)/,
      );
  });

  test('that is none is refused in words, and several in one file are found', async () => {
    const { bytes } = await saved();
    expect(await problemsOf(booksIn('a.csv', strToU8('time,load_w\n')))).toMatch(/a\.csv: This is no book/);
    expect(await problemsOf(booksIn('a.zip', zipSync({ 'a.csv': strToU8('x') })))).toMatch(/holds no book/);
    expect(await problemsOf(openBook('a.zip', bytes.slice(0, 5000)))).toMatch(/damaged or cut short/);
    const all = await booksIn(
      'all.zip',
      zipSync({ 'one.zip': bytes, 'two.zip': bytes, 'photo.jpg': strToU8('x') }),
    );
    expect(all.map(({ name }) => name)).toEqual(['all.zip › one.zip', 'all.zip › two.zip']);
    expect((await openBook(all[1]!.name, all[1]!.bytes)).id).toBe('home-1');
    const out = zipSync({
      ...unzipSync(bytes),
      'sources.json': strToU8('{"schema":"long-tally/sources@1","sources":[{"path":"../x"}]}'),
    });
    expect(await problemsOf(openBook('b.zip', out))).toMatch(/sources\.json: This member is not what/);
  });
});

describe('the file of readings', () => {
  test('reads back what was written, and tells each row that cannot be used', () => {
    expect(parseReadings(readingsText(readings), 'r.csv')).toEqual(readings);
    expect(() =>
      parseReadings(
        'time,import_kwh\n2024-02-30T00:00:00Z,5\n2024-02-01T00:00:00Z,-5\n2024-02-01T00:00:00Z,many\n',
        'r.csv',
      ),
    ).toThrow(
      /r\.csv, line 2: "2024-02-30T00:00:00Z" is no time.*\n.*line 3: A counter is negative.*\n.*line 4: "many" is not a number/,
    );
    expect(() => parseReadings('when,import\n1,2\n', 'r.csv')).toThrow(/no column "time"|is no time/);
  });
});
