import { describe, expect, test } from '@jest/globals';
import { parseRun, runBudget, type ShortRun } from './shortRun.js';

// The drawdown of a battery of 13.8 kWh (invented): charge falls from 100 to 20 %.
const RUN: ShortRun = {
  hours: 24,
  socStart: 1,
  socEnd: 0.2,
  inKWh: 0,
  outKWh: 9.9,
  usableKWh: 13.8,
  idleW: [20, 24],
  conversion: [0.09, 0.11],
  socError: 0.02,
  counterError: 0.01,
};

describe('a day or two that do not add up', () => {
  test('idle draw and conversion explain what is missing, with its range', () => {
    const { missingKWh, explanations, restKWh, verdict } = runBudget(RUN);
    expect(missingKWh).toBeCloseTo(0.8 * 13.8 - 9.9, 9);
    const part = (key: string) => explanations.find((one) => one.key === key)!;
    expect([part('idle').low, part('idle').high]).toEqual([0.48, 0.576]);
    // Half of the conversion falls on what goes in, half on what comes out: 0.11 × 9.9 ÷ 2.
    expect(part('conversion').high).toBeCloseTo(0.5445, 9);
    expect(restKWh.low < 0 && restKWh.high > 0).toBe(true);
    expect(verdict).toMatch(/^Nothing is left/);
  });

  test('a module that has dropped out shows as a capacity below the nameplate', () => {
    const { restKWh, capacityKWh, explanations, verdict } = runBudget({ ...RUN, outKWh: 6 });
    expect(restKWh.low).toBeGreaterThan(0);
    // Two thirds of 13.8 kWh are 9.2.
    expect(capacityKWh!).toBeGreaterThan(8);
    expect(capacityKWh!).toBeLessThan(9.5);
    expect(explanations.find(({ key }) => key === 'capacity')!.high).toBeCloseTo(restKWh.value, 9);
    expect(verdict).toMatch(/held less than its nameplate/);
  });

  test('more than there can be is told as a reading that is off; a store that hardly moved tells no capacity', () => {
    expect(runBudget({ ...RUN, outKWh: 12 }).verdict).toMatch(/more than its draws allow/);
    expect(runBudget({ ...RUN, socEnd: 0.95, outKWh: 0.1 }).capacityKWh).toBeNull();
  });
});

describe('a short run', () => {
  test('gives the draw that closes the run first, by hand', () => {
    // 0.8 × 13.8 − 9.9 = 1.14 kWh missing, of it 0.10 × 9.9 ÷ 2 = 0.495 conversion: 0.645 kWh in 24 h are 26.9 W.
    const { ownW, isClosed } = runBudget(RUN);
    expect(ownW.value).toBeCloseTo(26.875, 9);
    expect(ownW.low).toBeLessThan(15);
    expect(isClosed).toBe(false);
  });

  const at = (hour: number) => new Date(Date.UTC(2024, 2, 1, hour)).toISOString();
  const run = (readings: readonly object[], more = {}) =>
    parseRun(JSON.stringify({ schema: 'long-tally/run@1', usableKWh: 10, readings, ...more }), 'run.json');

  test('of timed rows works out its hours and counters, and is closed by the recharge', () => {
    const closed = run([
      { at: at(18), soc: 1, chargeKWh: 812.4, dischargeKWh: 760.1 },
      { at: at(30), soc: 0.4, chargeKWh: 812.4, dischargeKWh: 765.3 },
      { at: at(42), soc: 1, chargeKWh: 819.4, dischargeKWh: 765.3 },
    ]);
    expect([closed.hours, closed.inKWh, closed.outKWh].map((one) => Number(one.toFixed(6)))).toEqual([
      24, 7, 5.2,
    ]);
    const budget = runBudget(closed);
    expect(budget.isClosed).toBe(true);
    // 1.8 kWh missing, 0.095 × 12.2 ÷ 2 = 0.58 conversion: 1.22 kWh in 24 h.
    expect(budget.ownW.value).toBeCloseTo(50.8, 0);
    const open = runBudget({ ...closed, socEnd: 0.4, inKWh: 0 });
    expect(budget.ownW.high - budget.ownW.low).toBeLessThan(open.ownW.high - open.ownW.low);
    expect(budget.parts).toHaveLength(2);
    expect(budget.parts.every(({ agrees }) => agrees)).toBe(true);
  });

  test('cut between its rows, shows the part that does not agree', () => {
    const { parts } = runBudget(
      run(
        [
          { at: at(0), soc: 0.9, dischargeKWh: 0 },
          { at: at(10), soc: 0.85, dischargeKWh: 0.3 },
          { at: at(20), soc: 0.35, dischargeKWh: 0.6 },
        ],
        { socError: 0.01 },
      ),
    );
    expect(parts.map(({ agrees }) => agrees)).toEqual([false, false]);
    expect(parts[1]!.ownW.value).toBeGreaterThan(400);
  });

  test('takes the usual draw for each of its units', () => {
    const idleW = (units: number) =>
      run(
        [
          { at: at(0), soc: 1 },
          { at: at(8), soc: 0.9 },
        ],
        { units },
      ).idleW;
    expect(idleW(3)).toEqual(idleW(1).map((watts) => 3 * watts));
  });

  test.each([
    [
      'a row before the one above it',
      [
        { at: at(8), soc: 1 },
        { at: at(1), soc: 0.9 },
      ],
      /later than the one before it/,
    ],
    [
      'a counter that falls',
      [
        { at: at(0), soc: 1, chargeKWh: 9 },
        { at: at(8), soc: 0.9, chargeKWh: 8 },
      ],
      /does not fall/,
    ],
    ['one row', [{ at: at(0), soc: 1 }], /readings/],
  ])('refuses %s', (_what, readings, words) => expect(() => run(readings)).toThrow(words));
});
