import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { describe, expect, test } from '@jest/globals';
import type { Report } from '@long-tally/core';
import { file, folder, tally } from './testing.js';
import { SHAPES } from '../../core/src/testing/corpus.js';
import { CORPUS_HOME, series } from '../../core/src/testing/shape.js';

const system = file(
  'system.json',
  JSON.stringify({
    schema: 'long-tally/system@1',
    name: 'Home',
    timeZone: 'Europe/Lisbon',
    configurations: [
      { from: '2024-01-01T00:00:00Z', battery: { modules: 1, moduleKWh: 10, usableShare: 0.9 } },
    ],
  }),
);
const rows = Array.from(
  { length: 48 },
  (_, i) => `2024-05-0${1 + Math.floor(i / 24)}T${String(i % 24).padStart(2, '0')}:00:00Z,0,500,500,0,50`,
);
const csv = `time,solar_w,load_w,grid_w,battery_w,soc_pct\n${rows.join('\n')}\n`;
const log = file('log.csv', csv);

interface Printed {
  readonly schema: string;
  readonly range: {
    readonly from: string;
    readonly to: string;
    readonly timeZone: string;
    readonly days: number;
  };
  readonly findings: readonly { readonly code: string; readonly source: string | null }[];
  readonly figures: Readonly<Record<string, { readonly value: number | null; readonly status: string }>>;
  readonly days: readonly { readonly date: string }[];
}
const printed = (text: string) => JSON.parse(text) as Printed;

describe('analyse', () => {
  test('prints the report, exit 0, nothing on standard error', async () => {
    const { code, out, err } = await tally('analyse', '--system', system, '--log', log);
    expect([code, err]).toEqual([0, '']);
    const report = printed(out);
    expect(report.schema).toBe('long-tally/report@1');
    expect(report.range).toEqual({
      from: '2024-05-01T00:00:00Z',
      to: '2024-05-03T00:00:00Z',
      timeZone: 'Europe/Lisbon',
      days: 3,
    });
    expect(report.figures['account.import']!.value).toBeCloseTo(24, 9);
  });

  test('takes a range, several logs, plain or gzipped, and a file to write to', async () => {
    const half = Math.ceil(rows.length / 2) + 1;
    const head = csv.split('\n')[0]!;
    const first = file('first.csv', `${head}\n${rows.slice(0, half).join('\n')}`);
    const second = file('second.csv.gz', new Uint8Array(gzipSync(`${head}\n${rows.slice(half).join('\n')}`)));
    const out = join(folder, 'report.json');
    const ended = await tally(
      'analyse',
      '--system',
      system,
      '--log',
      second,
      '--log',
      first,
      '--from',
      '2024-05-01T12:00:00Z',
      '--to',
      '2024-05-02T12:00:00Z',
      '--out',
      out,
    );
    expect(ended).toEqual({ code: 0, out: '', err: '' });
    const report = printed(readFileSync(out, 'utf8'));
    expect(report.figures['account.load']!.value).toBeCloseTo(12, 9);
    expect(report.days.map(({ date }) => date)).toEqual(['2024-05-01', '2024-05-02']);
  });

  test('takes a journal: what it leaves out counts in nothing, and a wrong one is told by key', async () => {
    const notes = [
      { from: '2024-05-01T00:00:00Z', to: '2024-05-01T12:00:00Z', kind: 'guests', leaveOut: true },
      { from: '2024-05-02T00:00:00Z', to: '2024-05-02T03:00:00Z', kind: 'outage' },
    ];
    const journal = file('journal.json', JSON.stringify({ schema: 'long-tally/journal@1', notes }));
    const args = ['analyse', '--system', system, '--log', log];
    const { code, out } = await tally(...args, '--journal', journal);
    expect(code).toBe(0);
    const report = JSON.parse(out) as Report;
    expect(report.figures['account.load']!.basis['coverage']).toBeCloseTo(0.75, 9);
    // The log shows 500 W of import all the while.
    expect(report.findings.map(({ code: found }) => found)).toContain('journal-outage');
    const wrong = await tally(
      ...args,
      '--journal',
      file('wrong.json', '{"schema":"long-tally/journal@1","notes":3}'),
    );
    expect(wrong).toMatchObject({ code: 2, out: '' });
    expect(wrong.err).toMatch(/wrong\.json.*key notes/);
  });

  test('a log with faults is used, exit 0, with findings that name the file', async () => {
    const faulty = file(
      'faulty.csv',
      csv.replace(',500,500,', ',N/A,inf,').replace(rows[5]!, `${rows[5]!}\n${rows[3]!}`),
    );
    const { code, out } = await tally('analyse', '--system', system, '--log', faulty);
    expect(code).toBe(0);
    const codes = printed(out)
      .findings.filter(({ source }) => source === faulty)
      .map(({ code: finding }) => finding);
    expect(codes).toEqual(expect.arrayContaining(['not-a-number', 'unordered-rows', 'doubled-rows']));
  });
});

describe('input that cannot be used: exit 2, one line a problem, no stack trace', () => {
  test.each([
    [
      'an empty log',
      () => ['analyse', '--system', system, '--log', file('empty.csv', '')],
      /empty\.csv: The file is empty/,
    ],
    [
      'a log that is not there',
      () => ['analyse', '--system', system, '--log', join(folder, 'none.csv')],
      /none\.csv: This file is not there/,
    ],
    [
      'a web page',
      () => ['analyse', '--system', system, '--log', file('page.csv', '<!doctype html><title>x</title>')],
      /page\.csv: This is a web page/,
    ],
    [
      'a cut archive',
      () => [
        'analyse',
        '--system',
        system,
        '--log',
        file('cut.csv.gz', new Uint8Array(gzipSync(csv)).slice(0, 60)),
      ],
      /cut\.csv\.gz: The compressed file is damaged/,
    ],
    [
      'a broken system',
      () => ['analyse', '--system', file('bad.json', '{"name": 1}'), '--log', log],
      /bad\.json, key schema: The key is missing/,
    ],
    [
      'an invalid system',
      () => [
        'validate',
        file('zone.json', '{"schema":"long-tally/system@1","name":"H","timeZone":"Nowhere"}'),
      ],
      /zone\.json, key timeZone: Found "Nowhere"/,
    ],
  ])('%s', async (_name, args, message) => {
    const { code, out, err } = await tally(...args());
    expect([code, out]).toEqual([2, '']);
    expect(err).toMatch(message);
    expect(err).not.toMatch(/\n\s+at /);
  });
});

describe('wrong use: exit 1', () => {
  test.each([
    ['no command', []],
    ['another command', ['frobnicate']],
    ['no system', ['analyse', '--log', log]],
    ['no log', ['analyse', '--system', system]],
    ['an unknown option', ['analyse', '--system', system, '--log', log, '--fast']],
    ['no instant', ['analyse', '--system', system, '--log', log, '--from', 'yesterday']],
    [
      'a range that ends before it begins',
      [
        'analyse',
        '--system',
        system,
        '--log',
        log,
        '--from',
        '2024-05-02T00:00:00Z',
        '--to',
        '2024-05-01T00:00:00Z',
      ],
    ],
    ['no file to validate', ['validate']],
  ])('%s', async (_name, args) => {
    const { code, err } = await tally(...args);
    expect(code).toBe(1);
    expect(err).toMatch(/Usage:/);
    expect(err).not.toMatch(/\n\s+at /);
  });
});

test('help is given wherever it is asked for, and is no fault', async () => {
  for (const args of [['--help'], ['-h'], ['help'], ['analyse', '--help'], ['whatif', '-h']]) {
    const { code, out, err } = await tally(...args);
    expect([args, code, err]).toEqual([args, 0, '']);
    expect(out).toMatch(/^Usage:\n {2}tally analyse/);
  }
});

describe('detect and --map', () => {
  const exchanged = () => {
    const shape = SHAPES.find(({ name }) => name === 'import and export exchanged')!;
    const list = series(Date.UTC(2024, 4, 3), shape.days, shape.stepMinutes);
    return file('exchanged.csv', shape.write(list));
  };
  const home = file('corpus-home.json', JSON.stringify(CORPUS_HOME));

  test('what only the owner can answer is asked, exit 2; the answered mapping reads the log', async () => {
    const path = exchanged();
    const refused = await tally('analyse', '--system', home, '--log', path);
    expect([refused.code, refused.out]).toEqual([2, '']);
    expect(refused.err).toMatch(/exchanged\.csv: Column Export kW may be import, .* Run "tally detect"/);
    expect(refused.err.trim().split('\n')).toHaveLength(2);

    const { code, out } = await tally('detect', path, '--system', home);
    const found = JSON.parse(out) as {
      schema: string;
      columns: { column: string; quantity: string }[];
      evidence: { about: string; asks: boolean; evidence: string[] }[];
    };
    expect([code, found.schema]).toEqual([0, 'long-tally/mapping@1']);
    expect(found.evidence.filter(({ asks }) => asks).map(({ about }) => about)).toEqual([
      'column:Export kW',
      'column:Import kW',
    ]);
    expect(found.evidence.every(({ evidence }) => evidence.length > 0)).toBe(true);

    const map = file('map.json', out);
    const read = await tally('analyse', '--system', home, '--log', path, '--map', map);
    expect(read.code).toBe(0);
    expect(printed(read.out).figures['account.export']!.value).toBeGreaterThan(0);
  });

  test('a mapping that is none, or that does not fit, is refused in one line', async () => {
    const bad = file('bad-map.json', JSON.stringify({ schema: 'long-tally/mapping@1', columns: [] }));
    const refused = await tally('analyse', '--system', home, '--log', log, '--map', bad);
    expect(refused.code).toBe(2);
    expect(refused.err).toMatch(/bad-map\.json, key table:/);
    expect(refused.err).not.toMatch(/\n\s+at /);
  });

  test('detect without a file is wrong usage', async () => {
    expect((await tally('detect')).code).toBe(1);
  });
});

test('outages prints what lasts how long by each option, and what is missing for it', async () => {
  const { code, out } = await tally('outages', '--system', system, '--log', log);
  expect(code).toBe(0);
  const told = JSON.parse(out) as {
    scenarios: { scenario: { name: string }; starts: number }[];
    figures: object;
  };
  expect(told.scenarios.map(({ scenario }) => scenario.name)).toEqual([
    'whole home',
    'no sun',
    '50 % of the load',
    'reserve 50 %',
  ]);
  expect(told.scenarios.every(({ starts }) => starts === 48)).toBe(true);
  expect(told.figures).toHaveProperty(['outage.survive.12h']);
  const bare = file('bare.json', '{"schema":"long-tally/system@1","name":"Bare","timeZone":"UTC"}');
  const none = await tally('outages', '--system', bare, '--log', log);
  expect(none.out).toContain('capacity is not described');
});

test('validate says that a system is valid', async () => {
  const { code, out } = await tally('validate', system);
  expect([code, out]).toEqual([0, `${system}: Home is a valid long-tally/system@1.\n`]);
});

describe('reconcile', () => {
  const home = (...more: string[]) => tally('reconcile', '--system', system, '--log', log, ...more);

  test('prints the definitions nearest to what is stated', async () => {
    const report = printed((await tally('analyse', '--system', system, '--log', log)).out);
    const own = report.figures['account.selfSufficiency.grid']!.value!;
    const { code, out, err } = await home('--stated', `${(100 * own).toFixed(0)} %`);
    expect([code, err]).toEqual([0, '']);
    const [best] = JSON.parse(out) as [{ says: string; value: number; isIt: boolean }];
    expect(best.isIt).toBe(true);
    expect(Math.abs(best.value - own)).toBeLessThan(0.006);
  });

  test('without a figure, or with words for one, is wrong usage', async () => {
    for (const more of [[], ['--stated', 'most'], ['--stated', '980']]) {
      const { code, err } = await home(...more);
      expect([code, err]).toEqual([1, expect.stringMatching(/^Write the stated self-sufficiency/)]);
    }
  });
});

describe('run', () => {
  const readings = { schema: 'long-tally/run@1', hours: 24, socStart: 1, socEnd: 0.2, inKWh: 0, outKWh: 9.6 };

  test('prints where the energy of a day went', async () => {
    const path = file('run.json', JSON.stringify({ ...readings, usableKWh: 13.8 }));
    const { code, out } = await tally('run', path);
    expect(code).toBe(0);
    const budget = JSON.parse(out) as { missingKWh: number; verdict: string };
    expect(budget.missingKWh).toBeCloseTo(0.8 * 13.8 - 9.6, 9);
    expect(budget.verdict).toMatch(/^Nothing is left/);
  });

  test('readings that cannot be are refused by key, a missing file too', async () => {
    const { code, err } = await tally('run', file('bad.json', JSON.stringify({ ...readings, socEnd: 20 })));
    expect(code).toBe(2);
    expect(err).toMatch(/bad\.json, key socEnd: Found 20\./);
    expect(err).toMatch(/key usableKWh: The key is missing\./);
    expect((await tally('run', 'none.json')).code).toBe(2);
    expect((await tally('run')).code).toBe(1);
  });
});

describe('runtime', () => {
  const write = (name: string, battery: object) => {
    const home = { schema: 'long-tally/system@1', name: 'Bare', timeZone: 'UTC' };
    return file(
      name,
      JSON.stringify({ ...home, configurations: [{ from: '2024-01-01T00:00:00Z', battery }] }),
    );
  };
  test('tells from capacity, charge and watts alone how long it lasts: 7.8 h', async () => {
    // Common practice, no published source: 3 × 13.5 kWh at 64 % with 3.3 kW.
    const bare = write('bare.json', { modules: 3, moduleKWh: 13.5 });
    const { code, out } = await tally('runtime', '--system', bare, '--soc', '64', '--load', '3300');
    expect(code).toBe(0);
    const { hours } = JSON.parse(out) as { hours: { value: number; low: number; high: number } };
    expect(Math.floor(hours.value * 10) / 10).toBe(7.8);
    expect(hours.low).toBeLessThan(7.8);
    expect(hours.high).toBeGreaterThan(7.8);
  });
  test('says what it lacks', async () => {
    const empty = write('empty.json', {});
    expect(await tally('runtime', '--system', empty, '--soc', '64', '--load', '3300')).toMatchObject({
      code: 2,
    });
    expect(await tally('runtime', '--system', empty, '--soc', 'full', '--load', '3300')).toMatchObject({
      code: 1,
    });
  });
});
