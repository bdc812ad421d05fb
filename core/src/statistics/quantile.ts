/**
 * Quantile of sorted numbers, linear between order statistics.
 * @param sorted ascending, at least one
 * @param p share from 0 to 1
 * @source Hyndman & Fan, "Sample quantiles in statistical packages", The American Statistician 50 (1996), type 7
 * @example quantile(Float64Array.of(1, 2, 3, 4), 0.5) // 2.5
 */
export function quantile(sorted: Float64Array, p: number): number {
  const at = (sorted.length - 1) * p;
  const below = Math.floor(at);
  const low = sorted[below]!;
  const high = sorted[Math.min(below + 1, sorted.length - 1)]!;
  return low + (high - low) * (at - below);
}
