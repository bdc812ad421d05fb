import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { testData } from '../testing/logs.js';
import { rainflow } from './rainflow.js';

/** Whole numbers with only their reversals kept, as a turning point finder would. */
function reversals(values: readonly number[]): number[] {
  const points: number[] = [];
  for (const value of values) {
    const last = points.at(-1);
    if (value === last) continue;
    const before = points.at(-2);
    if (before !== undefined && Math.sign(value - last!) === Math.sign(last! - before)) points.pop();
    points.push(value);
  }
  return points;
}

/** Counts by range, halves together. */
function table(points: readonly number[]): Record<string, number> {
  const counts: Record<string, number> = {};
  for (const { range, count } of rainflow(points)) counts[range] = (counts[range] ?? 0) + count;
  return counts;
}

/** The four-point rule: an inner range between two that enclose it is a cycle; the residue counts half. Independent of rainflow. */
function fourPoint(points: readonly number[]): Record<string, number> {
  const counts: Record<string, number> = {};
  const add = (range: number, count: number) => (counts[range] = (counts[range] ?? 0) + count);
  const left = [...points];
  for (let k = 0; k + 3 < left.length;) {
    const [a, b, c, d] = left.slice(k, k + 4) as [number, number, number, number];
    const inner = Math.abs(c - b);
    if (inner <= Math.abs(b - a) && inner <= Math.abs(d - c)) {
      add(inner, 1);
      left.splice(k + 1, 2);
      k = Math.max(0, k - 2);
    } else k++;
  }
  for (let k = 1; k < left.length; k++) add(Math.abs(left[k]! - left[k - 1]!), 0.5);
  return counts;
}

describe('rainflow', () => {
  test('counts the example of ASTM E1049-85, 5.4.4, exactly, cycle for cycle', () => {
    const example = testData('rainflow_e1049.json') as {
      sequence: number[];
      cycles: { range: number; mean: number; count: number }[];
    };
    expect(table(example.sequence)).toEqual({ 3: 0.5, 4: 1.5, 6: 0.5, 8: 1, 9: 0.5 });
    expect(rainflow(example.sequence).map(({ range, mean, count }) => ({ range, mean, count }))).toEqual(
      example.cycles.map(({ range, mean, count }) => ({ range, mean, count })),
    );
  });

  test('counts two histories worked by hand', () => {
    // A battery's day with a cloud at noon: 20 → 80, back to 60, on to 95, down to 20. The cloud closes a loop of 20;
    // the rise of 75 and the fall of 75 stay open.
    expect(rainflow([20, 80, 60, 95, 20]).map(({ range, mean, count }) => [range, mean, count])).toEqual([
      [20, 70, 1],
      [75, 57.5, 0.5],
      [75, 57.5, 0.5],
    ]);
    // Two nights of unlike depth: 100 → 40 → 90 → 10 → 100. The recovery of 50 lies inside the fall from 100 to 10.
    expect(rainflow([100, 40, 90, 10, 100]).map(({ range, mean, count }) => [range, mean, count])).toEqual([
      [50, 65, 1],
      [90, 55, 0.5],
      [90, 55, 0.5],
    ]);
  });

  test('counts sixty sequences as an independent implementation did', () => {
    const { cases } = testData('rainflow_random.json') as {
      cases: { series: number[]; cycles: [range: number, mean: number, count: number][] }[];
    };
    expect(cases).toHaveLength(60);
    for (const { series, cycles } of cases) {
      const own = new Map<string, number>();
      for (const { range, mean, count } of rainflow(reversals(series)))
        own.set(`${range} ${mean}`, (own.get(`${range} ${mean}`) ?? 0) + count);
      expect(Object.fromEntries(own)).toEqual(
        Object.fromEntries(cycles.map(([range, mean, count]) => [`${range} ${mean}`, count])),
      );
    }
  });

  test('gives the counts of the four-point rule, and keeps the total variation, on random histories', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 60 }), { minLength: 2, maxLength: 60 }), (values) => {
        const points = reversals(values);
        const cycles = rainflow(points);
        expect(table(points)).toEqual(fourPoint(points));
        const variation = points.slice(1).reduce((sum, value, k) => sum + Math.abs(value - points[k]!), 0);
        expect(2 * cycles.reduce((sum, { range, count }) => sum + range * count, 0)).toBe(variation);
        expect(cycles.reduce((sum, { count }) => sum + count, 0)).toBe(Math.max(0, points.length - 1) / 2);
      }),
      { numRuns: 1500 },
    );
  });
});
