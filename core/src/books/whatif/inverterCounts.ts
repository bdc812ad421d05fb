import type { Interval } from '../../model/figure.js';
import type { RangeData } from '../../passes/rangeData.js';
import { channelOf } from '../../passes/rangeData.js';
import { cellAt } from '../../model/log.js';
import { configurationAt } from '../../system/configuration.js';
import { legsOf } from '../peak/outputStops.js';
import type { Appliance } from '../trial/combinations.js';

/** Counts that are set side by side: the installed one, and so many fewer and more. */
const BESIDE = 2;

/** What a number of inverters would have carried of the load that was logged. */
export interface InverterCount {
  readonly units: number;
  /**
   * Limit without the grid, all units together, and hours in which the load was above it, as the class of its meter may have it;
   * null where not described.
   */
  readonly limitW: number | null;
  readonly hoursAbove: Interval | null;
  /** The same for the leg that carried most; null without logged legs or a described limit of a leg. */
  readonly perLegW: number | null;
  readonly hoursAboveLeg: Interval | null;
  /** Appliances whose start, on top of the load that was not exceeded in 999 of 1000 intervals, is more than the surge. */
  readonly failingStarts: readonly string[];
  readonly isEnough: boolean;
}

/** Counts of inverters against the highest measured load, each leg and each start. */
export interface InverterCounts {
  readonly highestW: number;
  /** Not exceeded in 999 of 1000 intervals: what runs when something starts. */
  readonly usualPeakW: number;
  readonly counts: readonly InverterCount[];
  /** The least number that carries all of it; null where none of them does, or nothing is described. */
  readonly least: number | null;
}

/**
 * How many inverters the measured load needs without the grid: limits of all units together grow with their number. An
 * appliance starts on top of what usually runs at most, with its start factor; its own running power is part of that already.
 * Common practice, no published source.
 * @param appliances with their start factors; may be empty
 * @returns null where the load is not logged, or no limit is described
 */
export function inverterCounts(data: RangeData, appliances: readonly Appliance[]): InverterCounts | null {
  const { log, range } = data;
  const { limits, described } = configurationAt(data.configurations, range.toMs - 1);
  const installed = described?.inverter?.units ?? 1;
  const surgeW = described?.inverter?.surgeKW === undefined ? null : 1000 * described.inverter.surgeKW;
  const [from, to] = [cellAt(log, range.fromMs), cellAt(log, range.toMs)];
  const load = channelOf(data, 'load')?.values.subarray(from, to);
  if (!load || (limits.islandW === null && limits.perLegW === null && surgeW === null)) return null;
  const highestW = load.reduce((highest, watts) => (watts > highest ? watts : highest), -Infinity);
  if (highestW === -Infinity) return null;
  const usualPeakW = exceededBy(load, 1 / 1000, highestW);
  const hours = log.stepMs / 3_600_000;
  const legs = legsOf(log).map((leg) => leg.subarray(from, to));
  const off = data.accuracy.load;
  const hoursOver = (limitW: number, highestAt: (i: number) => number): Interval => {
    let [cells, fewest, most] = [0, 0, 0];
    for (let i = 0; i < load.length; i++) {
      const watts = highestAt(i);
      if (watts > limitW) cells++;
      if (watts * (1 - off) > limitW) fewest++;
      if (watts * (1 + off) > limitW) most++;
    }
    return { value: cells * hours, low: fewest * hours, high: most * hours };
  };
  const legPeakAt = (i: number) => {
    let highest = -Infinity;
    for (const leg of legs) if (leg[i]! > highest) highest = leg[i]!;
    return highest;
  };
  const first = Math.max(1, installed - BESIDE);
  const counts = Array.from({ length: installed + BESIDE - first + 1 }, (_, k): InverterCount => {
    const units = first + k;
    const scaled = (watts: number | null) => (watts === null ? null : (watts * units) / installed);
    const [limitW, perLegW, surge] = [scaled(limits.islandW), scaled(limits.perLegW), scaled(surgeW)];
    const hoursAbove = limitW === null ? null : hoursOver(limitW, (i) => load[i]!);
    const hoursAboveLeg = perLegW === null || legs.length === 0 ? null : hoursOver(perLegW, legPeakAt);
    const failingStarts =
      surge === null
        ? []
        : appliances
            .filter(({ watts, startFactor }) => usualPeakW + watts * (startFactor - 1) > surge)
            .map(({ name }) => name);
    const isBelow = (above: Interval | null) => above === null || above.value === 0;
    const isEnough = isBelow(hoursAbove) && isBelow(hoursAboveLeg) && failingStarts.length === 0;
    return { units, limitW, hoursAbove, perLegW, hoursAboveLeg, failingStarts, isEnough };
  });
  return { highestW, usualPeakW, counts, least: counts.find(({ isEnough }) => isEnough)?.units ?? null };
}

const BINS = 4096;

/** What no more than a share of the load exceeds, W, to a {@link BINS}th of its highest: ten years are not sorted for it. */
function exceededBy(load: Float64Array, share: number, highestW: number): number {
  const counts = new Uint32Array(BINS + 1);
  let known = 0;
  for (const watts of load) {
    if (watts !== watts) continue;
    known++;
    counts[watts > 0 ? Math.ceil((watts / highestW) * BINS) : 0]!++;
  }
  let [above, bin] = [0, BINS];
  while (bin > 0 && above + counts[bin]! <= share * known) above += counts[bin--]!;
  return (bin / BINS) * highestW;
}
