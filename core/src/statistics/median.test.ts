import { describe, expect, test } from '@jest/globals';
import { median as sorted, quantileSorted } from 'd3-array';
import fc from 'fast-check';
import { median } from './median.js';
import { quantile, quantileOf } from './quantile.js';

describe('the median by selection', () => {
  test('is that of the sorted numbers to the last digit, and that of d3-array', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ noNaN: true, min: -1e6, max: 1e6 }), { minLength: 1 }), (list) => {
        const found = median(Float64Array.from(list));
        // Zero has two signs in a sorted list.
        expect(found + 0).toBe(quantile(Float64Array.from(list).sort(), 0.5) + 0);
        expect(found).toBeCloseTo(sorted(list)!, 6);
      }),
    );
    expect(median(new Float64Array(0))).toBeNaN();
  });
});

describe('a quantile by selection', () => {
  test('is that of the sorted numbers to the last digit, and that of d3-array', () => {
    const numbers = fc.array(fc.double({ noNaN: true, min: -1e6, max: 1e6 }), { minLength: 1 });
    fc.assert(
      fc.property(numbers, fc.double({ noNaN: true, min: 0, max: 1 }), (list, p) => {
        const ordered = Float64Array.from(list).sort();
        const found = quantileOf(Float64Array.from(list), p);
        expect(found + 0).toBe(quantile(ordered, p) + 0);
        expect(found).toBeCloseTo(quantileSorted([...ordered], p)!, 6);
      }),
    );
  });
});
