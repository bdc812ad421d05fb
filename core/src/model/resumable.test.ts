import { describe, expect, test } from '@jest/globals';
import { appended, withRoom } from './growable.js';
import { resumable } from './resumable.js';

/** Adds up a column, and counts the cells it went through. */
function counting() {
  const resumed = resumable<number>();
  let cells = 0;
  return {
    sum: (values: Float64Array, by = '') =>
      resumed(values, by, (before) => {
        let sum = before?.result ?? 0;
        for (let i = before?.cells ?? 0; i < values.length; i++, cells++) sum += values[i]!;
        return sum;
      }),
    cells: () => cells,
  };
}

const ones = (length: number) => withRoom(Float64Array, length).fill(1);

describe('a scan that goes on where it stopped', () => {
  test('goes through the new cells of a column that grew, and through no old ones', () => {
    const { sum, cells } = counting();
    const column = ones(1000);
    expect(sum(column)).toBe(1000);
    expect(sum(appended(Float64Array, column, 1000, Float64Array.of(2, 2)))).toBe(1004);
    expect(cells()).toBe(1002);
  });

  test('begins anew where what it reads beside the column is another, and on another column', () => {
    const { sum, cells } = counting();
    const column = ones(10);
    expect([sum(column, 'a'), sum(column, 'b'), sum(ones(10), 'b')]).toEqual([10, 10, 10]);
    expect(cells()).toBe(30);
  });

  test('begins anew on the column as it was before it grew, and on a view within it', () => {
    const { sum } = counting();
    const column = ones(1000);
    expect(sum(appended(Float64Array, column, 1000, Float64Array.of(5)))).toBe(1005);
    expect(sum(column)).toBe(1000);
    expect(sum(column.subarray(990))).toBe(10);
  });
});
