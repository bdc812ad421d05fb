import { median } from './median.js';
import { quantile } from './quantile.js';
import { seededRandom } from './random.js';

/** Coefficients of y = first·a + second·b. */
export interface Coefficients {
  readonly first: number;
  readonly second: number;
}

/** A robust fit with 95 % bootstrap intervals. */
export interface RobustFit extends Coefficients {
  readonly firstInterval: readonly [low: number, high: number];
  readonly secondInterval: readonly [low: number, high: number];
  /** Robust standard deviation of the residuals, in the measure of y. */
  readonly scale: number;
}

/** Residuals beyond so many standard deviations lose weight. */
const HUBER = 1.345;
const MOST_STEPS = 30;
/** Of more residuals than this a regular sample tells their spread. */
const JUDGED = 1000;
const RESAMPLES = 400;

/**
 * Weighted least squares of y = first·a + second·b, by modified Gram–Schmidt, which keeps the digits that the normal
 * equations lose.
 * @param weights one for each row, 1 when left out
 * @source A. Björck, "Numerical Methods for Least Squares Problems" (1996), chapter 2.4, from memory
 * @example leastSquares(ones, x, y) // intercept and slope of a line
 */
export function leastSquares(
  a: Float64Array,
  b: Float64Array,
  y: Float64Array,
  weights?: Float64Array,
): Coefficients {
  const root = (i: number) => (weights ? Math.sqrt(weights[i]!) : 1);
  let norm = 0;
  for (let i = 0; i < a.length; i++) norm += (root(i) * a[i]!) ** 2;
  norm = Math.sqrt(norm);
  if (norm === 0) return { first: 0, second: slopeAlone(b, y, weights) };
  let along = 0;
  let onFirst = 0;
  for (let i = 0; i < a.length; i++) {
    const unit = (root(i) * a[i]!) / norm;
    along += unit * root(i) * b[i]!;
    onFirst += unit * root(i) * y[i]!;
  }
  let [square, onSecond] = [0, 0];
  for (let i = 0; i < a.length; i++) {
    const unit = (root(i) * a[i]!) / norm;
    const rest = root(i) * b[i]! - along * unit;
    square += rest * rest;
    onSecond += rest * (root(i) * y[i]! - onFirst * unit);
  }
  const second = square > 0 ? onSecond / square : 0;
  return { first: (onFirst - along * second) / norm, second };
}

/** Least squares of y = slope·x. */
function slopeAlone(x: Float64Array, y: Float64Array, weights?: Float64Array): number {
  let [square, product] = [0, 0];
  for (let i = 0; i < x.length; i++) {
    const weight = weights ? weights[i]! : 1;
    square += weight * x[i]! * x[i]!;
    product += weight * x[i]! * y[i]!;
  }
  return square > 0 ? product / square : 0;
}

/** As {@link leastSquares} with neither coefficient below zero: the better of the two sides where the best lies outside. */
export function leastSquaresNotNegative(
  a: Float64Array,
  b: Float64Array,
  y: Float64Array,
  weights?: Float64Array,
): Coefficients {
  const free = leastSquares(a, b, y, weights);
  if (free.first >= 0 && free.second >= 0) return free;
  const sides = [
    { first: Math.max(0, slopeAlone(a, y, weights)), second: 0 },
    { first: 0, second: Math.max(0, slopeAlone(b, y, weights)) },
  ];
  const squares = sides.map(({ first, second }) => {
    let sum = 0;
    for (let i = 0; i < y.length; i++)
      sum += (weights ? weights[i]! : 1) * (y[i]! - first * a[i]! - second * b[i]!) ** 2;
    return sum;
  });
  return squares[0]! <= squares[1]! ? sides[0]! : sides[1]!;
}

/** A fit, what each row counts in it, and the robust standard deviation of what is left over, in the measure of y. */
interface Weighted extends Coefficients {
  readonly weights: Float64Array;
  readonly scale: number;
}

/**
 * Huber's M-estimate of y = first·a + second·b, neither below zero, by reweighted least squares.
 * @source P. J. Huber, "Robust Estimation of a Location Parameter", Annals of Mathematical Statistics 35 (1964)
 */
export function huberFit(a: Float64Array, b: Float64Array, y: Float64Array): Weighted {
  const weights = new Float64Array(y.length).fill(1);
  const sizes = new Float64Array(y.length);
  const stride = Math.ceil(y.length / JUDGED);
  let fit = leastSquaresNotNegative(a, b, y);
  let scale = 0;
  for (let step = 0; step < MOST_STEPS; step++) {
    for (let i = 0; i < y.length; i++) sizes[i] = Math.abs(y[i]! - fit.first * a[i]! - fit.second * b[i]!);
    const concluded = stride === 1 ? sizes.slice() : sizes.filter((_, i) => i % stride === 0);
    scale = 1.4826 * median(concluded);
    if (scale === 0) break;
    for (let i = 0; i < y.length; i++) weights[i] = Math.min(1, (HUBER * scale) / sizes[i]!);
    const next = leastSquaresNotNegative(a, b, y, weights);
    const moved = Math.abs(next.first - fit.first) + Math.abs(next.second - fit.second);
    fit = next;
    if (moved < 1e-6 * (Math.abs(fit.first) + Math.abs(fit.second))) break;
  }
  return { ...fit, weights, scale };
}

/**
 * A {@link huberFit} with intervals: percentiles of a bootstrap that draws blocks of rows with the weights of the fit.
 * @param block number of the block of each row, from 0 without a gap, rows of a block together
 * @source B. Efron, R. Tibshirani, "An Introduction to the Bootstrap" (1993), chapters 8 and 13, from memory
 */
export function robustFit(a: Float64Array, b: Float64Array, y: Float64Array, block: Int32Array): RobustFit {
  const { first, second, weights, scale } = huberFit(a, b, y);
  const drawn = resampled(a, b, y, weights, block);
  const interval = (values: Float64Array, value: number) => {
    const sorted = values.sort();
    return [Math.min(value, quantile(sorted, 0.025)), Math.max(value, quantile(sorted, 0.975))] as const;
  };
  return {
    first,
    second,
    firstInterval: interval(drawn.first, first),
    secondInterval: interval(drawn.second, second),
    scale,
  };
}

/** Fits of blocks drawn with replacement. Weights are those of the whole fit, so a block is its sums. */
function resampled(
  a: Float64Array,
  b: Float64Array,
  y: Float64Array,
  weights: Float64Array,
  block: Int32Array,
): { first: Float64Array; second: Float64Array } {
  const blocks = (block.at(-1) ?? -1) + 1;
  const sums = new Float64Array(blocks * 5);
  for (let i = 0; i < y.length; i++) {
    const [at, weight] = [block[i]! * 5, weights[i]!];
    sums[at]! += weight * a[i]! * a[i]!;
    sums[at + 1]! += weight * a[i]! * b[i]!;
    sums[at + 2]! += weight * b[i]! * b[i]!;
    sums[at + 3]! += weight * a[i]! * y[i]!;
    sums[at + 4]! += weight * b[i]! * y[i]!;
  }
  const random = seededRandom(0x1d1e);
  const first = new Float64Array(RESAMPLES);
  const second = new Float64Array(RESAMPLES);
  for (let r = 0; r < RESAMPLES; r++) {
    let [aa, ab, bb, ay, by] = [0, 0, 0, 0, 0];
    for (let k = 0; k < blocks; k++) {
      const at = Math.floor(random() * blocks) * 5;
      aa += sums[at]!;
      ab += sums[at + 1]!;
      bb += sums[at + 2]!;
      ay += sums[at + 3]!;
      by += sums[at + 4]!;
    }
    const determinant = aa * bb - ab * ab;
    const p = determinant > 0 ? (ay * bb - by * ab) / determinant : 0;
    const q = determinant > 0 ? (by * aa - ay * ab) / determinant : 0;
    // On the border the other coefficient carries everything.
    first[r] = q < 0 ? ay / aa : Math.max(0, p);
    second[r] = p < 0 ? by / bb : Math.max(0, q);
  }
  return { first, second };
}
