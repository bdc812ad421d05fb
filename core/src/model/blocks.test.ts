import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { BLOCK_CELLS, knownCells, largestSize, mostBelow, stretchesBeyond } from './blocks.js';
import { appended, withRoom } from './growable.js';
import { runs } from '../testing/long.js';

/** A column of some blocks: quiet, with a few cells that are missing, far above or far below. */
const column = fc
  .record({
    cells: fc.integer({ min: 0, max: 5 * BLOCK_CELLS + 7 }),
    rare: fc.array(
      fc.record({
        at: fc.nat({ max: 5 * BLOCK_CELLS + 6 }),
        value: fc.constantFrom(NaN, 900, -900, 5000, -5000),
      }),
      { maxLength: 12 },
    ),
  })
  .map(({ cells, rare }) => {
    const values = withRoom(Float64Array, cells).map((_, i) => ((i * 7919) % 200) - 100);
    for (const { at, value } of rare) if (at < cells) values[at] = value;
    return values;
  });

const known = (values: Float64Array) => values.filter((value) => !Number.isNaN(value));

describe('the blocks of a column', () => {
  test('leave out nothing that lies beyond the bounds, and no block more than needed', () => {
    fc.assert(
      fc.property(column, fc.constantFrom(100, 899, 900, 4999), (values, bound) => {
        const stretches = stretchesBeyond(values, -bound, bound);
        const isWithin = (i: number) => stretches.some(({ from, to }) => i >= from && i < to);
        const isRare = (i: number) => Math.abs(values[i]!) > bound;
        values.forEach((_, i) => {
          if (isRare(i)) expect(isWithin(i)).toBe(true);
        });
        const blocks = new Set(
          [...values.keys()].filter((i) => isRare(i)).map((i) => Math.floor(i / BLOCK_CELLS)),
        );
        const covered = stretches.reduce(
          (sum, { from, to }) => sum + Math.ceil(to / BLOCK_CELLS) - from / BLOCK_CELLS,
          0,
        );
        expect(covered).toBe(blocks.size);
        stretches.slice(1).forEach(({ from }, i) => expect(from).toBeGreaterThan(stretches[i]!.to));
      }),
    );
  });

  test('count and measure what the cells themselves do', () => {
    fc.assert(
      fc.property(column, (values) => {
        expect(knownCells(values)).toBe(known(values).length);
        expect(largestSize(values)).toBe(
          known(values).reduce((most, one) => Math.max(most, Math.abs(one)), 0),
        );
        for (const limit of [50, 1000, 1e5]) {
          const below = known(values).filter((value) => value < limit);
          expect(mostBelow(values, limit)).toBe(below.reduce((most, one) => Math.max(most, one), 0));
        }
      }),
    );
  });

  test('of a column that grew are those of one that was long from the beginning, and the shorter one keeps its own', () => {
    // Long enough that the room behind it holds some blocks.
    const quiet = new Float64Array(40 * BLOCK_CELLS);
    fc.assert(
      fc.property(column, column, fc.nat({ max: 2 * BLOCK_CELLS }), (values, more, overlap) => {
        const before = withRoom(Float64Array, quiet.length + values.length);
        before.set(values, quiet.length);
        const kept = before.slice();
        knownCells(before);
        const cut = Math.max(0, before.length - overlap);
        const after = Float64Array.from([...before.subarray(cut), ...more]);
        const grown = appended(Float64Array, before, cut, after);
        const anew = Float64Array.from([...kept.subarray(0, cut), ...after]);
        for (const [one, other] of [
          [grown, anew],
          [before, kept],
        ] as const) {
          expect(knownCells(one)).toBe(knownCells(other));
          expect(stretchesBeyond(one, -899, 899)).toEqual(stretchesBeyond(other, -899, 899));
        }
      }),
      runs(30, 100),
    );
  });

  test('of a view that begins within a buffer are its own', () => {
    const values = Float64Array.from({ length: 3 * BLOCK_CELLS }, (_, i) => i);
    expect(knownCells(values)).toBe(3 * BLOCK_CELLS);
    expect(largestSize(values.subarray(10, 20))).toBe(19);
    expect(stretchesBeyond(values.subarray(BLOCK_CELLS), 0, 2 * BLOCK_CELLS)).toEqual([
      { from: BLOCK_CELLS, to: 2 * BLOCK_CELLS },
    ]);
  });
});
