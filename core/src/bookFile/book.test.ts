import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Ajv2020 } from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { describe, expect, test } from '@jest/globals';
import Papa from 'papaparse';
import { prepare } from '../passes/prepare.js';
import { report } from '../report/report.js';
import { endMs } from '../model/log.js';
import { CORPUS_HOME } from '../testing/shape.js';
import { DATA_PACKAGE_SCHEMA } from '../testing/dataPackageSchema.js';
import { logsOfBook, openBook, readBook } from './openBook.js';
import { trialRecords } from '../books/trial/trialRecords.js';
import { countingTrials } from './documents.js';
import { pathOfFile } from './writeBook.js';
import { longTest } from '../testing/long.js';
import {
  appliances,
  corrections,
  FILES,
  journal,
  offers,
  PICTURE,
  picture,
  readings,
  reportLayout,
  saved,
  scenarios,
  settings,
  trials,
} from '../testing/savedBook.js';

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
});
