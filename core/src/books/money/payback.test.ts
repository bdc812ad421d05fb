import { describe, expect, test } from '@jest/globals';
import type { Figure } from '../../model/figure.js';
import type { RangeData } from '../../passes/rangeData.js';
import { discountedYears, paybackFan } from './payback.js';

test('discounted by a textbook’s annuity: 1 000 a year at 5 % for 10 years is worth 7 721.73 (from memory)', () => {
  expect(discountedYears(7721.73, 1000, 0.05, 0)).toBeCloseTo(10, 4);
  expect(discountedYears(5000, 1000, 0, 0)).toBeCloseTo(5, 9);
  // Prices that rise as later savings are discounted: each year's saving is worth the first one's.
  expect(discountedYears(5000, 1030, 0.03, 0.03)).toBeCloseTo(5, 9);
  expect(discountedYears(100_000, 1000, 0.05, 0)).toBe(Infinity);
});

describe('the balance of a system over the years', () => {
  const START = Date.UTC(2022, 0, 1);
  const dataOf = (price: object) =>
    ({
      range: { fromMs: START, toMs: Date.UTC(2024, 0, 1) },
      log: { zone: 'UTC' },
      configurations: [{ fromMs: START, installedMs: START, described: { price } }],
    }) as unknown as RangeData;
  const told = (value: number, low: number, high: number) =>
    ({ value, low, high, unit: 'currency' }) as unknown as Figure;

  test('10 000 paid and 1 380 a year are 7.2 years (common practice, no published source)', () => {
    const fan = paybackFan(dataOf({ paid: 10_000 }), {
      'money.savingPerYear': told(1380, 1200, 1500),
      'money.paidBackShare': told(0.27, 0.25, 0.29),
    })!;
    const after = fan.points.findIndex(({ value }) => value >= 0);
    const [a, b] = [fan.points[after - 1]!, fan.points[after]!];
    expect(after - 1 + -a.value / (b.value - a.value)).toBeCloseTo(7.2, 1);
    expect(fan.points[0]).toEqual({ atMs: START, value: -10_000, low: -10_000, high: -10_000 });
    // Even the least saving pays it back within the drawing.
    expect(fan.points.at(-1)!.low).toBeGreaterThanOrEqual(0);
    expect(fan.today).toEqual({ atMs: Date.UTC(2024, 0, 1), value: -7300, low: -7500, high: -7100 });
  });

  test('ends after forty years where upkeep takes what is saved, and is nothing without a price', () => {
    const figures = {
      'money.savingPerYear': told(100, 50, 150),
      'money.paidBackShare': told(0.01, 0, 0.02),
    };
    const fan = paybackFan(dataOf({ paid: 8000, incentives: 500, upkeepPerYear: 120 }), figures)!;
    expect(fan.points).toHaveLength(41);
    expect(fan.cost).toBe(7500);
    expect(fan.points.at(-1)!.value).toBeLessThan(-7500);
    expect(paybackFan(dataOf({}), figures)).toBeNull();
  });
});
