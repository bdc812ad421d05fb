import { describe, expect, test } from '@jest/globals';
import { prepare } from '../../passes/prepare.js';
import { rollOf } from '../../views/roll.js';
import { rowsOf } from '../../views/rollRows.js';
import { analyse } from '../../report/report.js';
import type { Report } from '../../report/reportFormat.js';
import { readingsLog, type Reading } from '../../import/merge/readings.js';
import { parseReadings, readingsText } from '../../import/merge/readingsFile.js';
import { reconcile } from './reconcile.js';
import { read, reportOf as reportOfRows, systemOf, TEN_KWH, valueOf } from '../../testing/logs.js';
import { statementCsv } from '../../testing/statement.js';
import { simulatedStore, STORE_HOME } from '../../testing/store.js';

const DAY_MS = 86_400_000;

// Invented data with known truth: a year of 15 minutes, and the statements its portal would give.
const log = simulatedStore({
  seed: 11,
  days: 365,
  stepSeconds: 900,
  idleW: 40,
  efficiency: 0.93,
  socStep: 0.01,
  gridCharged: true,
});
const course = analyse(STORE_HOME, [log]);

const statement = (nameOf: (date: string) => string) => statementCsv(log, nameOf);

const reportOf = async (text: string, home = STORE_HOME): Promise<Report> =>
  analyse(home, [(await read(text, 'statement.csv', undefined, home)).log]);

describe('totals without a course', () => {
  const keys = [
    ...['solar', 'load', 'import', 'export', 'charge', 'discharge', 'losses', 'closingError'],
    ...['closingShare', 'selfSufficiency.grid', 'selfConsumption'],
  ]
    .map((key) => `account.${key}`)
    .concat(['losses.roundTrip.counter', 'losses.mean', 'wear.throughput', 'wear.efc.usable']);

  test.each([
    ['days', (date: string) => date],
    ['months', (date: string) => date.slice(0, 7)],
  ])('of %s give every figure that needs none, with the truth in its interval', async (_of, nameOf) => {
    const { figures } = await reportOf(statement(nameOf));
    for (const key of keys) {
      const [figure, truth] = [figures[key]!, course.figures[key]!.value!];
      expect([key, figure.reason]).toEqual([key, null]);
      expect([key, figure.low! <= truth && truth <= figure.high!]).toEqual([key, true]);
      // No wider than twice what the course itself gives.
      const width = course.figures[key]!.high! - course.figures[key]!.low!;
      expect([key, figure.high! - figure.low! <= 2 * width]).toEqual([key, true]);
    }
  });

  test('of days tell the days without the grid', async () => {
    const { figures } = await reportOf(statement((date) => date));
    const truth = course.figures['account.gridFreeDays']!.value!;
    const { low, high } = figures['account.gridFreeDays']!;
    expect(low! <= truth && truth <= high!).toBe(true);
  });

  test('are never told to be missing, and no sentence speaks of steps or powers they do not have', async () => {
    const report = await reportOf(statement((date) => date.slice(0, 7)));
    for (const [key, { reason }] of Object.entries(report.figures))
      expect([key, /has no (?:solar|load|grid|battery)/.test(reason ?? '')]).toEqual([key, false]);
    expect(report.figures['account.flow.solarToLoad']!.reason).toMatch(/known as totals only/);
    expect(report.findings.map(({ code }) => code)).not.toContain('coarse-step');
  });

  test('bound the losses by what the store can hold, wider for a week than for a year', async () => {
    const week = statement((date) => date)
      .split('\n')
      .slice(0, 8)
      .join('\n');
    const { figures } = await reportOf(`${week}\n`);
    const losses = figures['account.losses']!;
    expect(losses.high! - losses.low!).toBeGreaterThan(2 * 0.8 * 10);
    expect(figures['losses.roundTrip.counter']!.reason).toMatch(/may hold more or less at the end/);
  });

  test('run a warranted throughput down: 50 000 kWh at 10 kWh a day last 13.7 years', async () => {
    // Common practice, no published source.
    const days = Array.from({ length: 366 }, (_, i) =>
      new Date(Date.UTC(2024, 0, 1) + i * DAY_MS).toISOString().slice(0, 10),
    );
    const text = `Date,Battery charged (kWh),Battery discharged (kWh)\n${days.map((date) => `${date},11,10`).join('\n')}\n`;
    const home = systemOf(TEN_KWH);
    const warranty = { years: 20, throughputKWh: 50_000 };
    const report = await reportOf(text, {
      ...home,
      configurations: [{ ...home.configurations![0]!, from: '2024-01-01T00:00:00Z', warranty }],
    });
    const { value, basis } = report.figures['warranty.throughput']!;
    expect(value).toBeCloseTo(3660 / 50_000, 6);
    const years = (Date.parse(basis.runsOut as string) - Date.UTC(2024, 0, 1)) / (365.25 * DAY_MS);
    expect(years).toBeCloseTo(13.7, 1);
    expect(valueOf(report, 'wear.efc.nameplate')).toBeCloseTo(366, 6);
  });

  test('cover the time they speak of: 62 daily rows in 397 days are 16 %', async () => {
    const days = Array.from({ length: 397 }, (_, i) =>
      new Date(Date.UTC(2023, 0, 1) + i * DAY_MS).toISOString().slice(0, 10),
    ).filter((_, i) => i < 31 || i >= 366);
    const text = `Date,Solar (kWh),Import (kWh)\n${days.map((date) => `${date},10,5`).join('\n')}\n`;
    const { coverage, figures } = await reportOf(text);
    expect(days).toHaveLength(62);
    expect(coverage.share).toBeCloseTo(62 / 397, 6);
    expect(coverage.quantities).toEqual({
      solar: expect.closeTo(62 / 397, 6),
      grid: expect.closeTo(62 / 397, 6),
    });
    expect(figures['account.solar']!.basis.coverage).toBeCloseTo(0.156, 3);
  });

  test('stand in the sub-totals of the months and years that hold them whole', async () => {
    const { log: months } = await read(
      statement((date) => date.slice(0, 7)),
      'months.csv',
    );
    const roll = rollOf(prepare(STORE_HOME, [months]));
    const rows = rowsOf(roll, (date) => date.slice(0, 7));
    const sums = rows.flatMap((row) => (row.kind === 'day' ? [] : [[row.title, row.sum.solar] as const]));
    const year = valueOf(course, 'account.solar');
    expect(sums.find(([title]) => title === '2023')![1]).toBeCloseTo(year, 0);
    expect(sums).toHaveLength(13);
    expect(sums.slice(1).reduce((sum, [, kWh]) => sum + kWh!, 0)).toBeCloseTo(year, 0);
    expect(roll.every(({ solar }) => solar === null)).toBe(true);
  });

  test('that lie only in part in a range are told', async () => {
    const { log: months } = await read(
      statement((date) => date.slice(0, 7)),
      'months.csv',
    );
    const range = { fromMs: Date.UTC(2023, 0, 15), toMs: Date.UTC(2023, 2, 1) };
    const report = analyse(STORE_HOME, [months], range);
    const told = report.findings.find(({ code }) => code === 'totals-straddle')!;
    expect(told.message).toMatch(/kWh of solar, .* kWh of load/);
    expect(analyse(STORE_HOME, [months]).findings.map(({ code }) => code)).not.toContain('totals-straddle');
  });
});

describe('a home without panels', () => {
  const rows = Array.from({ length: 96 }, (_, i) => ({
    load_w: 600,
    grid_w: i < 20 ? 1600 : i < 60 ? 0 : 600,
    battery_w: i < 20 ? -1000 : i < 60 ? 600 : 0,
    soc_pct: 50,
  }));
  const home = systemOf(TEN_KWH);
  const told = { ...home, configurations: [{ ...home.configurations![0]!, arrays: [] }] };

  test('has no solar by its description; nothing is derived', async () => {
    const report = await reportOfRows(told, rows, '2024-01-01T00:00:00Z', 900);
    expect(report.figures['account.solar']).toMatchObject({ value: 0, low: 0, high: 0, status: 'measured' });
    expect(report.figures['account.closingError']!.value).toBeCloseTo(0, 9);
    expect(report.findings.map(({ code }) => code)).not.toContain('closed-by-construction');
    const undescribed = await reportOfRows(home, rows, '2024-01-01T00:00:00Z', 900);
    expect(undescribed.findings.map(({ code }) => code)).toContain('closed-by-construction');
  });
});

describe('two sources of one total', () => {
  const day = (kWh: number) => `Date,Import (kWh)\n2024-01-01,${kWh}\n2024-01-02,${kWh}\n`;
  const sources = async (a: string, b: string) => [
    (await read(day(18.5), a)).log,
    (await read(day(13.3), b)).log,
  ];
  test('are compared, told with the difference, and chosen by their owner, not by their names', async () => {
    for (const [meter, application] of [
      ['a.csv', 'z.csv'],
      ['z.csv', 'a.csv'],
    ] as const) {
      const logs = await sources(meter, application);
      const report = analyse(STORE_HOME, logs);
      const told = report.findings.find(({ code }) => code === 'totals-differ')!;
      expect(told.message).toContain(
        `${meter} counts 37.0 kWh of import, ${application} 26.6 kWh over the same 2 stretches: 10.4 kWh apart`,
      );
      expect(valueOf(report, 'account.import')).toBeCloseTo(37, 9);
      expect(told.proposal).toEqual({ kind: 'lead', source: application, quantity: 'grid' });
      const chosen = analyse(STORE_HOME, logs, undefined, [told.proposal!]);
      expect(valueOf(chosen, 'account.import')).toBeCloseTo(26.6, 9);
    }
  });
});

describe('a stated self-sufficiency', () => {
  const months = async () =>
    prepare(STORE_HOME, [
      (
        await read(
          statement((date) => date.slice(0, 7)),
          'months.csv',
        )
      ).log,
    ]);
  const range = { fromMs: log.startMs, toMs: log.startMs + log.count * log.stepMs };
  test('is reconciled from totals as from a course', async () => {
    const home = await months();
    const truth = valueOf(course, 'account.selfSufficiency.grid');
    expect(reconcile(home, range, truth)[0]).toMatchObject({ isIt: true });
    expect(reconcile(home, range, truth)[0]!.says).toMatch(/by the meter/);
    const consumption = course.figures['account.selfConsumption']!.value!;
    expect(reconcile(home, range, consumption)[0]!.says).toMatch(/self-consumption taken for/);
  });
  test('that nothing gives is turned round: what import would give it', async () => {
    const found = reconcile(await months(), range, 0.02).at(-1)!;
    expect(found).toMatchObject({ isIt: false, isInverse: true, value: 0.02 });
    const load = valueOf(course, 'account.load');
    const needed = Number(/import of ([\d.]+) kWh/.exec(found.says)![1]);
    expect(needed).toBeCloseTo(0.98 * load, 0);
    expect(found.says).toMatch(/kWh more$/);
  });
});

describe('readings typed by hand', () => {
  const at = (day: number) => Date.UTC(2024, 2, day, 8);
  const counters = (k: number) => ({
    solar: 100 + 12 * k,
    load: 300 + 9 * k,
    import: 50 + 2 * k,
    export: 20 + 4 * k,
  });
  const typed = (socs: readonly (number | undefined)[]): Reading[] =>
    socs.map((socPct, k) => ({
      atMs: at(1 + 7 * k),
      counters: counters(7 * k),
      note: '',
      ...(socPct === undefined ? {} : { socPct, batteryC: 18 }),
    }));
  // The charge read last stands at the beginning of its hour.
  const range = { fromMs: at(1), toMs: at(15) + 3_600_000 };

  test('know the losses better with the charge at both ends', () => {
    const report = (socs: readonly (number | undefined)[]) =>
      analyse(STORE_HOME, [readingsLog(typed(socs))!], range).figures['account.losses']!;
    const [blind, noted] = [report([undefined, undefined, undefined]), report([80, 20, 60])];
    // By hand: 12 + 2 − 9 − 4 = 1 kWh a day over 14 days; the store of 10 kWh falls by a fifth.
    expect(blind.value).toBeCloseTo(14, 9);
    expect(noted.value).toBeCloseTo(16, 9);
    expect(noted.high! - noted.low!).toBeLessThan(0.8 * (blind.high! - blind.low!));
  });
  test('show their digits as typed, in their file too', () => {
    const text = readingsText([
      {
        atMs: at(1),
        counters: { import: 1200.5, solar: 7 },
        decimals: { import: 2, solar: 0 },
        socPct: 55,
        note: '',
      },
    ]);
    expect(text.split('\n')[1]).toBe('2024-03-01T08:00:00Z,7,,1200.50,,,,55,,,,,');
    expect(parseReadings(text, 'r.csv')[0]).toMatchObject({ decimals: { import: 2, solar: 0 }, socPct: 55 });
  });
  test('of the charge alone are kept, and give no figure that needs a course', async () => {
    const { log: notes } = await read(
      'Time,SOC (%)\n2024-03-01 08:00,80\n2024-03-03 21:00,35\n2024-03-09 07:30,60\n',
    );
    const known = notes.columns.get('soc')!.values.filter((value) => !Number.isNaN(value));
    expect([...known].map((value) => Math.round(100 * value))).toEqual([80, 35, 60]);
    const { figures } = analyse(STORE_HOME, [notes]);
    expect(valueOf({ figures } as unknown as Report, 'account.storeChange')).toBeCloseTo(-2, 9);
    for (const key of ['wear.soc.mean', 'wear.timeAbove95', 'wear.cycles.rainflow', 'outage.survive.12h'])
      expect([key, figures[key]!.reason]).toEqual([key, expect.stringMatching(/noted now and then only/)]);
  });
});
