import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import TheilSenRegression from 'ml-regression-theil-sen';
import { testData } from '../testing/logs.js';
import { mannKendall, pairScore } from './mannKendall.js';
import { pairSlopes, theilSen } from './theilSen.js';

interface Published {
  readonly name: string;
  readonly x: number[];
  readonly y: number[];
  readonly slope: number;
  readonly n_slopes: number;
  readonly S: number;
  readonly p_two_sided_exact: number;
}

const published = testData('theil_sen_kendall.json') as Published[];
const named = (name: string) => published.find((one) => one.name.startsWith(name))!;
const arrays = ({ x, y }: { readonly x: number[]; readonly y: number[] }) =>
  [Float64Array.from(x), Float64Array.from(y)] as const;

describe('Theil–Sen', () => {
  test('gives the example of Sen (1968): slope 4, and his interval encloses that between the slopes', () => {
    const [x, y] = arrays(named('Sen'));
    expect(pairSlopes(x, y).length).toBe(21);
    const fit = theilSen(x, y, 1.811911)!;
    expect([fit.slope, fit.intercept]).toEqual([4, 6]);
    // Sen takes the observed slopes next outside, 26/7 and 35/8; those next inside are 15/4 and 46/11.
    expect(fit.low).toBeGreaterThanOrEqual(26 / 7);
    expect(fit.low).toBeLessThan(15 / 4);
    expect(fit.high).toBeGreaterThan(46 / 11);
    expect(fit.high).toBeLessThanOrEqual(35 / 8);
    expect(pairScore(x, y)).toEqual({ s: 21, variance: 133 / 3, hasTies: false });
  });

  test('gives the example of Gilbert (1987) with repeated times: 5.5, 90 % interval 2.57 to 9.27', () => {
    const [x, y] = arrays(named('Gilbert'));
    expect(pairSlopes(x, y).length).toBe(24);
    const fit = theilSen(x, y, 1.644854)!;
    expect(fit.slope).toBe(5.5);
    expect(fit.low).toBeCloseTo(2.57, 2);
    expect(fit.high).toBeCloseTo(9.27, 2);
    expect(pairScore(x, y).s).toBe(19);
    expect(pairScore(x, y).variance).toBeCloseTo(1220 / 21, 12);
  });

  const cases = testData('theil_sen.json') as {
    x: number[];
    y: number[];
    slope: number;
    low: number;
    high: number;
    s: number;
    exact: number | null;
  }[];
  test.each(cases.map((one) => [one.x.length, one] as const))(
    'agrees with scipy on %d points: slope, S, and an interval within a rank of its own',
    (_n, one) => {
      const [x, y] = arrays(one);
      const fit = theilSen(x, y)!;
      expect(fit.slope).toBeCloseTo(one.slope, 12);
      expect(pairScore(x, y).s).toBe(one.s);
      const slopes = pairSlopes(x, y);
      const rank = (value: number) => slopes.filter((slope) => slope < value).length;
      const tied = (value: number) => slopes.filter((slope) => Math.abs(slope - value) < 1e-12).length;
      expect(Math.abs(rank(fit.low) - rank(one.low))).toBeLessThanOrEqual(1 + tied(one.low));
      expect(Math.abs(rank(fit.high) - rank(one.high))).toBeLessThanOrEqual(1 + tied(one.high));
      if (one.exact !== null) expect(mannKendall(x, y)).toBeCloseTo(one.exact, 10);
    },
  );

  test('agrees with ml-regression-theil-sen where the number of slopes is odd', () => {
    const value = fc.integer({ min: -100, max: 100 });
    fc.assert(
      fc.property(fc.array(value, { minLength: 7, maxLength: 7 }), (y) => {
        const x = y.map((_, i) => i);
        const other = new TheilSenRegression(x, y);
        expect(theilSen(...arrays({ x, y }))!.slope).toBeCloseTo(other.slope, 12);
      }),
    );
  });

  test('is moved by a shift and a scale as a line is, and not by a wild value', () => {
    const x = Float64Array.from({ length: 21 }, (_, i) => i);
    const y = x.map((at) => 5 - 0.3 * at);
    y[7] = 1e6;
    const fit = theilSen(x, y)!;
    expect(fit.slope).toBeCloseTo(-0.3, 9);
    const moved = theilSen(
      x,
      y.map((value) => 2 * value + 7),
    )!;
    expect(moved.slope).toBeCloseTo(2 * fit.slope, 9);
    expect(moved.intercept).toBeCloseTo(2 * fit.intercept + 7, 6);
    expect(theilSen(Float64Array.of(1, 1), Float64Array.of(2, 3))).toBeNull();
  });
});

describe('Mann–Kendall', () => {
  test('gives the example of Hollander and Wolfe: S 16, two-sided p 0.11944', () => {
    const tuna = named('Hollander');
    const [x, y] = arrays(tuna);
    expect(pairScore(x, y).s).toBe(16);
    expect(mannKendall(x, y)).toBeCloseTo(tuna.p_two_sided_exact, 12);
  });

  test('the counted and the normal chance go together', () => {
    const x = Float64Array.from({ length: 40 }, (_, i) => i);
    const y = x.map((at) => Math.sin(at * 7.3) * 10 + 0.1 * at);
    // The value nearest to the first is made equal to it, so that the normal distribution is used.
    const tied = y.slice();
    const away = (i: number) => Math.abs(y[i]! - y[0]!);
    const nearest = [...x].slice(1).sort((a, b) => away(a) - away(b))[0]!;
    tied[nearest] = tied[0]!;
    expect(Math.abs(mannKendall(x, y) - mannKendall(x, tied))).toBeLessThan(0.02);
    expect(mannKendall(x, new Float64Array(40).fill(3))).toBe(1);
  });
});
