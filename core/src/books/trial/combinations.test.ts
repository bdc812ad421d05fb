import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { System } from '../../system/schema.js';
import { combinationsOf, parseAppliances, type Appliance } from './combinations.js';

const homeOf = (inverter: Record<string, unknown>): System => ({
  schema: 'long-tally/system@1',
  name: 'Home',
  timeZone: 'UTC',
  configurations: [{ from: '2020-01-01T00:00:00Z', inverter }],
});
const plain = { startFactor: 1, essential: false, canWait: false };

describe('combinations of appliances', () => {
  test('3 kW a leg, 2 kW on it, then 1.6 kW more: over the leg’s limit though not over the total (common practice)', () => {
    const list: Appliance[] = [
      { ...plain, name: 'heater', watts: 2000, leg: 1 },
      { ...plain, name: 'oven', watts: 2000, leg: 2 },
      { ...plain, name: 'kettle', watts: 1600, leg: 1 },
    ];
    const [one] = combinationsOf(list, homeOf({ batteryOnlyKW: 6, legs: 2, perLegKW: 3 }), [1]);
    expect(one!.combinations).toEqual([
      { appliances: ['heater', 'kettle'], limit: 'leg', leg: 1, watts: 3600, limitW: 3000 },
    ]);
  });

  test('a start counts beside what runs, limits grow with the inverters, and free appliances go where the legs differ least', () => {
    const list: Appliance[] = [
      { ...plain, name: 'pump', watts: 1000, startFactor: 5 },
      { ...plain, name: 'heater', watts: 2000 },
      { ...plain, name: 'oven', watts: 3000 },
    ];
    const home = homeOf({ continuousKW: 5, surgeKW: 8, legs: 2, perLegKW: 4 });
    const [one, two] = combinationsOf(list, home, [1, 2]);
    expect(one!.combinations.filter(({ limit }) => limit === 'surge')).toEqual([
      { appliances: ['pump', 'heater', 'oven'], limit: 'surge', watts: 10_000, limitW: 8000 },
    ]);
    expect(two!.combinations).toEqual([]);
    expect(one!.moves.find(({ appliance }) => appliance === 'oven')!.imbalance).toBeCloseTo(0, 9);
  });

  test('the search finds what trying every set finds', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 1, maxLength: 9 }),
        fc.integer({ min: 5, max: 90 }),
        (powers, limit) => {
          const list = powers.map((watts, k): Appliance => ({
            ...plain,
            name: String(k),
            watts: watts * 100,
          }));
          const [found] = combinationsOf(list, homeOf({ continuousKW: limit / 10 }), [1]);
          const sum = (set: number) =>
            powers.reduce((total, watts, k) => total + ((set >> k) & 1 ? watts * 100 : 0), 0);
          const failing: string[] = [];
          for (let set = 1; set < 1 << powers.length; set++) {
            const isSmallest = powers.every(
              (_, k) => !((set >> k) & 1) || sum(set & ~(1 << k)) <= limit * 100,
            );
            const names = powers.flatMap((_, k) => ((set >> k) & 1 ? [k] : []));
            if (sum(set) > limit * 100 && isSmallest && names.length <= 8) failing.push(names.join());
          }
          const own = found!.combinations.map(({ appliances }) =>
            appliances
              .map(Number)
              .sort((a, b) => a - b)
              .join(),
          );
          if (failing.length < 200) expect(own.sort()).toEqual(failing.sort());
        },
      ),
      { numRuns: 200 },
    );
  });

  test('a list that is wrong is told with its key', () => {
    expect(() => parseAppliances('{"appliances":[{"name":"pump","watts":-5}]}', 'a.json')).toThrow(
      /key appliances\[0\]\.watts/,
    );
  });
});
