import { describe, expect, test } from '@jest/globals';
import type { PowerSeries } from '@long-tally/core';
import fc from 'fast-check';
import { drawnCells, faultRows, lastKnown, missingRuns } from './seriesPoints.js';

const values = fc
  .array(fc.option(fc.integer({ min: -9000, max: 9000 })), { minLength: 1, maxLength: 3000 })
  .map((list) => Float64Array.from(list, (watts) => watts ?? NaN));
const known = (list: Float64Array) => list.filter((value) => !Number.isNaN(value));

describe('the cells that are drawn of a course', () => {
  test('are all of them where there is room', () => {
    expect([...drawnCells(Float64Array.of(5, 1, NaN), 1)]).toEqual([0, 1, 2]);
  });

  test('are few, in order, and hold the ends and every extreme that the course has', () => {
    fc.assert(
      fc.property(values, fc.integer({ min: 10, max: 200 }), (course, width) => {
        const cells = drawnCells(course, width);
        expect(cells.length).toBeLessThanOrEqual(Math.max(4 * width, course.length));
        if (course.length > 4 * width) expect(cells.length).toBe(4 * width);
        expect([...cells]).toEqual([...cells].sort((a, b) => a - b));
        expect([cells[0], cells.at(-1)]).toEqual([0, course.length - 1]);
        const [all, shown] = [known(course), known(Float64Array.from(cells, (i) => course[i]!))];
        expect([Math.min(...shown), Math.max(...shown)]).toEqual([Math.min(...all), Math.max(...all)]);
      }),
    );
  });

  test('end at the last value that is known', () => {
    expect(lastKnown(Float64Array.of(1, 2, NaN))).toBe(2);
    expect(lastKnown(Float64Array.of(NaN))).toBe(0);
  });
});

const course = (more: Partial<PowerSeries>): PowerSeries => ({
  range: { fromMs: 0, toMs: 6000 },
  ...{ startMs: 0, stepMs: 1000, configuration: '', solar: null, load: null, grid: null, battery: null },
  ...{ soc: null, gridDown: new Uint8Array(6), carriedFromMs: null, peak: null, fills: [], faults: [] },
  limits: {
    ...{ continuousW: null, batteryOnlyW: null, islandW: null },
    ...{ perLegW: null, lowChargeW: null, lowCharge: 0.1 },
  },
  ...more,
});

describe('what is missing in a course', () => {
  test('is where any power that the log has elsewhere is not there', () => {
    const load = Float64Array.of(1, NaN, NaN, 1, 1, 1);
    const grid = Float64Array.of(1, 1, NaN, NaN, 1, 1);
    expect(missingRuns(course({ load, grid }))).toEqual([[1000, 4000]]);
  });

  test('is what the range has beyond the log, before and after', () => {
    const load = new Float64Array(2);
    expect(missingRuns(course({ load, startMs: 2000 }))).toEqual([
      [0, 2000],
      [4000, 6000],
    ]);
  });

  test('is nothing of a quantity that the log does not have', () => {
    expect(missingRuns(course({ load: new Float64Array(6) }))).toEqual([]);
  });
});

test('faults of one text share a row, and the first of each bears its text', () => {
  const fault = (text: string, fromMs: number) => ({ text, code: 1, fromMs, toMs: fromMs + 1 });
  const list = [fault('relay', 0), fault('fan', 1), fault('relay', 2), fault('hot', 3), fault('cold', 4)];
  expect(faultRows(list).map(({ text, row, isFirst }) => [text, row, isFirst])).toEqual([
    ['relay', 0, true],
    ['fan', 1, true],
    ['relay', 0, false],
    ['hot', 2, true],
    ['cold', 0, true],
  ]);
});
