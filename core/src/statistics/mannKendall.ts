import { cumulativeStdNormalProbability } from 'simple-statistics';

/** Kendall's S over all pairs, and its variance where x and y have nothing to do with each other. */
export interface PairScore {
  readonly s: number;
  readonly variance: number;
  readonly hasTies: boolean;
}

/** Up to so many points without ties the distribution of S is counted out. */
const COUNTED_OUT = 40;

/**
 * Kendall's S: pairs that go the same way in x and y less those that go opposite ways; its variance counts ties in
 * either.
 * @source M. G. Kendall, "Rank Correlation Methods"; variance with ties as in Gilbert (1987), 16.4 (from memory)
 */
export function pairScore(x: Float64Array, y: Float64Array): PairScore {
  const n = x.length;
  let s = 0;
  for (let i = 0; i < n; i++)
    for (let j = i + 1; j < n; j++) s += Math.sign(x[j]! - x[i]!) * Math.sign(y[j]! - y[i]!);
  const [tx, ty] = [tiesOf(x), tiesOf(y)];
  const sum = (ties: readonly number[], f: (t: number) => number) =>
    ties.reduce((total, t) => total + f(t), 0);
  const cubic = (t: number) => t * (t - 1) * (2 * t + 5);
  const triple = (t: number) => t * (t - 1) * (t - 2);
  const pair = (t: number) => t * (t - 1);
  const variance =
    (cubic(n) - sum(tx, cubic) - sum(ty, cubic)) / 18 +
    (n > 2 ? (sum(tx, triple) * sum(ty, triple)) / (9 * triple(n)) : 0) +
    (n > 1 ? (sum(tx, pair) * sum(ty, pair)) / (2 * pair(n)) : 0);
  return { s, variance, hasTies: tx.length + ty.length > 0 };
}

/**
 * Two-sided p of the Mann–Kendall test: the chance of an S as far from zero when there is no trend. Counted out for up
 * to 40 points without ties, else by the normal distribution with a correction for continuity.
 * @source H. B. Mann, Econometrica 13 (1945); M. G. Kendall, "Rank Correlation Methods"
 */
export function mannKendall(x: Float64Array, y: Float64Array): number {
  const { s, variance, hasTies } = pairScore(x, y);
  if (s === 0 || variance <= 0) return 1;
  if (!hasTies && x.length <= COUNTED_OUT) return Math.min(1, 2 * chanceOfAtLeast(Math.abs(s), x.length));
  return Math.min(1, 2 * (1 - cumulativeStdNormalProbability((Math.abs(s) - 1) / Math.sqrt(variance))));
}

/** Sizes of groups of equal values, those of one left out. */
function tiesOf(values: Float64Array): number[] {
  const sorted = values.slice().sort();
  const ties: number[] = [];
  for (let i = 0; i < sorted.length;) {
    let j = i + 1;
    while (j < sorted.length && sorted[j] === sorted[i]) j++;
    if (j - i > 1) ties.push(j - i);
    i = j;
  }
  return ties;
}

/** Shares of the orders of n values by their inversions; each is counted out once. */
const sharesByCount = new Map<number, Float64Array>([[1, Float64Array.of(1)]]);

/** Orders counted by their inversions, one value after the other. */
function inversionShares(n: number): Float64Array {
  const known = sharesByCount.get(n);
  if (known) return known;
  const shares = new Float64Array((n * (n - 1)) / 2 + 1);
  inversionShares(n - 1).forEach((share, inversions) => {
    for (let more = 0; more < n; more++) shares[inversions + more]! += share / n;
  });
  sharesByCount.set(n, shares);
  return shares;
}

/** Chance of S ≥ s among all orders of n values. */
function chanceOfAtLeast(s: number, n: number): number {
  const pairs = (n * (n - 1)) / 2;
  const shares = inversionShares(n);
  let chance = 0;
  for (let inversions = 0; pairs - 2 * inversions >= s; inversions++) chance += shares[inversions]!;
  return chance;
}
