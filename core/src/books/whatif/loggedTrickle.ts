import { cellAt } from '../../model/log.js';
import { channelOf, type RangeData } from '../../passes/rangeData.js';
import { PARKED_W } from '../../passes/sumCells.js';
import { configurationAt } from '../../system/configuration.js';

/** A battery gives freely below this share of its limit, and above its reserve by so much of full. */
const FREE_SHARE = 0.8;
const ABOVE_RESERVE = 0.05;
/** Fewer cells than this tell nothing. */
const FEW = 200;

/**
 * What is bought on average while the battery carries the load and could give more, W: a home that does not hold the grid at
 * zero. Null where the log has too little of it.
 * @param reserve share of full down to which the battery serves
 */
export function loggedTrickle(data: RangeData, reserve: number): number | null {
  const { log, range, configurations } = data;
  const { limits, maxDischargeW } = configurationAt(configurations, range.toMs - 1);
  const [load, grid, battery, soc] = (['load', 'grid', 'battery', 'soc'] as const).map(
    (quantity) => channelOf(data, quantity)?.values,
  );
  if (!load || !grid || !battery || !soc) return null;
  const mostW =
    FREE_SHARE * Math.min(maxDischargeW ?? Infinity, limits.batteryOnlyW ?? limits.continuousW ?? Infinity);
  const least = reserve + ABOVE_RESERVE;
  let [bought, cells] = [0, 0];
  const end = Math.min(cellAt(log, range.toMs), log.count - 1);
  for (let i = cellAt(log, range.fromMs); i < end; i++) {
    const [given, taken, need] = [battery[i]!, grid[i]!, load[i]!];
    const isFree = given > PARKED_W && given < mostW && soc[i]! > least && soc[i + 1]! > least;
    // A home that buys most of what it uses meanwhile keeps its battery for another time.
    if (!isFree || !(taken < need / 2)) continue;
    bought += taken;
    cells++;
  }
  return cells < FEW ? null : Math.max(0, bought / cells);
}
