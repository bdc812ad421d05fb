import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { endMs, type SourceLog } from '../../model/log.js';
import { prepare, rangeDataOf } from '../../passes/prepare.js';
import { analyse } from '../../report/report.js';
import type { System } from '../../system/schema.js';
import { HAND_HOME, hourlyLog } from '../../testing/handHome.js';
import { longTest } from '../../testing/long.js';
import { simulatedSun, type SunTruth } from '../../testing/sun.js';

const FLOWS = [
  'solarToLoad',
  'solarToStore',
  'solarToExport',
  'storeToLoad',
  'gridToLoad',
  'gridToStore',
].map((flow) => `account.flow.${flow}`);
const EXACT = { solar: 0, load: 0, grid: 0, battery: 0, soc: 0, offsetW: 0 };
const figuresOf = (system: System, log: SourceLog) => analyse(system, [log]).figures;
const totalOf = (log: SourceLog) =>
  rangeDataOf(prepare(HAND_HOME, [log]), { fromMs: log.startMs, toMs: endMs(log) }).total;

describe('what a step hides of the flows', () => {
  // The sun shines in one hour, the load runs in the next, and the battery carries the one into the other.
  const turns = hourlyLog(4, (hour) => {
    const isSun = hour % 2 === 0;
    return {
      solar: isSun ? 2000 : 0,
      load: isSun ? 0 : 2000,
      grid: 0,
      battery: isSun ? -2000 : 2000,
      soc: 0.5,
    };
  });

  test('is told by steps twice as long, by hand', () => {
    const total = totalOf(turns);
    expect([total.solarToLoadBus, total.solarToStoreDoubled]).toEqual([0, -total.solarToLoadDoubled]);
    // Two hours together have 1 kW of sun and 1 kW of load. A day has 23 such neighbours, and a step is an hour.
    expect(total.solarToLoadDoubled).toBe(4 * 23 * 1000);
    expect(total.dischargeToLoadDoubled).toBe(4 * 23 * -1000);
    expect(total.gridToLoadDoubled).toBe(0);
  });

  test('lies on one side: sun that was stored may be more, sun that was used at once less', () => {
    const figures = figuresOf({ ...HAND_HOME, accuracy: EXACT }, turns);
    const [direct, stored] = [figures['account.flow.solarToLoad']!, figures['account.flow.solarToStore']!];
    expect(direct).toMatchObject({ value: 0, low: 0 });
    expect(stored.value).toBe(4 * 12 * 2);
    expect(stored.high! - stored.value!).toBeGreaterThan(4 * 23);
    expect(stored.value! - stored.low!).toBeLessThan(1);
    expect(stored.working.at(-1)).toMatchObject({
      ...{ label: 'what the step of the log hides', role: 'uncertainty', side: 'above' },
      value: stored.high! - stored.value!,
    });
  });

  test('is nothing of a home in which nothing changes within a day', () => {
    const steady = hourlyLog(3, () => ({ solar: 1000, load: 700, grid: -100, battery: -200, soc: 0.5 }));
    const total = totalOf(steady);
    for (const [key, value] of Object.entries(total).filter(([name]) => name.endsWith('Doubled')))
      expect([key, value]).toEqual([key, 0]);
  });

  test('leaves the sun used at once never less in longer steps, and every meter with as much as before', () => {
    const power = fc.integer({ min: -3000, max: 3000 });
    fc.assert(
      fc.property(fc.array(fc.tuple(power, power, power), { minLength: 24, maxLength: 24 }), (cells) => {
        const total = totalOf(
          hourlyLog(1, (hour) => {
            const [sun, use, battery] = cells[hour]!;
            const [solar, load] = [Math.max(0, sun), Math.abs(use)];
            return { solar, load, battery, grid: load - solar - battery, soc: 0.5 };
          }),
        );
        expect(total.solarToLoadDoubled).toBeGreaterThanOrEqual(-1e-6);
        // What reaches the load in the end is the load, whatever the step.
        const toLoad = total.solarToLoadDoubled + total.dischargeToLoadDoubled + total.gridToLoadDoubled;
        expect(toLoad).toBeCloseTo(0, 6);
      }),
      { numRuns: 100 },
    );
  });
});

// Simulated by the minute (invented, with known truth), logged by the quarter of an hour and by the hour.
function heldIn(
  homes: number,
  days: number,
): { held: number; all: number; missed: string[]; widths: number[] } {
  const tally = { held: 0, all: 0, missed: [] as string[], widths: [] as number[] };
  const tariffs: System['tariffs'] = [
    {
      from: '2020-01-01',
      import: [{ rate: 0.32 }, { rate: 0.14, start: '23:00', end: '07:00' }],
      export: [{ rate: 0.08 }],
    },
  ];
  const keys = [
    ...FLOWS,
    ...['grid', 'supply', 'solar'].map((school) => `account.selfSufficiency.${school}`),
    ...['bill', 'withoutSystem', 'withoutBattery', 'saving', 'saving.solarDirect', 'saving.solarStored'].map(
      (name) => `money.${name}`,
    ),
  ];
  for (let home = 0; home < homes; home++) {
    const truth: SunTruth = {
      ...{ seed: 300 + home, days, coupling: 'ac', ratingKW: 9, exportLimitKW: null, hasGrid: true },
      ...{ stepSeconds: 60, kWp: 2.5 + home, capacityKWh: 5 + 2 * home, reserve: 0.1, appliancesW: 3000 },
      ...(home % 3 === 2 ? { chargedByNightTo: 0.6 } : {}),
    };
    const { system, log } = simulatedSun(truth);
    const is = figuresOf({ ...system, tariffs, accuracy: EXACT }, log);
    for (const stepSeconds of [900, 3600]) {
      const coarse = simulatedSun({ ...truth, stepSeconds });
      const told = figuresOf({ ...system, tariffs }, coarse.log);
      for (const key of keys) {
        const { value, low, high } = told[key]!;
        const was = is[key]!.value!;
        tally.all++;
        tally.widths.push((high! - low!) / 2 / Math.max(1e-9, Math.abs(value!)));
        if (was >= low! - 1e-9 && was <= high! + 1e-9) tally.held++;
        else tally.missed.push(`home ${home} by ${stepSeconds} s, ${key}: ${was} not in ${low} to ${high}`);
      }
    }
  }
  tally.widths.sort((a, b) => a - b);
  return tally;
}

longTest('flows, self-sufficiency and what a home saved are held at coarse steps', () => {
  const { held, all, missed } = heldIn(1, 60);
  expect([held, missed]).toEqual([all, []]);
});

longTest('and of a year of several homes, within a tenth', () => {
  const { held, all, missed, widths } = heldIn(6, 365);
  expect({ missed, isHeld: held >= 0.95 * all }).toMatchObject({ isHeld: true });
  expect(widths[widths.length >> 1]).toBeLessThan(0.1);
});
