import { median } from './median.js';
import { quantileOf } from './quantile.js';

/** A place at which the level of a series changes. */
export interface LevelShift {
  /** First value of the new level. */
  readonly at: number;
  readonly before: number;
  readonly after: number;
  /** Difference of the levels ÷ its standard error. */
  readonly strength: number;
}

/** Values beyond so many robust standard deviations from the middle are drawn in to there. */
const WILD = 6;

/**
 * The split of a series into two levels that explains most of it.
 * @param least values that each side must have
 * @returns null where the series is too short or does not vary
 * @source sup-F test for one break in the mean: D. W. K. Andrews, Econometrica 61 (1993), from memory
 */
export function levelShift(values: Float64Array, least: number): LevelShift | null {
  const n = values.length;
  if (n < 2 * least) return null;
  const tame = drawnIn(values);
  let [total, squares] = [0, 0];
  for (const value of tame) {
    total += value;
    squares += value * value;
  }
  let best: LevelShift | null = null;
  let left = 0;
  for (let k = 1; k <= n - least; k++) {
    left += tame[k - 1]!;
    if (k < least) continue;
    const [before, after] = [left / k, (total - left) / (n - k)];
    const rest = squares - k * before * before - (n - k) * after * after;
    const error = Math.sqrt((Math.max(0, rest) / (n - 2)) * (1 / k + 1 / (n - k)));
    if (error === 0) continue;
    const strength = Math.abs(after - before) / error;
    if (!best || strength > best.strength) best = { at: k, before, after, strength };
  }
  return best;
}

function drawnIn(values: Float64Array): Float64Array {
  const middle = median(values.slice());
  const spread =
    1.4826 *
    quantileOf(
      values.map((value) => Math.abs(value - middle)),
      0.5,
    );
  if (spread === 0) return values;
  const [low, high] = [middle - WILD * spread, middle + WILD * spread];
  return values.map((value) => Math.min(high, Math.max(low, value)));
}
