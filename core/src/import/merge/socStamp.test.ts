import { describe, expect, test } from '@jest/globals';
import { analyse } from '../../report/report.js';
import { csvOf, read, valueOf } from '../../testing/logs.js';
import { simulatedStore, STORE_HOME } from '../../testing/store.js';
import { longTest } from '../../testing/long.js';

// Invented data with known truth: the state of charge stands at the start of its interval, or one row late.
const rowsOf = (stepSeconds: number, socStep: number, isLate: boolean) => {
  const { columns, count } = simulatedStore({
    seed: 5,
    days: 60,
    stepSeconds,
    idleW: 40,
    efficiency: 0.93,
    socStep,
  });
  const of = (name: 'solar' | 'load' | 'grid' | 'battery' | 'soc', i: number) =>
    columns.get(name)!.values[i]!;
  return Array.from({ length: count - 1 }, (_, i) => ({
    solar_w: Math.round(of('solar', i)),
    load_w: Math.round(of('load', i)),
    grid_w: Math.round(of('grid', i)),
    battery_w: Math.round(of('battery', i)),
    soc_pct: Math.round(1000 * of('soc', isLate ? i + 1 : i)) / 10,
  }));
};
const START = '2023-01-01T00:00:00Z';

describe('a state of charge', () => {
  test.each([
    [300, 0.001],
    [300, 0.01],
    [900, 0.01],
  ])('in steps of %d s and digits of %d is told to be of the start or the end', async (step, digit) => {
    for (const isLate of [false, true]) {
      const { log } = await read(csvOf(rowsOf(step, digit, isLate), START, step));
      expect([isLate, log.findings.map(({ code }) => code)]).toEqual([isLate, isLate ? ['soc-at-end'] : []]);
    }
  });

  longTest('of the end is moved to where it belongs: the store is what it would be', async () => {
    const figures = async (isLate: boolean) =>
      analyse(STORE_HOME, [(await read(csvOf(rowsOf(900, 0.001, isLate), START, 900))).log]);
    const [start, end] = [await figures(false), await figures(true)];
    for (const key of ['capacity.now', 'losses.idle.battery', 'wear.depth.mean'])
      expect([key, Math.abs(valueOf(end, key) / valueOf(start, key) - 1) < 0.02]).toEqual([key, true]);
    const recalibrations = (report: typeof start) => report.figures['capacity.now']!.basis.recalibrations;
    expect(recalibrations(end)).toBe(recalibrations(start));
  });
});
