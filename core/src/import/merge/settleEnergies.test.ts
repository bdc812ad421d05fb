import { describe, expect, test } from '@jest/globals';
import { settleEnergies } from './settleEnergies.js';
import { longTest } from '../../testing/long.js';

const DAY_MS = 86_400_000;

describe('settling totals', () => {
  const lump = (fromDay: number, toDay: number, wh: number, source = 'a') => ({
    flow: 'load' as const,
    fromMs: fromDay * DAY_MS,
    toMs: toDay * DAY_MS,
    wh,
    source,
  });
  const grid = { startMs: 0, stepMs: 3_600_000, count: 0 };
  const total = (lumps: readonly { wh: number }[]) => lumps.reduce((sum, { wh }) => sum + wh, 0);

  test('a month holds what its days do not, whatever the order, cut by what overlaps it in part', () => {
    const days = Array.from({ length: 20 }, (_, d) => lump(d, d + 1, 1000));
    const all = [
      lump(0, 30, 45_000, 'month'),
      ...days,
      lump(25, 40, 9000, 'other'),
      lump(0, 365, 500_000, 'year'),
    ];
    for (const list of [all, [...all].reverse()]) {
      const { lumps } = settleEnergies(list, new Map(), grid);
      expect(total(lumps)).toBe(500_000);
      // By hand: 45 000 less 5 of the 15 days of the other, 3000, and less 20 days of 1000, over the days from 20 to 25.
      expect(lumps.find(({ source }) => source === 'month')).toMatchObject({
        wh: 22_000,
        toMs: 25 * DAY_MS,
        unknownS: 5 * 86_400,
      });
    }
    const { lumps } = settleEnergies([lump(0, 30, 45_000, 'month'), ...days], new Map(), grid);
    expect(lumps.find(({ source }) => source === 'month')).toMatchObject({
      wh: 25_000,
      unknownS: 10 * 86_400,
    });
  });

  test('a week that runs over the end of a month gives way to the months that hold it, and their ends lose nothing', () => {
    const months = [lump(0, 30, 30_000, 'months'), lump(30, 61, 62_000, 'months')];
    const weeks = Array.from({ length: 8 }, (_, w) => lump(4 + 7 * w, 11 + 7 * w, 7000, 'weeks'));
    const { lumps } = settleEnergies([...weeks, ...months], new Map(), grid);
    const within = (from: number, to: number) =>
      total(lumps.filter((one) => one.fromMs >= from * DAY_MS && one.toMs <= to * DAY_MS));
    expect(within(0, 30)).toBe(30_000);
    expect(within(30, 61)).toBe(62_000);
    expect(lumps.filter(({ source }) => source === 'weeks')).toHaveLength(7);
    expect(lumps.reduce((sum, { unknownS }) => sum + unknownS, 0)).toBe(61 * 86_400);
    // Of a source that its owner chose nothing gives way: the months are cut instead.
    const chosen = settleEnergies([...weeks, ...months], new Map(), grid, new Map([['load', 'weeks']]));
    expect(chosen.lumps.filter(({ source }) => source === 'weeks')).toHaveLength(8);
    expect(total(chosen.lumps)).toBeCloseTo(92_000, -4);
  });

  longTest('of ten years of two-hourly rows takes no longer than writing them down some times over', () => {
    const years = Array.from({ length: 43_830 }, (_, i) => lump(i / 12, (i + 1) / 12, 100));
    const least = (work: () => void) =>
      Math.min(
        ...Array.from({ length: 3 }, () => {
          const begin = performance.now();
          work();
          return performance.now() - begin;
        }),
      );
    const written = least(() => void JSON.stringify(years));
    const settled = least(() => {
      expect(settleEnergies(years, new Map(), grid).lumps).toHaveLength(43_830);
    });
    // A comparison of each with each would take many times as long, however fast the machine is.
    expect(settled / written).toBeLessThan(20);
  });
});
