import { describe, expect, test } from '@jest/globals';
import { configurationsOf, type Configuration } from '../system/configuration.js';
import { STORE_HOME } from '../testing/store.js';
import { seededRandom } from '../statistics/random.js';
import type { FullWindow } from './fullWindows.js';
import { asleepWhenEmpty, idleSteps, idleStretches } from './idleFit.js';

const DAY_MS = 86_400_000;
const [CONFIGURATION] = configurationsOf(STORE_HOME) as [Configuration];

/** Windows of a day each with known draw and conversion; what they lose besides while they stand empty is given. */
function windows(emptyW: number, drawW: (day: number) => number = () => 60, lambda = 0.12): FullWindow[] {
  const random = seededRandom(7);
  return Array.from({ length: 80 }, (_, day) => {
    const dischargeWh = 2000 + 6000 * random();
    // The less sun, the longer it stands empty.
    const emptyH = Math.max(0, 14 - dischargeWh / 500 + random());
    const lossWh =
      drawW(day) * (24 - emptyH) + emptyW * emptyH + lambda * dischargeWh + 20 * (random() - 0.5);
    return {
      configuration: CONFIGURATION,
      fromMs: day * DAY_MS,
      toMs: (day + 1) * DAY_MS,
      chargeWh: dischargeWh + lossWh,
      dischargeWh,
      chargeOnS: 0,
      dischargeOnS: 0,
      emptyS: 3600 * emptyH,
    };
  });
}

const stretchOf = (all: readonly FullWindow[]) => idleStretches(all, [], asleepWhenEmpty(all), 0)[0];

// Simulated, with known truth.
describe('a battery that stands empty for hours of every day', () => {
  test('and feeds nothing then: that time is left out, and draw and conversion are found', () => {
    const stretch = stretchOf(windows(0));
    expect(Math.abs(stretch!.fit!.first - 60)).toBeLessThan(1);
    expect(Math.abs(stretch!.fit!.second - 0.12)).toBeLessThan(0.004);
    const empty = windows(0).reduce((sum, { emptyS }) => sum + emptyS / 3600, 0);
    expect(stretch!.emptyHours).toBeCloseTo(empty, 9);
    expect(stretch!.hours + stretch!.emptyHours).toBeCloseTo(80 * 24, 9);
  });

  test('and goes on feeding its converter: all the time counts', () => {
    const stretch = stretchOf(windows(60));
    expect(Math.abs(stretch!.fit!.first - 60)).toBeLessThan(1);
    expect(Math.abs(stretch!.fit!.second - 0.12)).toBeLessThan(0.004);
    expect(stretch!.emptyHours).toBe(0);
  });

  test('a step of the draw is found either way', () => {
    for (const emptyW of [0, 60]) {
      const all = windows(emptyW, (day) => (day < 40 ? 60 : 110));
      expect(idleSteps(all, asleepWhenEmpty(all)).map(({ atMs }) => Math.round(atMs / DAY_MS))).toEqual([40]);
    }
  });
});
