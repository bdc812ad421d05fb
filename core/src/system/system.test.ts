import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { measured, insufficient } from '../model/figure.js';
import { InputError, problemText } from '../model/problem.js';
import { runJsonSchema } from '../books/losses/shortRun.js';
import { correctionsJsonSchema, sourcesJsonSchema } from '../bookFile/documents.js';
import { mappingJsonSchema } from '../import/read/mapping.js';
import { journalJsonSchema, journalText, parseJournal, type JournalNote } from './journal.js';
import { accuracyOf, configurationAt, configurationsOf } from './configuration.js';
import { checkSystem, parseSystem, systemJsonSchema } from './parse.js';

const PLAIN = { schema: 'long-tally/system@1', name: 'Home', timeZone: 'Pacific/Auckland' };

function refused(value: unknown): string {
  try {
    parseSystem(typeof value === 'string' ? value : JSON.stringify(value), 'home.json');
  } catch (error) {
    if (error instanceof InputError) return error.message;
    throw error;
  }
  throw new Error('It was taken, and should have been refused.');
}

describe('a system file', () => {
  test('needs a name and a zone; everything else may be missing; unknown keys are kept', () => {
    expect(parseSystem(JSON.stringify({ ...PLAIN, later: 1 }), 'home.json')).toEqual({ ...PLAIN, later: 1 });
  });

  test.each([
    ['text that is no JSON', '{', /home\.json, line 1: This is not JSON/],
    ['another schema', { ...PLAIN, schema: 'x' }, /key schema: Found "x"/],
    [
      'an unknown zone',
      { ...PLAIN, timeZone: 'Mars/Olympus' },
      /key timeZone: Found "Mars\/Olympus"\. This zone is not known; write an IANA name/,
    ],
    ['a missing name', { schema: PLAIN.schema, timeZone: 'UTC' }, /key name: The key is missing/],
    [
      'a negative capacity',
      { ...PLAIN, configurations: [{ from: '2024-01-01T00:00:00Z', battery: { moduleKWh: -5 } }] },
      /key configurations\[0\]\.battery\.moduleKWh: Found -5/,
    ],
    [
      'a share in per cent',
      { ...PLAIN, configurations: [{ from: '2024-01-01T00:00:00Z', battery: { usableShare: 90 } }] },
      /usableShare: Found 90/,
    ],
    [
      'a date without offset',
      { ...PLAIN, configurations: [{ from: '2024-01-01T00:00:00' }] },
      /configurations\[0\]\.from.*with its offset/,
    ],
    [
      'configurations out of order',
      { ...PLAIN, configurations: [{ from: '2024-02-01T00:00:00Z' }, { from: '2024-01-01T00:00:00Z' }] },
      /configurations\[1\]\.from: .*does not come after/,
    ],
  ])('refuses %s, naming the key and the value', (_name, value, message) => {
    expect(refused(value)).toMatch(message);
  });

  test('a date that only some engines would read is read by the one rule everywhere', () => {
    const [later, earlier] = ['2024-03-01T00:00:00,5+1300', '2024-02-01 00:00+13'];
    const system = (froms: string[]) => ({ ...PLAIN, configurations: froms.map((from) => ({ from })) });
    expect(parseSystem(JSON.stringify(system([earlier, later])), 'home.json').configurations).toHaveLength(2);
    expect(refused(system([later, earlier]))).toMatch(/does not come after/);
  });

  test('tells every problem, each on a line of its own', () => {
    const text = refused({ ...PLAIN, name: '', timeZone: 'x', latitude: 100 });
    expect(text.split('\n')).toHaveLength(3);
  });

  test.each([
    ['system', systemJsonSchema],
    ['mapping', mappingJsonSchema],
    ['run', runJsonSchema],
    ['journal', journalJsonSchema],
    ['sources', sourcesJsonSchema],
    ['corrections', correctionsJsonSchema],
  ])('the committed JSON Schema of %s is what its Zod schema gives', (name, schema) => {
    const path = new URL(`../../../docs/schema/${name}.schema.json`, import.meta.url);
    expect(schema()).toEqual(JSON.parse(readFileSync(path, 'utf8')));
  });
});

describe('configurations', () => {
  const configurations = configurationsOf({
    ...PLAIN,
    schema: 'long-tally/system@1',
    configurations: [
      { from: '2022-01-01T00:00:00Z', battery: { modules: 2, moduleKWh: 5.12, usableShare: 0.9 } },
      { from: '2023-01-01T00:00:00Z', battery: { modules: 3, moduleKWh: 5.12 } },
    ],
  });

  test('follow each other without gap, the first from the beginning of time', () => {
    expect(configurations.map(({ fromMs, toMs }) => [fromMs, toMs])).toEqual([
      [-Infinity, Date.UTC(2023, 0)],
      [Date.UTC(2023, 0), Infinity],
    ]);
    expect(configurationAt(configurations, Date.UTC(2022, 11, 31)).index).toBe(0);
    expect(configurationAt(configurations, Date.UTC(2023, 0)).index).toBe(1);
  });

  test('know nameplate and usable capacity only as far as they are described', () => {
    expect(configurations[0]!.usableWh).toBeCloseTo(2 * 5120 * 0.9, 9);
    expect([configurations[1]!.nameplateWh, configurations[1]!.usableWh]).toEqual([15360, null]);
  });

  test('a stated accuracy leads, else the usual ones of the meters', () => {
    expect(accuracyOf({ grid: 0.01 }, 'dc')).toEqual({
      solar: 0.03,
      load: 0.02,
      grid: 0.01,
      battery: 0.02,
      soc: 0.03,
      offsetW: 5,
    });
    expect(accuracyOf(undefined, 'ac').battery).toBe(0.03);
  });
});

describe('the door of a system', () => {
  const given = (more: object) =>
    checkSystem({ schema: 'long-tally/system@1', name: 'Home', timeZone: 'UTC', ...more }, 'system.json');
  const flat = { import: [{ rate: 0.2 }] };

  test('refuses days that no calendar has, in tariffs and in configurations', () => {
    for (const from of ['2024-02-30', '2023-02-29', '2024-13-01', '2024-00-10', '2024-06-83', '2024-06-00'])
      expect(() => given({ tariffs: [{ from, ...flat }] })).toThrow(/write a date that exists/i);
    for (const from of ['2024-02-30T00:00:00Z', '2024-01-01T00:00:00+99:99', '2024-01-01T00:00:00+05:75'])
      expect(() => given({ configurations: [{ from }] })).toThrow(/with its offset/);
    expect(given({ tariffs: [{ from: '2024-02-29', ...flat }] }).tariffs).toHaveLength(1);
  });

  test('puts tariffs in the order of their dates, and refuses a window that never ends', () => {
    const dates = ['2024-03-01', '2022-01-01', '2023-07-01'];
    const { tariffs } = given({ tariffs: dates.map((from) => ({ from, ...flat })) });
    expect(tariffs!.map(({ from }) => from)).toEqual([...dates].sort());
    expect(() =>
      given({ tariffs: [{ from: '2024-01-01', import: [{ rate: 0.1, start: '23:00' }] }] }),
    ).toThrow(/key tariffs\[0\]\.import\[0\].*needs both its start and its end/);
  });

  test('knows sizes that no home has', () => {
    const with_ = (more: object) => () =>
      given({ configurations: [{ from: '2020-01-01T00:00:00Z', ...more }] });
    expect(with_({ warranty: { years: 1e6 } })).toThrow(/warranty\.years/);
    expect(with_({ battery: { moduleKWh: 5e-324 } })).toThrow(/moduleKWh/);
    expect(with_({ battery: { maxChargeKW: 1e300 } })).toThrow(/maxChargeKW/);
    expect(with_({ arrays: [{ kWp: 1e9 }] })).toThrow(/kWp/);
  });
});

describe('figures', () => {
  const method = { id: 'test', formula: 'a ÷ b', source: 'common practice, no published source' };

  test('hold their value between their bounds, or are insufficient and say what they would have come to', () => {
    const evidence = { unit: 'kWh', method, basis: {}, working: [] } as const;
    expect(measured({ value: 1, low: 0.9, high: 1.1 }, evidence)).toMatchObject({
      value: 1,
      status: 'measured',
      reason: null,
      method: 'test',
    });
    for (const [value, low, high] of [
      [2, 0.9, 1.1],
      [NaN, 0.9, 1.1],
      [1, 0.9, Infinity],
      [-Infinity, -Infinity, 0],
    ] as const) {
      const figure = measured({ value, low, high }, evidence);
      expect([figure.value, figure.low, figure.high, figure.status]).toEqual([
        null,
        null,
        null,
        'insufficient',
      ]);
      expect(figure.reason).toContain(`it would come to ${value}, between ${low} and ${high}`);
    }
  });

  test('without evidence have no value but a reason', () => {
    expect(insufficient('W', method, 'a longer log')).toMatchObject({
      value: null,
      low: null,
      high: null,
      status: 'insufficient',
      reason: 'a longer log',
    });
  });

  test('a problem is one line, with its place', () => {
    expect(
      problemText({ where: 'a.csv', line: 3, column: 'load_w', found: 'Found x.', mend: 'Write\na number.' }),
    ).toBe('a.csv, line 3, column load_w: Found x. Write a number.');
  });
});

describe('a journal file', () => {
  const notes: JournalNote[] = [
    {
      kind: 'test',
      fromMs: Date.UTC(2024, 4, 2),
      toMs: Date.UTC(2024, 4, 3),
      text: 'drawdown',
      leaveOut: true,
    },
    {
      kind: 'outage',
      fromMs: Date.UTC(2024, 4, 1),
      toMs: Date.UTC(2024, 4, 1, 5),
      text: '',
      leaveOut: false,
    },
  ];

  test('reads back as it was written, oldest first', () => {
    expect(parseJournal(journalText(notes), 'journal.json')).toEqual([notes[1], notes[0]]);
  });

  test('names every key that is wrong, the value and how to mend it', () => {
    const wrong = { from: '2024-05-01', to: '2024-04-01T00:00:00Z', kind: 'storm' };
    const problems = (text: string) => {
      try {
        parseJournal(text, 'journal.json');
      } catch (error) {
        return (error as InputError).problems.map(problemText).join('\n');
      }
      return '';
    };
    const told = problems(JSON.stringify({ schema: 'long-tally/journal@1', notes: [wrong] }));
    expect(told).toMatch(/notes\[0\]\.kind.*"storm"/);
    expect(told.split('\n').every((line) => line.startsWith('journal.json'))).toBe(true);
    expect(problems('{}')).toMatch(/schema/);
    expect(problems('notes')).toMatch(/This is not JSON/);
  });
});
