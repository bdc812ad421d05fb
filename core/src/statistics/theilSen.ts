import { median } from './median.js';
import { quantile } from './quantile.js';
import { pairScore } from './mannKendall.js';

/** A line through points by the median of the slopes between them. */
export interface MedianLine {
  readonly slope: number;
  /** Median of y − slope · x. */
  readonly intercept: number;
}

export interface TheilSen extends MedianLine {
  /** Rank interval of the slope at about 95 %, or what `z` asks for; it takes the points for independent. */
  readonly low: number;
  readonly high: number;
}

/** Slopes of every pair of points with different x, in no order. */
export function pairSlopes(x: Float64Array, y: Float64Array): Float64Array {
  const slopes = new Float64Array((x.length * (x.length - 1)) / 2);
  let count = 0;
  for (let i = 0; i < x.length; i++) {
    const [x0, y0] = [x[i]!, y[i]!];
    for (let j = i + 1; j < x.length; j++) {
      const run = x[j]! - x0;
      if (run !== 0) slopes[count++] = (y[j]! - y0) / run;
    }
  }
  return slopes.subarray(0, count);
}

/** Theil–Sen line of points without its interval; null where no two points differ in x. */
export function medianLine(x: Float64Array, y: Float64Array): MedianLine | null {
  const slopes = pairSlopes(x, y);
  return slopes.length === 0 ? null : lineBy(median(slopes), x, y);
}

function lineBy(slope: number, x: Float64Array, y: Float64Array): MedianLine {
  return { slope, intercept: median(y.map((value, i) => value - slope * x[i]!)) };
}

/**
 * Theil–Sen line of points with its rank interval, interpolated between the slopes. Time and memory grow with the square
 * of the number of points.
 * @param x any order, ties allowed
 * @param z quantile of the normal distribution, 1.96 for 95 %
 * @returns null where no two points differ in x
 * @source P. K. Sen, Journal of the American Statistical Association 63 (1968); interpolated ranks after R. O. Gilbert,
 *   "Statistical Methods for Environmental Pollution Monitoring" (1987), 16.4.2
 * @example theilSen(Float64Array.of(0, 1, 2), Float64Array.of(1, 3, 5))!.slope // 2
 */
export function theilSen(x: Float64Array, y: Float64Array, z = 1.959964): TheilSen | null {
  const slopes = pairSlopes(x, y).sort();
  const n = slopes.length;
  if (n === 0) return null;
  const spread = z * Math.sqrt(pairScore(x, y).variance);
  // The k-th smallest slope, k from 1, between two of them where k is no whole number.
  const ranked = (k: number) => quantile(slopes, Math.min(1, Math.max(0, (k - 1) / Math.max(1, n - 1))));
  return {
    ...lineBy(quantile(slopes, 0.5), x, y),
    low: ranked((n - spread) / 2),
    high: ranked((n + spread) / 2 + 1),
  };
}
