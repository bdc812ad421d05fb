/** Fewer pairs tell nothing. */
const LEAST_PAIRS = 20;

/**
 * Correlation of two series, pairs with a missing value left out.
 * @param lag by how many places y is taken later than x
 * @param most so many places of x are looked at
 * @returns from −1 to 1; 0 where there are too few pairs or one series does not vary
 * @source Pearson's product-moment correlation
 * @example correlation([1, 2, 3, …], [2, 4, 6, …]) // 1
 */
export function correlation(x: ArrayLike<number>, y: ArrayLike<number>, lag = 0, most = Infinity): number {
  let [n, sx, sy, sxx, syy, sxy] = [0, 0, 0, 0, 0, 0];
  const end = Math.min(x.length, y.length - lag, most);
  for (let i = Math.max(0, -lag); i < end; i++) {
    const [p, q] = [x[i]!, y[i + lag]!];
    if (p !== p || q !== q) continue;
    n++;
    sx += p;
    sy += q;
    sxx += p * p;
    syy += q * q;
    sxy += p * q;
  }
  const spread = (sxx - (sx * sx) / n) * (syy - (sy * sy) / n);
  return n > LEAST_PAIRS && spread > 0 ? (sxy - (sx * sy) / n) / Math.sqrt(spread) : 0;
}
