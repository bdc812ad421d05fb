import { cellAt } from '../../model/log.js';
import { flowColumns, type BusColumns } from '../../passes/busColumns.js';
import type { RangeData } from '../../passes/rangeData.js';
import { quantile } from '../../statistics/quantile.js';
import { offsetAt, zoneOf } from '../../time/zone.js';

/** A battery that gives less than this while more than twice of it is missing, and bought, is kept, W. */
const KEPT_W = 50;
/** Hours of a month in which it has to be kept, and how closely they have to agree, as shares of full. */
const LEAST_H = 10;
const AGREES = 0.06;
/** On so many of its days, since before a storm a battery is kept too. */
const OFTEN = 0.25;
const LEAST_DAYS = 5;
const DAY_MS = 86_400_000;
const QUARTER_MS = 900_000;

/** Tells the cells in which the battery gives nothing though the home buys; null where a flow is not logged. */
export function keptIn({
  solar,
  load,
  grid,
  battery,
}: Pick<BusColumns, 'solar' | 'load' | 'grid' | 'battery'>): ((cell: number) => boolean) | null {
  if (!load || !grid || !battery) return null;
  return (i) =>
    Math.abs(battery[i]!) < KEPT_W && load[i]! - (solar ? solar[i]! : 0) > 2 * KEPT_W && grid[i]! > KEPT_W;
}

/**
 * The charge at which a battery stops to serve the load while the grid is there, month by month of the year, January first:
 * the median of the charge in hours in which it gives nothing though the home buys. Null where a month has too few of them,
 * on too few days, or where they do not agree.
 */
export function loggedReserves({ log, range }: RangeData): (number | null)[] {
  const columns = flowColumns(log);
  const { soc } = columns;
  const isKept = keptIn(columns);
  const kept = Array.from({ length: 12 }, () => ({
    socs: [] as number[],
    days: new Set<number>(),
    known: new Set<number>(),
  }));
  if (!isKept || !soc) return kept.map(() => null);
  const zone = zoneOf(log.zone);
  const end = cellAt(log, range.toMs);
  const perQuarter = Math.max(1, Math.floor(QUARTER_MS / log.stepMs));
  for (let from = cellAt(log, range.fromMs); from < end; from += perQuarter) {
    const ms = log.startMs + from * log.stepMs;
    const localMs = ms + offsetAt(zone, ms);
    const own = kept[new Date(localMs).getUTCMonth()]!;
    const day = Math.floor(localMs / DAY_MS);
    own.known.add(day);
    for (let i = from; i < Math.min(end, from + perQuarter); i++)
      if (isKept(i) && soc[i] === soc[i]) {
        own.socs.push(soc[i]!);
        own.days.add(day);
      }
  }
  const least = (LEAST_H * 3_600_000) / log.stepMs;
  return kept.map(({ socs, days, known }) => {
    if (socs.length < least || days.size < Math.max(LEAST_DAYS, OFTEN * known.size)) return null;
    const sorted = Float64Array.from(socs).sort();
    return quantile(sorted, 0.9) - quantile(sorted, 0.1) <= AGREES ? quantile(sorted, 0.5) : null;
  });
}
