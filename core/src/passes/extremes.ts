import type { Log } from '../model/log.js';
import type { Configuration } from '../system/configuration.js';
import type { BusColumns } from './busColumns.js';
import type { Cells, Sums } from './sums.js';

/** The grid helps when it gives more than this, in W. */
const GRID_HELPS_W = 100;
/** Power above the rating by more than this is a fault of the log or of the description. */
const OVER_RATING = 1.1;

/** Notes what may explain a day: the highest load, the grid down, the battery at its floor, a load above the limit. */
export function noteEvents(
  sums: Sums,
  log: Log,
  columns: BusColumns,
  configuration: Configuration,
  { from, to }: Cells,
): void {
  const { load, grid, soc } = columns;
  const { floor, limits } = configuration;
  const limitW = limits.islandW ?? Infinity;
  const atMs = (i: number) => (i < 0 ? NaN : log.startMs + i * log.stepMs);
  let [peak, peakAt, emptyAt, over, overAt] = [-Infinity, -1, -1, limitW, -1];
  for (let i = from; i < to; i++) {
    const l = load ? load[i]! : NaN;
    if (l > peak) {
      peak = l;
      peakAt = i;
    }
    if (!grid || !soc || floor === null || !(grid[i]! > GRID_HELPS_W)) continue;
    const above = soc[i]! - floor;
    if (above <= 0.015 && emptyAt < 0) emptyAt = i;
    if (above > 0.05 && l > over) {
      over = l;
      overAt = i;
    }
  }
  sums.peakLoadW = peakAt < 0 ? NaN : peak;
  sums.peakLoadMs = atMs(peakAt);
  sums.emptyMs = atMs(emptyAt);
  sums.overLimitW = overAt < 0 ? NaN : over;
  sums.overLimitMs = atMs(overAt);
}

/** Notes a leg that carries more than the inverter may give on it. */
export function noteLegs(
  sums: Sums,
  log: Log,
  { limits: { perLegW } }: Configuration,
  { from, to }: Cells,
): void {
  if (perLegW === null) return;
  for (const leg of ['leg1', 'leg2', 'leg3'] as const) {
    const values = log.channels.get(leg)?.values;
    if (!values) continue;
    for (let i = from; i < to; i++) {
      if (!(values[i]! > Math.max(perLegW, sums.overLegW || 0))) continue;
      sums.overLegW = values[i]!;
      sums.overLegMs = log.startMs + i * log.stepMs;
    }
  }
}

/** Notes battery power beyond what its configuration allows. */
export function noteRating(
  sums: Sums,
  log: Log,
  { battery }: BusColumns,
  { maxChargeW, maxDischargeW }: Configuration,
  { from, to }: Cells,
): void {
  if (!battery || (maxChargeW === null && maxDischargeW === null)) return;
  const highest = (maxDischargeW ?? Infinity) * OVER_RATING;
  const lowest = -(maxChargeW ?? Infinity) * OVER_RATING;
  for (let i = from; i < to; i++) {
    const power = battery[i]!;
    if (!(power > highest || power < lowest)) continue;
    sums.overRatingCells++;
    if (Math.abs(power) <= Math.abs(sums.overRatingW)) continue;
    sums.overRatingW = power;
    sums.overRatingMs = log.startMs + i * log.stepMs;
  }
}
