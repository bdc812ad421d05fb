import { ranked } from './median.js';

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

/**
 * As {@link quantile}, of numbers in any order: where only one quantile is asked for they need not all be sorted.
 * @param values at least one and no NaN; they are put in another order
 */
export function quantileOf(values: Float64Array, p: number): number {
  const at = (values.length - 1) * p;
  const below = Math.floor(at);
  const low = ranked(values, below);
  let high = Infinity;
  for (let i = below + 1; i < values.length; i++) if (values[i]! < high) high = values[i]!;
  return high === Infinity ? low : low + (high - low) * (at - below);
}
