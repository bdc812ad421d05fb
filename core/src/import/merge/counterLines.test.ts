import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { analyse } from '../../report/report.js';
import { countersCsv } from '../../testing/counters.js';
import { read, valueOf } from '../../testing/logs.js';
import { simulatedStore, STORE_HOME } from '../../testing/store.js';
import type { Flow } from '../../model/quantity.js';
import { counterLines, energiesOf, settleLines, type CounterLines } from './counterLines.js';
import { longTest } from '../../testing/long.js';

const minutes = (...list: number[]) => Float64Array.from(list, (minute) => minute * 60_000);
const linesOf = (timeMs: Float64Array, risen: readonly number[], digitWh: number) =>
  counterLines(timeMs, Float64Array.from(risen), digitWh, [[0, timeMs.length]]);
const rounded = (values: Float64Array) => [...values].map((value) => Math.round(value * 100) / 100);

describe('lines between the ticks of a counter', () => {
  // By hand: a digit of 100 Wh ticks between 10 and 20 min and between 30 and 40 min, taken for 15 and 35 min. The first
  // 100 Wh run from 0 to 15 min, the second from 15 to 35 min.
  test('spread each digit over the time it took', () => {
    const lines = linesOf(minutes(0, 10, 20, 30, 40), [0, 0, 100, 0, 100], 100);
    expect(rounded(energiesOf([lines], 5))).toEqual([0, 66.67, 58.33, 50, 25]);
  });

  // By hand: four digits in the step from 10 to 20 min: the first is crossed at 11.25 min, the last at 18.75 min.
  test('leave a strong flow in the step that ticks it', () => {
    const lines = linesOf(minutes(0, 10, 20), [0, 0, 400], 100);
    expect(rounded(energiesOf([lines], 3))).toEqual([0, 88.89, 311.11]);
  });

  // By hand: ticks at 5, 15 min, then none for two hours, then at 145 and 155 min. The digit in between belongs half to the
  // 10 min after the one and half to the 10 min before the other.
  test('leave a pause empty', () => {
    const timeMs = Float64Array.from({ length: 17 }, (_, i) => i * 600_000);
    const risen = timeMs.map((_, i) => ([1, 2, 15, 16].includes(i) ? 100 : 0));
    const wh = energiesOf([counterLines(timeMs, risen, 100, [[0, 17]])], 17);
    expect(rounded(wh.subarray(2, 4))).toEqual([75, 25]);
    expect(rounded(wh.subarray(4, 14))).toEqual(Array(10).fill(0));
    expect(rounded(wh.subarray(14, 16))).toEqual([25, 75]);
  });

  test('hold what was counted, however it rises', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 9 }), { minLength: 2, maxLength: 150 }), (digits) => {
        const timeMs = Float64Array.from(digits, (_, i) => i * 300_000);
        const risen = digits.map((count, i) => (i === 0 ? 0 : count * 10));
        const wh = energiesOf([linesOf(timeMs, risen, 10)], digits.length);
        expect(wh.reduce((sum, one) => sum + one, 0)).toBeCloseTo(
          risen.reduce((sum, one) => sum + one, 0),
          6,
        );
        expect(wh.every((one) => one >= 0)).toBe(true);
      }),
    );
  });

  test('of charge and discharge do not overlap, and each still holds its ticks', () => {
    // Discharge ticks once an hour all day but for the digit that spans the hours of charging.
    const timeMs = Float64Array.from({ length: 25 }, (_, i) => i * 3_600_000);
    const charge = timeMs.map((_, i) => (i >= 10 && i <= 14 ? 1000 : 0));
    const discharge = timeMs.map((_, i) => ([1, 2, 3, 18, 19, 20].includes(i) ? 100 : 0));
    const flows = new Map<Flow, readonly CounterLines[]>([
      ['charge', [counterLines(timeMs, charge, 100, [[0, 25]])]],
      ['discharge', [counterLines(timeMs, discharge, 100, [[0, 25]])]],
    ]);
    settleLines(flows, 25);
    const [into, out] = [energiesOf(flows.get('charge')!, 25), energiesOf(flows.get('discharge')!, 25)];
    expect(out.slice(11, 15).every((wh) => wh < 0.1)).toBe(true);
    expect(into.reduce((sum, wh) => sum + wh, 0)).toBeCloseTo(5000, 6);
    expect(out.reduce((sum, wh) => sum + wh, 0)).toBeCloseTo(600, 6);
  });
});

describe('a home known by its counters', () => {
  // Invented data with known truth: the same home logged as powers.
  const log = simulatedStore({
    seed: 3,
    days: 120,
    stepSeconds: 300,
    idleW: 40,
    efficiency: 0.93,
    socStep: 0.01,
    gridCharged: true,
  });
  const truth = analyse(STORE_HOME, [log]);
  const keys = [
    ...['solar', 'load', 'import', 'export', 'charge', 'discharge', 'losses', 'closingError'],
    ...['solarToLoad', 'solarToStore', 'solarToExport', 'storeToLoad', 'storeToExport'].map(
      (flow) => `flow.${flow}`,
    ),
    ...['flow.gridToLoad', 'flow.gridToStore', 'selfConsumption', 'gridFreeDays'],
    ...['selfSufficiency.grid', 'selfSufficiency.supply', 'selfSufficiency.solar'],
  ].map((key) => `account.${key}`);

  longTest.each([0.01, 0.1, 1])('of %d kWh tells the account of the home logged as powers', async (digit) => {
    const report = analyse(STORE_HOME, [(await read(countersCsv(log, digit))).log]);
    for (const key of keys) {
      const figure = report.figures[key]!;
      const value = truth.figures[key]!.value!;
      expect([key, figure.low! <= value && value <= figure.high!]).toEqual([key, true]);
    }
    // A total is exact to a digit at each end, beside the gain of its meter.
    const load = report.figures['account.load']!;
    expect(Math.abs(load.value! - valueOf(truth, 'account.load'))).toBeLessThanOrEqual(digit + 2);
    expect(load.high! - load.value!).toBeLessThanOrEqual(0.02 * load.value! + digit + 0.01);
  });

  longTest('of 1 kWh gives no peak, no rate and no draw that its digit hides', async () => {
    const { figures } = analyse(STORE_HOME, [(await read(countersCsv(log, 1))).log]);
    for (const key of ['peak.load', 'wear.rate.max', 'losses.idle.battery', 'losses.idle.gridStandby']) {
      expect(figures[key]!.value).toBeNull();
      expect(figures[key]!.reason).toMatch(/digit|too coarse|too much alike/);
    }
  });
});
