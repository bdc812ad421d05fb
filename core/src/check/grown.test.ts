import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { appended, withRoom } from '../model/growable.js';
import type { Channel, Log } from '../model/log.js';
import type { Quantity } from '../model/quantity.js';
import { configurationsOf } from '../system/configuration.js';
import { simulatedStore, STORE_HOME } from '../testing/store.js';
import { checkLog } from './checkLog.js';
import { runs } from '../testing/long.js';

// A simulated home whose channels have been spoilt: what its checks find must not depend on how it came to be as long as it is.
const HOME = { ...STORE_HOME, timeZone: 'UTC', latitude: 45, longitude: 0 };
const CONFIGURATIONS = configurationsOf(HOME);
const whole = simulatedStore({
  ...{ seed: 8, days: 60, stepSeconds: 900, idleW: 30, efficiency: 0.92, socStep: 0.01 },
});
const QUANTITIES = ['solar', 'load', 'grid', 'battery', 'soc'] as const satisfies readonly Quantity[];

/** Cells of a channel that stand still, jump, or lie in the night. */
const fault = fc.record({
  quantity: fc.constantFrom(...QUANTITIES),
  at: fc.nat(whole.count - 1),
  cells: fc.oneof(fc.constant(1), fc.integer({ min: 20, max: 400 })),
  value: fc.constantFrom(0.5, 900, 2500, 65_535, NaN),
});

function logOf(columns: ReadonlyMap<Quantity, Float64Array>): Log {
  const count = columns.get('load')!.length;
  const channels = [...columns].map(([quantity, values]): [Quantity, Channel] => [
    quantity,
    {
      values,
      resolution: whole.columns.get(quantity)!.resolution,
      origin: 'logged',
      bridged: new Uint8Array(count),
      sources: ['a.csv'],
    },
  ]);
  return {
    ...{ zone: 'UTC', startMs: whole.startMs, stepMs: whole.stepMs, count },
    ...{ channels: new Map(channels), lumps: [], fills: [] },
  };
}

describe('the checks of a log that grew', () => {
  test('find what they find in one that was as long from the beginning', () => {
    const found = new Set<string>();
    fc.assert(
      fc.property(
        fc.array(fault, { minLength: 1, maxLength: 8 }),
        fc.integer({ min: whole.count - 300, max: whole.count - 1 }),
        (faults, cut) => {
          const spoilt = QUANTITIES.map((quantity) => {
            const values = whole.columns.get(quantity)!.values.slice();
            for (const { at, cells, value } of faults.filter((one) => one.quantity === quantity))
              values.fill(quantity === 'soc' ? Math.min(value, 0.7) : value, at, at + cells);
            return [quantity, values] as const;
          });
          const first = spoilt.map(([quantity, values]) => {
            const begun = withRoom(Float64Array, cut);
            begun.set(values.subarray(0, cut));
            return [quantity, begun] as const;
          });
          checkLog(logOf(new Map(first)), CONFIGURATIONS, HOME);
          const grown = first.map(([quantity, values], k) => {
            const all = appended(Float64Array, values, cut, spoilt[k]![1].subarray(cut));
            // It stands in the room behind the column, or nothing would be tested.
            expect(all.buffer === values.buffer).toBe(true);
            return [quantity, all] as const;
          });
          const anew = checkLog(logOf(new Map(spoilt)), CONFIGURATIONS, HOME);
          expect(checkLog(logOf(new Map(grown)), CONFIGURATIONS, HOME)).toEqual(anew);
          for (const { code } of anew) found.add(code);
        },
      ),
      runs(20, 60),
    );
    expect([...found]).toEqual(expect.arrayContaining(['spikes', 'stuck-values', 'solar-at-night']));
  });
});
