import { describe, expect, test } from '@jest/globals';
import type { Interval } from '../../model/figure.js';
import { endMs, type SourceLog } from '../../model/log.js';
import { prepare } from '../../passes/prepare.js';
import { seededRandom } from '../../statistics/random.js';
import type { System } from '../../system/schema.js';
import { longTest } from '../../testing/long.js';
import { simulatedStore, STORE_HOME } from '../../testing/store.js';
import { simulatedSun } from '../../testing/sun.js';
import { surplusOf } from './surplus.js';

const rangeOf = (log: Pick<SourceLog, 'startMs' | 'stepMs' | 'count'>) => ({
  fromMs: log.startMs,
  toMs: endMs(log),
});
const holds = ({ low, high }: Interval, value: number) => value >= low && value <= high;

describe('the surplus', () => {
  const prepared = prepare(STORE_HOME, [
    simulatedStore({
      seed: 31,
      days: 365,
      stepSeconds: 1800,
      idleW: 40,
      efficiency: 0.9,
      socStep: 0.01,
      season: 0.04,
    }),
  ]);
  const range = rangeOf(prepared.log);
  const surplus = surplusOf(prepared, range);

  test('adds up alike by day, by month and by what a great load would take', () => {
    const { kWhADay, loads, byMonth } = surplus;
    expect(loads.at(-1)!.kWhADay.value).toBeCloseTo(kWhADay.value, 0);
    const mean = byMonth.reduce((sum, kWh) => sum + (kWh?.value ?? 0), 0) / 12;
    expect(mean / kWhADay.value).toBeCloseTo(1, 1);
    for (const [k, load] of loads.slice(1).entries()) {
      expect(load.kWhADay.value).toBeGreaterThanOrEqual(loads[k]!.kWhADay.value);
      expect(load.hoursADay.value).toBeLessThanOrEqual(loads[k]!.hoursADay.value);
    }
  });

  test('gives every value an interval that holds it and says something', () => {
    const { kWhADay, byHour, byMonth, loads, days, modules } = surplus;
    const all = [
      kWhADay,
      ...byHour.flat(),
      ...byMonth,
      ...loads.flatMap((load) => [load.kWhADay, load.hoursADay, load.days]),
      days.surplus,
      days.longestRun,
      modules!.summer,
      modules!.winter,
    ].filter((one) => one !== null);
    expect(all.length).toBeGreaterThan(300);
    for (const one of all) {
      expect(holds(one, one.value)).toBe(true);
      expect(one.low).toBeGreaterThanOrEqual(0);
    }
    // A surplus is a small difference of two large flows; half of it as an interval would still say nothing.
    expect(kWhADay.high - kWhADay.low).toBeLessThan(kWhADay.value);
    expect(kWhADay.high).toBeGreaterThan(kWhADay.value);
  });

  longTest('holds what the meters may be off by: a sun or a load read so much higher or lower', () => {
    for (const [quantity, factor] of [
      ['solar', 1.03],
      ['solar', 0.97],
      ['load', 1.02],
      ['load', 0.98],
    ] as const) {
      const other = surplusOf(
        prepare(prepared.system, prepared.sources, [{ kind: 'scale', source: null, quantity, factor }]),
        range,
      );
      expect(holds(surplus.kWhADay, other.kWhADay.value)).toBe(true);
      expect(holds(surplus.loads[2]!.kWhADay, other.loads[2]!.kWhADay.value)).toBe(true);
      expect(holds(surplus.days.surplus, other.days.surplus.value)).toBe(true);
    }
  });

  test('comes by day, more of it in summer', () => {
    for (const row of surplus.byHour) expect(row[1]).toEqual({ value: 0, low: 0, high: 0 });
    expect(surplus.modules!.summer.value).toBeGreaterThan(surplus.modules!.winter.value);
    expect(surplus.days.longestRun.value).toBeLessThanOrEqual(surplus.days.surplus.value);
  });

  test('has its summer where the home is: by latitude or clocks, else by the sun that was logged', () => {
    const of = (place: { latitude?: number; timeZone?: string }) =>
      surplusOf({ ...prepared, system: { ...prepared.system, ...place } }, range).modules!;
    expect(of({ latitude: 45 })).toEqual(surplus.modules);
    const turned = of({ latitude: -45 });
    expect(turned.summer.value).toBeLessThan(turned.winter.value);
    expect(of({ timeZone: 'Pacific/Auckland' })).toEqual(turned);
    const half = { fromMs: range.fromMs, toMs: range.fromMs + 100 * 86_400_000 };
    expect(surplusOf(prepared, half).modules).toBeNull();
  });

  // Homes that are simulated (invented, with known truth) and logged by meters with gains of their own, 95 of 100 within their class.
  longTest('holds what truly was left over, by the year and by the month', () => {
    const random = seededRandom(77);
    const normal = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
    const held = { year: 0, months: 0 };
    let [homes, months, width] = [0, 0, 0];
    for (let home = 0; home < 24; home++) {
      const { log, system } = simulatedSun({
        seed: 900 + home,
        days: 365,
        stepSeconds: 3600,
        coupling: 'ac',
        kWp: 4 + 4 * random(),
        ratingKW: 10,
        exportLimitKW: null,
        hasGrid: true,
        capacityKWh: 5 + 6 * random(),
      });
      const grid = log.columns.get('grid')!.values;
      const truth = soldADay(log, grid);
      const read = throughMeters(log, { solar: 1 + 0.01 * normal(), load: 1 + 0.01 * normal() });
      const described: System = { ...system, accuracy: { solar: 0.02, load: 0.02 } };
      const { kWhADay, byMonth } = surplusOf(prepare(described, [read]), rangeOf(read));
      if (holds(kWhADay, truth.year)) held.year++;
      truth.byMonth.forEach((kWh, month) => {
        if (holds(byMonth[month]!, kWh)) held.months++;
        months++;
      });
      width += (kWhADay.high - kWhADay.low) / 2 / kWhADay.value;
      homes++;
    }
    expect(held.year / homes).toBeGreaterThanOrEqual(0.9);
    expect(held.months / months).toBeGreaterThanOrEqual(0.9);
    expect(width / homes).toBeLessThan(0.08);
  });
});

/** A log whose meters of sun and load have gains; what they make of the grid is what the balance leaves. */
function throughMeters(log: SourceLog, gains: Readonly<Record<'solar' | 'load', number>>): SourceLog {
  const columns = new Map(log.columns);
  for (const quantity of ['solar', 'load'] as const) {
    const column = log.columns.get(quantity)!;
    columns.set(quantity, { ...column, values: column.values.map((watts) => watts * gains[quantity]) });
  }
  return { ...log, columns };
}

/** What was sold, kWh a day, over a log in UTC and in each of its months. */
function soldADay({ startMs, stepMs }: SourceLog, grid: Float64Array) {
  const sums = Array.from({ length: 12 }, () => ({ kWh: 0, h: 0 }));
  grid.forEach((watts, i) => {
    const sum = sums[new Date(startMs + i * stepMs).getUTCMonth()]!;
    sum.kWh += (Math.max(0, -watts) * stepMs) / 3.6e9;
    sum.h += stepMs / 3_600_000;
  });
  const whole = sums.reduce((all, { kWh, h }) => ({ kWh: all.kWh + kWh, h: all.h + h }));
  return { year: (24 * whole.kWh) / whole.h, byMonth: sums.map(({ kWh, h }) => (24 * kWh) / h) };
}
