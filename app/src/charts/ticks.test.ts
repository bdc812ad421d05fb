import { describe, expect, test } from '@jest/globals';
import { scaleLinear } from 'd3';
import fc from 'fast-check';
import { axisTicks } from './ticks.js';

const texts = (from: number, to: number, count: number, times?: number) =>
  axisTicks(scaleLinear([from, to], [0, 100]), count, times).map(({ text }) => text);

describe('marks on an axis', () => {
  test('have the decimals that tell neighbours apart, and no more', () => {
    expect(texts(0, 10, 5)).toEqual(['0', '2', '4', '6', '8', '10']);
    expect(texts(0.74, 0.76, 4, 100)).toEqual(['74.0', '74.5', '75.0', '75.5', '76.0']);
    expect(texts(0, 2000, 4, 0.001)).toEqual(['0.0', '0.5', '1.0', '1.5', '2.0']);
    expect(texts(-2, 2, 4)).toEqual(['−2', '−1', '0', '1', '2']);
  });

  test('are never written alike, wherever the axis begins and however long it is', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -1e5, max: 1e5, noNaN: true }),
        fc.double({ min: 1e-3, max: 1e6, noNaN: true }),
        fc.integer({ min: 2, max: 12 }),
        fc.constantFrom(1, 100, 0.001),
        (from, length, count, times) => {
          const all = texts(from, from + length, count, times);
          expect(new Set(all).size).toBe(all.length);
        },
      ),
    );
  });
});
