import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { sampleCorrelation } from 'simple-statistics';
import { correlation } from './correlation.js';

const series = fc.array(fc.integer({ min: -500, max: 500 }), { minLength: 30, maxLength: 60 });

describe('the correlation of two series', () => {
  test('is that of simple-statistics, missing pairs left out', () => {
    fc.assert(
      fc.property(series, series, fc.nat(29), (x, y, hole) => {
        const n = Math.min(x.length, y.length);
        const [a, b] = [x.slice(0, n), y.slice(0, n)];
        fc.pre(new Set(a).size > 2 && new Set(b).size > 2);
        const holed = a.map((value, i) => (i === hole ? NaN : value));
        const without = (list: number[]) => list.filter((_, i) => i !== hole);
        fc.pre(new Set(without(a)).size > 1 && new Set(without(b)).size > 1);
        expect(correlation(a, b)).toBeCloseTo(sampleCorrelation(a, b), 9);
        expect(correlation(holed, b)).toBeCloseTo(sampleCorrelation(without(a), without(b)), 9);
      }),
    );
  });
  test('finds a series that comes later by its lag, forwards and back', () => {
    const x = Array.from({ length: 60 }, (_, i) => (31 * i * i) % 101);
    const later = [...Array.from({ length: 5 }, () => 0), ...x];
    expect(correlation(x, later, 5)).toBeCloseTo(1, 12);
    expect(correlation(later, x, -5)).toBeCloseTo(1, 12);
    expect(Math.abs(correlation(x, later, 0))).toBeLessThan(0.5);
  });
  test('is nothing of few pairs, or of a series that stands still', () => {
    expect(correlation([1, 2, 3], [1, 2, 3])).toBe(0);
    expect(
      correlation(
        Array<number>(40).fill(1),
        Array.from({ length: 40 }, (_, i) => i),
      ),
    ).toBe(0);
  });
});
