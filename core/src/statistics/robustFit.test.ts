import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { testData, testTable } from '../testing/logs.js';
import { bootstrapRatio } from './bootstrapRatio.js';
import { levelShift } from './levelShift.js';
import { leastSquares, leastSquaresNotNegative, robustFit } from './robustFit.js';
import { seededRandom } from './random.js';

// NIST Statistical Reference Datasets, linear regression: Norris and NoInt1, certified values.
const certified = testData('nist_certified.json') as Record<
  string,
  { parameters: Record<string, { estimate: string }> }
>;
const estimate = (set: string, name: string) => Number(certified[set]!.parameters[name]!.estimate);

describe('least squares', () => {
  test('gives the certified line of NIST Norris to eleven digits', () => {
    const [y, x] = testTable('nist_norris.csv') as [Float64Array, Float64Array];
    const { first, second } = leastSquares(new Float64Array(x.length).fill(1), x, y);
    expect(Math.abs(first / estimate('Norris', 'B0') - 1)).toBeLessThan(1e-11);
    expect(Math.abs(second / estimate('Norris', 'B1') - 1)).toBeLessThan(1e-11);
    const weighted = leastSquares(
      new Float64Array(x.length).fill(1),
      x,
      y,
      new Float64Array(x.length).fill(7),
    );
    expect(Math.abs(weighted.second / second - 1)).toBeLessThan(1e-12);
  });

  test('gives the certified slope of NIST NoInt1, a line through the origin', () => {
    const [y, x] = testTable('nist_noint1.csv') as [Float64Array, Float64Array];
    const { second } = leastSquares(new Float64Array(x.length), x, y);
    expect(Math.abs(second / estimate('NoInt1', 'B1') - 1)).toBeLessThan(1e-13);
  });

  test('without negative coefficients is never better than free, and never worse than either side alone', () => {
    // Hundredths: squares of numbers next to nothing are nothing, which no line can help.
    const number = fc.integer({ min: -5000, max: 5000 }).map((hundredths) => hundredths / 100);
    fc.assert(
      fc.property(fc.array(fc.tuple(number, number, number), { minLength: 3, maxLength: 20 }), (rows) => {
        const [a, b, y] = [0, 1, 2].map((k) => Float64Array.from(rows, (row) => row[k]!)) as [
          Float64Array,
          Float64Array,
          Float64Array,
        ];
        const rest = (p: number, q: number) =>
          rows.reduce((sum, [u, v, w]) => sum + (w - p * u - q * v) ** 2, 0);
        const { first, second } = leastSquaresNotNegative(a, b, y);
        expect(first >= 0 && second >= 0).toBe(true);
        for (const [p, q] of [
          [0, 0],
          [1, 0],
          [0, 1],
          [first + 0.5, second],
          [first, second + 0.5],
        ] as const)
          expect(rest(first, second)).toBeLessThanOrEqual(rest(p, q) + 1e-6 * (1 + rest(p, q)));
      }),
      { numRuns: 200 },
    );
  });
});

describe('the robust fit', () => {
  // A simulation that tests the method against known truth.
  const sample = (n: number, wild: number, seed = 3) => {
    const random = seededRandom(seed);
    const a = Float64Array.from({ length: n }, () => 20 + 10 * random());
    const b = Float64Array.from({ length: n }, () => 2000 + 6000 * random());
    const y = a.map((hours, i) => 30 * hours + 0.1 * b[i]! + 80 * (random() - 0.5) + (i < wild ? 5000 : 0));
    return { a, b, y, block: Int32Array.from({ length: n }, (_, i) => i) };
  };

  test('finds the truth though one row in ten is wild, where plain least squares does not', () => {
    const { a, b, y, block } = sample(200, 20);
    const fit = robustFit(a, b, y, block);
    expect(Math.abs(fit.first - 30)).toBeLessThan(2);
    expect(Math.abs(fit.second - 0.1)).toBeLessThan(0.01);
    expect(Math.abs(leastSquares(a, b, y).first - 30)).toBeGreaterThan(4);
  });

  test('its bootstrap interval holds the truth about as often as it says', () => {
    let held = 0;
    for (let seed = 1; seed <= 100; seed++) {
      const { a, b, y, block } = sample(60, 0, seed);
      const { firstInterval } = robustFit(a, b, y, block);
      if (firstInterval[0] <= 30 && firstInterval[1] >= 30) held++;
    }
    expect(held).toBeGreaterThanOrEqual(88);
    expect(held).toBeLessThanOrEqual(100);
  });

  test('an exact relation is found exactly', () => {
    const { a, b, block } = sample(40, 0);
    const fit = robustFit(
      a,
      b,
      a.map((hours, i) => 25 * hours + 0.08 * b[i]!),
      block,
    );
    expect(fit.first).toBeCloseTo(25, 8);
    expect(fit.second).toBeCloseTo(0.08, 10);
  });
});

describe('the bootstrap of a ratio', () => {
  test('gives the percentile interval that scipy gives, as near as 400 draws can', () => {
    // scipy.stats.bootstrap, 200 000 resamples: core/test-data/make_bootstrap.py.
    const { discharge, charge, low, high } = testData('bootstrap_ratio.json') as {
      discharge: number[];
      charge: number[];
      low: number;
      high: number;
    };
    const own = bootstrapRatio(Float64Array.from(discharge), Float64Array.from(charge));
    expect(Math.abs(own[0] - low)).toBeLessThan(0.15 * (high - low));
    expect(Math.abs(own[1] - high)).toBeLessThan(0.15 * (high - low));
  });
});

describe('a shift of level', () => {
  test('is found in the flow of the Nile after 1898, with the means that strucchange gives', () => {
    // Published break: Cobb 1978; values by R strucchange 1.5-3 (see changepoint_nile.json).
    const [, flow] = testTable('nile.csv') as [Float64Array, Float64Array];
    const expected = testData('changepoint_nile.json') as Record<string, number>;
    const shift = levelShift(flow, 10)!;
    expect(shift.at).toBe(expected['break_after_index_1based']);
    expect(shift.before).toBeCloseTo(expected['mean_before']!, 6);
    expect(shift.after).toBeCloseTo(expected['mean_after']!, 6);
  });

  test('needs values on both sides', () => {
    expect(levelShift(Float64Array.of(1, 2, 3), 2)).toBeNull();
    expect(levelShift(new Float64Array(30).fill(4), 5)).toBeNull();
  });
});
