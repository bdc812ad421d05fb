import { expect, test } from '@jest/globals';
import { endMs } from '../model/log.js';
import { prepare } from '../passes/prepare.js';
import { report } from '../report/report.js';
import type { System } from '../system/schema.js';
import { simulatedStore, STORE_HOME } from '../testing/store.js';
import { wearView } from './wear.js';
import { longTest } from '../testing/long.js';

// A simulated home (with known truth) that loses 6 % a year, installed two years before its log begins.
const [built] = STORE_HOME.configurations!;
const log = simulatedStore({
  seed: 8,
  days: 900,
  stepSeconds: 1800,
  idleW: 25,
  efficiency: 0.92,
  socStep: 0.01,
  fadeAYear: 0.06,
});
const range = { fromMs: log.startMs, toMs: endMs(log) };
const home: System = { ...STORE_HOME, configurations: [{ ...built!, from: '2021-01-01T00:00:00Z' }] };

longTest('the drawn curve by the root of time reaches a level when its figure says', () => {
  const prepared = prepare(home, [log]);
  const { trend } = wearView(prepared, range);
  const { basis, value } = report(prepared, range).figures['capacity.endOfLife.80']!;
  const ahead = basis.yearsAheadByRoot as number;
  expect(value).not.toBeNull();
  const { fan, referenceKWh } = trend!;
  const [before, after] = [fan[Math.floor(ahead)]!.root!, fan[Math.floor(ahead) + 1]!.root!];
  expect(before / referenceKWh!).toBeGreaterThanOrEqual(0.8);
  expect(after / referenceKWh!).toBeLessThanOrEqual(0.8);
});

test('the warranty’s line in the chart is that of the terms that hold: without a grid those for use without one', () => {
  const lineOf = (grid?: 'none') => {
    const terms = { warranty: { endCapacity: 0.7 }, warrantyOffGrid: { endCapacity: 0.6 } };
    const system = {
      ...home,
      configurations: [{ ...home.configurations![0]!, ...terms, ...(grid ? { grid } : {}) }],
    };
    const { trend } = wearView(prepare(system, [log]), range);
    return trend!.warrantyKWh! / trend!.referenceKWh!;
  };
  expect(lineOf()).toBeCloseTo(0.7, 9);
  expect(lineOf('none')).toBeCloseTo(0.6, 9);
});
