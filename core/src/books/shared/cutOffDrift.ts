import type { CutOff } from '../../passes/cutOffs.js';
import { quantileOf } from '../../statistics/quantile.js';
import { theilSen } from '../../statistics/theilSen.js';
import { YEAR_MS } from '../../time/days.js';
import type { Bounded } from './capacityTrend.js';

const RECENT_MS = YEAR_MS / 4;
const LEAST_MONTHS = 6;
const LEAST_YEARS = 1;

/** Where a battery stops on its monitor's scale, and how that moves. */
export interface CutOffTrend {
  readonly count: number;
  readonly months: number;
  /** Median charge shown at the stops of the last three months that have any before the end of the range. */
  readonly now: Bounded;
  /** Its change a year; null where the stops do not span a year and six of its months. */
  readonly slope: Bounded | null;
}

/**
 * The course of the charge at which a battery stops: the median of each month, and a Theil–Sen line through them with its
 * rank interval. A monitor that does not relearn shows a charge that rises by the share of the capacity that is gone.
 * @param cutOffs of one configuration in order of time
 * @param digit last digit of SOC
 * @returns null where there is none
 * @source P. K. Sen (1968)
 */
export function cutOffTrend(cutOffs: readonly CutOff[], digit: number): CutOffTrend | null {
  if (cutOffs.length === 0) return null;
  const months = new Map<number, number[]>();
  for (const { atMs, soc } of cutOffs) {
    const month = Math.floor(atMs / (YEAR_MS / 12));
    const own = months.get(month);
    if (own) own.push(soc);
    else months.set(month, [soc]);
  }
  const at = (share: number, values: readonly number[]) => quantileOf(Float64Array.from(values), share);
  const lastMs = cutOffs.at(-1)!.atMs;
  const recent = cutOffs.filter(({ atMs }) => atMs > lastMs - RECENT_MS).map(({ soc }) => soc);
  const x = Float64Array.from(months.keys(), (month) => month / 12);
  const y = Float64Array.from(months.values(), (own) => at(0.5, own));
  const years = (lastMs - cutOffs[0]!.atMs) / YEAR_MS;
  const line = years >= LEAST_YEARS && months.size >= LEAST_MONTHS ? theilSen(x, y) : null;
  // A step of the display may hide half of itself at either end.
  const hidden = digit / Math.sqrt(months.size) / Math.max(years, LEAST_YEARS);
  return {
    count: cutOffs.length,
    months: months.size,
    now: {
      value: at(0.5, recent),
      low: Math.max(0, at(0.025, recent) - digit / 2),
      high: at(0.975, recent) + digit / 2,
    },
    slope: line && { value: line.slope, low: line.low - hidden, high: line.high + hidden },
  };
}
