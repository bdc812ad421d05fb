import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { analyse } from '../report/report.js';
import { seededRandom } from '../statistics/random.js';
import { HAND_HOME, hourlyLog } from '../testing/handHome.js';
import { prepare } from './prepare.js';

const HOURS = 24;
/** Charge over steps of two hours of which the first begins at an hour, Wh; what stands alone at an end stays as it is. */
function chargeByTwos(watts: readonly number[], from: number): number {
  let charge = from === 1 ? Math.max(0, -watts[0]!) : 0;
  for (let i = from; i < watts.length; i += 2) charge += Math.max(0, -(watts[i]! + (watts[i + 1] ?? 0)));
  return charge;
}

describe('what cancels within a step', () => {
  test('of a doubled step is what charge and discharge lose by it, in the mean of both ways to double it', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: -3000, max: 3000 }), { minLength: HOURS, maxLength: HOURS }),
        (watts) => {
          const { entries } = prepare(HAND_HOME, [
            hourlyLog(1, (hour) => ({ battery: watts[hour]!, soc: 0.5 })),
          ]);
          const sum = (of: 'batteryCancels' | 'chargeWh') =>
            entries.reduce((total, { sums }) => total + sums[of], 0);
          const lost = [0, 1].map((from) => sum('chargeWh') - chargeByTwos(watts, from));
          expect(sum('batteryCancels')).toBeCloseTo((lost[0]! + lost[1]!) / 2, 6);
        },
      ),
      { numRuns: 50 },
    );
  });

  // Simulated: a home whose sun and load change by the minute, logged by the hour.
  test('widens charge, discharge, throughput and cycles upwards, and holds what the minutes added up to', () => {
    const random = seededRandom(3);
    let [charge, discharge, load, cloud] = [0, 0, 300, 1];
    const log = hourlyLog(60, (hour) => {
      const sun = Math.max(0, 4000 * Math.sin((Math.PI * ((hour % 24) - 6)) / 12));
      let mean = 0;
      for (let minute = 0; minute < 60; minute++) {
        // A cloud or an oven comes and goes within the hour.
        if (random() < 0.05) load = random() < 0.3 ? 2500 : 300;
        if (random() < 0.05) cloud = 0.3 + 0.7 * random();
        const watts = load - sun * cloud;
        if (watts < 0) charge -= watts / 60_000;
        else discharge += watts / 60_000;
        mean += watts / 60;
      }
      return { battery: mean, soc: 0.5 };
    });
    const { figures } = analyse(HAND_HOME, [log]);
    const [took, gave, through] = ['account.charge', 'account.discharge', 'wear.throughput'].map(
      (key) => figures[key]!,
    ) as [(typeof figures)[string], (typeof figures)[string], (typeof figures)[string]];
    expect(took.value!).toBeLessThan(charge);
    for (const [figure, truth] of [
      [took, charge],
      [gave, discharge],
      [through, discharge],
    ] as const) {
      expect(figure.high! - figure.value!).toBeGreaterThan(figure.value! - figure.low!);
      expect(figure.working.map(({ label }) => label)).toContain('cancelled within a step, to one side only');
      expect([truth >= figure.low!, truth <= figure.high!]).toEqual([true, true]);
    }
  });

  test('is nothing where a flow keeps its direction', () => {
    const { figures } = analyse(HAND_HOME, [hourlyLog(3, () => ({ battery: 500, soc: 0.5 }))]);
    const { value, low, high, working } = figures['account.discharge']!;
    expect(high! - value!).toBeCloseTo(value! - low!, 9);
    expect(working.some(({ label }) => label.includes('cancel'))).toBe(false);
  });
});
