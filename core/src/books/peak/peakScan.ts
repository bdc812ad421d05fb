import { cellAt, type Log } from '../../model/log.js';
import { isNamed, nameOfPart } from '../../model/quantity.js';
import { configurationAt, type Configuration } from '../../system/configuration.js';
import { dayNumberAt } from '../../time/days.js';
import { zoneOf } from '../../time/zone.js';
import type { RangeData } from '../../passes/rangeData.js';

/** Loads are counted in bins of so many W. */
export const BIN_W = 10;
const BINS = 10_000;
const TOP = 12;

/** One of the limits of an inverter. */
export type Limit = 'continuous' | 'battery' | 'leg';

/** The highest load of a day, and what of it is known. */
export interface Peak {
  readonly atMs: number;
  readonly loadW: number;
  readonly legsW: readonly number[];
  /** Parts of the load that are logged by name and were on, the largest first. */
  readonly parts: readonly { readonly name: string; readonly watts: number }[];
  /** What the inverter may give from the battery, W; null where it is not described. */
  readonly limitW: number | null;
}

/** What one pass through the samples of a range leaves of its peaks; times in cells. */
export interface Scan {
  readonly bins: Float64Array;
  known: number;
  readonly above: Record<Limit, number>;
  /** Intervals that lie above a limit less or more the meter's accuracy. */
  readonly surely: Record<Limit, number>;
  readonly maybe: Record<Limit, number>;
  readonly has: Record<Limit, boolean>;
  legTop: number;
  deviation: number;
  mean: number;
  legCells: number;
  readonly tops: { cell: number; day: number }[];
}

/** Goes through the load and the legs of a range once, each configuration by its own limits. */
export function scanPeaks(data: RangeData, load: Float64Array | null, legs: readonly Float64Array[]): Scan {
  const { log, range } = data;
  const scan: Scan = {
    bins: new Float64Array(BINS),
    known: 0,
    above: { continuous: 0, battery: 0, leg: 0 },
    surely: { continuous: 0, battery: 0, leg: 0 },
    maybe: { continuous: 0, battery: 0, leg: 0 },
    has: { continuous: false, battery: false, leg: false },
    legTop: NaN,
    deviation: 0,
    mean: 0,
    legCells: 0,
    tops: [],
  };
  for (const configuration of data.configurations) {
    const from = cellAt(log, Math.max(range.fromMs, configuration.fromMs));
    const to = cellAt(log, Math.min(range.toMs, configuration.toMs));
    if (from < to) scanPart(data, scan, load ?? null, legs, configuration, from, to);
  }
  return scan;
}

function limitsOf({ limits }: Configuration): Record<Limit, number> {
  const { continuousW, batteryOnlyW, perLegW } = limits;
  return { continuous: continuousW ?? NaN, battery: batteryOnlyW ?? NaN, leg: perLegW ?? NaN };
}

function scanPart(
  { log, accuracy }: RangeData,
  scan: Scan,
  load: Float64Array | null,
  legs: readonly Float64Array[],
  configuration: Configuration,
  from: number,
  to: number,
): void {
  const limits = limitsOf(configuration);
  const off = accuracy.load;
  // Nothing is counted of what lies below all limits, even if the meter reads low.
  const least = Math.min(...Object.values(limits).filter((watts) => watts === watts)) / (1 + off);
  const count = (limit: Limit, watts: number) => {
    if (watts < least) return;
    const most = limits[limit];
    if (watts > most) scan.above[limit]++;
    if (watts * (1 - off) > most) scan.surely[limit]++;
    if (watts * (1 + off) > most) scan.maybe[limit]++;
  };
  scan.has.continuous ||= !Number.isNaN(limits.continuous);
  scan.has.battery ||= !Number.isNaN(limits.battery);
  scan.has.leg ||= !Number.isNaN(limits.leg);
  if (load) scanLoad(log, scan, load, from, to, count);
  if (legs.length === 0) return;
  for (let i = from; i < to; i++) {
    let [sum, top] = [0, -Infinity];
    for (const leg of legs) {
      sum += leg[i]!;
      if (leg[i]! > top) top = leg[i]!;
    }
    if (sum !== sum) continue;
    const mean = sum / legs.length;
    let deviation = 0;
    for (const leg of legs) deviation = Math.max(deviation, Math.abs(leg[i]! - mean));
    scan.legCells++;
    scan.mean += mean;
    scan.deviation += deviation;
    if (!(top <= scan.legTop)) scan.legTop = top;
    count('leg', top);
  }
}

function scanLoad(
  log: Log,
  scan: Scan,
  load: Float64Array,
  from: number,
  to: number,
  count: (limit: Limit, watts: number) => void,
): void {
  const zone = zoneOf(log.zone);
  const cellsADay = Math.max(1, Math.round(86_400_000 / log.stepMs));
  for (let i = from; i < to; i += cellsADay) {
    let top = -1;
    for (let k = i; k < Math.min(to, i + cellsADay); k++) {
      const watts = load[k]!;
      if (watts !== watts) continue;
      scan.known++;
      scan.bins[Math.min(BINS - 1, Math.max(0, Math.floor(watts / BIN_W)))]!++;
      count('continuous', watts);
      count('battery', watts);
      if (top < 0 || watts > load[top]!) top = k;
    }
    if (top >= 0) scan.tops.push({ cell: top, day: dayNumberAt(zone, log.startMs + top * log.stepMs) });
  }
}

/** The highest load of each day, the highest of them first. */
export function topPeaks(
  { log, configurations }: RangeData,
  { tops }: Scan,
  load: Float64Array | undefined,
  legs: readonly Float64Array[],
): Peak[] {
  if (!load) return [];
  const days = new Set<number>();
  const parts = [...log.channels].flatMap(([quantity, { values }]) =>
    isNamed(quantity) ? [{ name: nameOfPart(quantity), values }] : [],
  );
  return [...tops]
    .sort((a, b) => load[b.cell]! - load[a.cell]!)
    .filter(({ day }) => days.size < TOP && !days.has(day) && days.add(day))
    .map(({ cell }) => {
      const atMs = log.startMs + cell * log.stepMs;
      const { battery, continuous } = limitsOf(configurationAt(configurations, atMs));
      const limitW = Number.isNaN(battery) ? continuous : battery;
      return {
        atMs,
        loadW: load[cell]!,
        legsW: legs.map((leg) => leg[cell]!),
        parts: parts
          .map(({ name, values }) => ({ name, watts: values[cell]! }))
          .filter(({ watts }) => watts > 0)
          .sort((a, b) => b.watts - a.watts),
        limitW: Number.isNaN(limitW) ? null : limitW,
      };
    });
}
