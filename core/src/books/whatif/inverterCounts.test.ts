import { describe, expect, test } from '@jest/globals';
import { prepare, rangeDataOf } from '../../passes/prepare.js';
import { HAND_HOME, hourlyLog, rangeOf } from '../../testing/handHome.js';
import { inverterCounts } from './inverterCounts.js';

describe('how many inverters', () => {
  // 1000 hours of 1 kW, of which two are at 3 kW with 1.8 kW on the second leg, and one at 5 kW.
  const log = hourlyLog(42, (hour) => {
    const load = hour === 500 ? 5000 : hour === 100 || hour === 200 ? 3000 : 1000;
    return { load, leg1: load - 0.6 * load, leg2: 0.6 * load, solar: 0, grid: load, battery: 0, soc: 0.5 };
  });
  const data = rangeDataOf(prepare(HAND_HOME, [log]), rangeOf(log));

  test('carry the highest load, each leg and each start, counted by hand', () => {
    const pump = { name: 'pump', watts: 800, startFactor: 5, essential: false, canWait: false };
    const { counts, least, highestW, usualPeakW } = inverterCounts(data, [pump])!;
    expect(highestW).toBe(5000);
    expect(usualPeakW).toBeGreaterThanOrEqual(3000);
    expect(usualPeakW).toBeLessThan(3010);
    // Limits 2, 4 and 6 kW; of a leg 1.2, 2.4 and 3.6 kW; surges 4, 8 and 12 kW against 3 + 0.8 × 4 = 6.2 kW.
    expect(
      counts.map(({ hoursAbove, hoursAboveLeg, failingStarts, isEnough }) => [
        hoursAbove!.value,
        hoursAboveLeg!.value,
        failingStarts,
        isEnough,
      ]),
    ).toEqual([
      [3, 3, ['pump'], false],
      [1, 1, [], false],
      [0, 0, [], true],
    ]);
    expect(least).toBe(3);
  });

  test('count the hours that the class of the meter may hide', () => {
    // One inverter gives 2 kW; 1.99 kW may have been more, 2.01 kW less, at two per cent.
    const near = hourlyLog(42, (hour) => ({
      ...{ solar: 0, battery: 0, soc: 0.5 },
      load: hour === 100 ? 1990 : hour === 200 ? 2010 : hour === 300 ? 2500 : 1000,
    }));
    const classed = { ...HAND_HOME, accuracy: { load: 0.02 } };
    const { counts } = inverterCounts(rangeDataOf(prepare(classed, [near]), rangeOf(near)), [])!;
    expect(counts[0]!.hoursAbove).toEqual({ value: 2, low: 1, high: 3 });
  });

  test('of many installed are told around their number, not from one on', () => {
    const [configuration] = HAND_HOME.configurations!;
    const many = {
      ...HAND_HOME,
      configurations: [{ ...configuration!, inverter: { ...configuration!.inverter, units: 900 } }],
    };
    const { counts } = inverterCounts(rangeDataOf(prepare(many, [log]), rangeOf(log)), [])!;
    expect(counts.map(({ units }) => units)).toEqual([898, 899, 900, 901, 902]);
  });

  test('are not told without a described limit', () => {
    const [configuration] = HAND_HOME.configurations!;
    const bare = { ...HAND_HOME, configurations: [{ ...configuration!, inverter: {} }] };
    expect(inverterCounts(rangeDataOf(prepare(bare, [log]), rangeOf(log)), [])).toBeNull();
  });
});
