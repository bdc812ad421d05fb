import { describe, expect, test } from '@jest/globals';
import { endMs, type SourceLog } from '../../model/log.js';
import { prepare } from '../../passes/prepare.js';
import { report } from '../../report/report.js';
import type { System } from '../../system/schema.js';
import { longTest } from '../../testing/long.js';
import { simulatedSun, type SunTruth } from '../../testing/sun.js';
import { YEAR_DAYS } from '../../time/days.js';
import type { AnotherYear } from './anotherYear.js';
import type { Change } from './scenarioFile.js';
import { scenarioRunner } from './scenarioRunner.js';

const DAY_MS = 86_400_000;
const TWICE: Change = { battery: { modules: 2, maxChargeKW: 3.5, maxDischargeKW: 3.5 } };

function anotherYearOf(system: System, log: SourceLog, change: Change): AnotherYear {
  const prepared = prepare(system, [log]);
  const range = { fromMs: log.startMs, toMs: endMs(log) };
  const runner = scenarioRunner(prepared, range, report(prepared, range).figures);
  return runner.scenario({ schema: 'long-tally/scenario@1', name: 'tried', change }).anotherYear;
}

/** The first days of a log. */
function firstDays(log: SourceLog, days: number): SourceLog {
  const count = Math.round((days * DAY_MS) / log.stepMs);
  const columns = [...log.columns].map(
    ([quantity, column]) => [quantity, { ...column, values: column.values.slice(0, count) }] as const,
  );
  return { ...log, count, columns: new Map(columns) };
}

const HOME: Omit<SunTruth, 'seed' | 'days'> = {
  stepSeconds: 3600,
  coupling: 'ac',
  kWp: 6,
  ratingKW: 10,
  exportLimitKW: null,
  hasGrid: true,
  capacityKWh: 8,
};

describe('another year', () => {
  const { log, system } = simulatedSun({ ...HOME, seed: 5, days: 400 });
  const priced: System = {
    ...system,
    currency: 'EUR',
    tariffs: [{ from: '2020-01-01', import: [{ rate: 0.3 }], export: [{ rate: 0.1 }], taxShare: 0.2 }],
  };

  longTest('of a change that changes nothing differs in nothing', () => {
    const { differences, reason } = anotherYearOf(priced, log, {});
    expect(reason).toBeNull();
    expect(Object.keys(differences)).toEqual([
      'account.selfSufficiency.grid',
      'account.import',
      'account.export',
      'account.gridFreeDays',
      'money.bill',
    ]);
    for (const one of Object.values(differences)) expect(one).toEqual({ value: 0, low: 0, high: 0 });
  });

  test('is paid for by the price of what is not bought, less that of what is not sold', () => {
    const { differences } = anotherYearOf(priced, log, TWICE);
    const [bought, sold, bill] = (['account.import', 'account.export', 'money.bill'] as const).map(
      (key) => differences[key]!.value,
    ) as [number, number, number];
    expect(bought).toBeLessThan(-50);
    expect(bill).toBeCloseTo(1.2 * (0.3 * bought - 0.1 * sold), 6);
    const { low, value, high } = differences['account.import']!;
    expect(low).toBeLessThan(value);
    expect(high).toBeGreaterThan(value);
  });

  test('tells no bill where a tariff counts by the month and not by the kWh', () => {
    const blocks = [{ rate: 0.3 }, { rate: 0.5, aboveKWh: 100 }];
    const stepped: System = { ...priced, tariffs: [{ from: '2020-01-01', import: blocks }] };
    const { differences } = anotherYearOf(stepped, log, TWICE);
    expect(differences['money.bill']).toBeUndefined();
    expect(differences['account.import']).toBeDefined();
  });

  longTest('without a grid tells what of the load is served', () => {
    const island = simulatedSun({ ...HOME, seed: 6, days: 380, hasGrid: false });
    const { differences } = anotherYearOf(island.system, island.log, TWICE);
    expect(Object.keys(differences)).toEqual(['account.selfSufficiency.supply']);
    expect(differences['account.selfSufficiency.supply']!.value).toBeGreaterThan(0);
  });

  test('is not told of a part of a year, with the months that are missing', () => {
    const { differences, reason } = anotherYearOf(system, firstDays(log, 200), TWICE);
    expect(differences).toEqual({});
    expect(reason).toContain('the log has no whole week of the season in August, September, October');
    expect(reason).not.toContain('March');
  });

  // Homes that are simulated (invented, with known truth) for ten years, and again with twice the battery: what it brought in each of
  // the eight years that the log does not hold.
  longTest('holds the years that come after the log, and is not much wider than they differ', () => {
    let [held, years, width, spread] = [0, 0, 0, 0];
    for (let home = 0; home < 4; home++) {
      const truth: SunTruth = { ...HOME, seed: 40 + home, days: 10 * YEAR_DAYS, capacityKWh: 5 + 2 * home };
      const base = simulatedSun(truth);
      const other = simulatedSun({ ...truth, capacityKWh: 2 * truth.capacityKWh });
      // The meters of the simulation do not err, and are described so.
      const system: System = { ...base.system, accuracy: { solar: 0.001, load: 0.001, grid: 0.001 } };
      const log = firstDays(base.log, 2 * YEAR_DAYS);
      const { low, high } = anotherYearOf(system, log, TWICE).differences['account.import']!;
      const [was, is] = [boughtByYear(base.log), boughtByYear(other.log)];
      const real = was.map((kWh, year) => is[year]! - kWh).slice(2);
      const mean = real.reduce((sum, one) => sum + one, 0) / real.length;
      spread += Math.sqrt(real.reduce((sum, one) => sum + (one - mean) ** 2, 0) / (real.length - 1));
      width += (high - low) / 2;
      held += real.filter((one) => one >= low && one <= high).length;
      years += real.length;
    }
    expect(years).toBe(32);
    expect(held / years).toBeGreaterThanOrEqual(0.9);
    // 3.5 of it would be the sample of two years; the rest is what hourly means hide.
    expect(width / spread).toBeLessThan(5);
  });
});

/** What was bought in each year of a log, kWh. */
function boughtByYear({ columns, count, stepMs }: SourceLog): number[] {
  const grid = columns.get('grid')!.values;
  const cells = Math.round((YEAR_DAYS * DAY_MS) / stepMs);
  return Array.from({ length: Math.floor(count / cells) }, (_, year) =>
    grid
      .subarray(year * cells, (year + 1) * cells)
      .reduce((kWh, watts) => kWh + (Math.max(0, watts) * stepMs) / 3.6e9, 0),
  );
}
