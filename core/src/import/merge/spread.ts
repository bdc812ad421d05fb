import type { Grid } from '../../model/log.js';
import type { Between } from '../../model/quantity.js';

/** Values in time order, each from its instant on for its own duration. */
export interface Rows {
  readonly timeMs: Float64Array;
  readonly lastsMs: Float64Array;
}

/**
 * Means of rows on a grid they do not fit: each row's energy is spread over the cells it overlaps, so that the total
 * stays what it was. A cell less than half covered is missing.
 * @param values means in any unit, NaN where missing
 */
export function spreadMeans(rows: Rows, values: Float64Array, grid: Grid): Float64Array {
  const { startMs, stepMs, count } = grid;
  const sums = new Float64Array(count);
  const covered = new Float64Array(count);
  for (let i = 0; i < values.length; i++) {
    const value = values[i]!;
    if (Number.isNaN(value)) continue;
    const from = rows.timeMs[i]! - startMs;
    const to = from + rows.lastsMs[i]!;
    for (let c = Math.max(0, Math.floor(from / stepMs)); c < count && c * stepMs < to; c++) {
      const overlap = Math.min(to, (c + 1) * stepMs) - Math.max(from, c * stepMs);
      sums[c]! += value * overlap;
      covered[c]! += overlap;
    }
  }
  for (let c = 0; c < count; c++) sums[c] = covered[c]! * 2 >= stepMs ? sums[c]! / covered[c]! : NaN;
  return sums;
}

/**
 * Instant values at the start of each cell, between neighbours no more than three usual steps apart.
 * @param values samples, NaN where missing
 * @param between how they go on between two neighbours
 */
export function sampleAtStarts(
  rows: Rows,
  values: Float64Array,
  grid: Grid,
  between: Between = 'line',
): Float64Array {
  const { startMs, stepMs, count } = grid;
  const samples = new Float64Array(count).fill(NaN);
  let last = -1;
  for (let i = 0; i < values.length; i++) {
    const value = values[i]!;
    if (Number.isNaN(value)) continue;
    const at = (rows.timeMs[i]! - startMs) / stepMs;
    const own = Math.floor(at);
    if (at === own && own >= 0 && own < count) samples[own] = value;
    if (last >= 0) {
      const before = (rows.timeMs[last]! - startMs) / stepMs;
      const reach = 3 * Math.max(rows.lastsMs[last]!, stepMs);
      if (rows.timeMs[i]! - rows.timeMs[last]! <= reach) {
        for (let c = Math.max(0, Math.floor(before) + 1); c < Math.min(at, count); c++) {
          const passed = between === 'hold' ? 0 : (c - before) / (at - before);
          samples[c] = values[last]! + (value - values[last]!) * passed;
        }
      }
    }
    // A sample just after a cell's start stands for it where nothing came before.
    if (own >= 0 && own < count && Number.isNaN(samples[own]!)) samples[own] = value;
    last = i;
  }
  return samples;
}
