import { cellAt, type Log } from '../../model/log.js';
import type { Range } from '../../model/range.js';
import type { BusColumns } from '../../passes/busColumns.js';
import { STOPPED, WORKS } from '../../passes/cutOffs.js';
import type { Configuration } from '../../system/configuration.js';
import { legsOf } from './outputStops.js';

/** A load that rises by so much of the inverter's limit may be a start that the step hides. */
const JUMP = 0.25;
/** Charge above the floor at which a battery does not stop for lack of it. */
const CHARGED = 0.05;
/** So much of the load the grid takes over. */
const TAKEN = 0.9;
/** A battery that carries a load may leave a trickle of the grid beside it, W. */
const CARRIED_W = 50;
/** A battery that rests longer was told to. */
const LONGEST_MS = 3_600_000;

/** A load that jumped to the grid although the battery was not empty. */
export interface Transfer {
  readonly atMs: number;
  readonly toMs: number;
  readonly loadW: number;
  readonly beforeW: number;
  /** Of each leg, as the load jumped; empty where they are not logged. */
  readonly legsW: readonly number[];
  /** What was too much: the load of a leg, that of all, or a start that the log's step hides. */
  readonly cause: 'leg' | 'total' | 'jump';
  readonly soc: number;
  /** True where the sun was carrying the home and charging the battery. */
  readonly wasCharging: boolean;
}

/**
 * Transfers that an overload explains: from one interval to the next the grid takes the whole load over although there is
 * charge left, as a leg or the load lies above its limit or the load jumps, and within the hour the home is carried again.
 * By night the battery stops, by day it may have been charging. Only configurations with a grid and a described limit can
 * tell.
 */
export function transfersOf(
  log: Log,
  { load, solar, grid, battery, soc }: BusColumns,
  configurations: readonly Configuration[],
  { fromMs, toMs }: Range,
): Transfer[] {
  const found: Transfer[] = [];
  if (!load || !grid || !battery || !soc) return found;
  const legs = legsOf(log);
  const longest = Math.max(1, Math.round(LONGEST_MS / log.stepMs));
  for (const { limits, hasGrid, nameplateWh, floor, ...own } of configurations) {
    const { islandW, perLegW } = limits;
    if ((islandW === null && perLegW === null) || nameplateWh === null || !hasGrid) continue;
    const [works, stopped] = [WORKS * nameplateWh, STOPPED * nameplateWh];
    const limitW = islandW ?? Infinity;
    const jumpW = JUMP * (islandW ?? perLegW! * Math.max(1, legs.length));
    const end = cellAt(log, Math.min(toMs, own.toMs));
    for (let i = cellAt(log, Math.max(fromMs, own.fromMs)) + 1; i < end; i++) {
      const isCarrying = battery[i - 1]! >= works && Math.abs(battery[i]!) < stopped;
      const wasCharging = battery[i - 1]! <= -works && grid[i - 1]! <= CARRIED_W;
      if (!isCarrying && !wasCharging) continue;
      const used = load[i]!;
      // The step in which a load comes on may still have been carried for a part of its time.
      const legsW = legs.map((leg) => Math.max(leg[i]!, leg[i - 1]!));
      const cause =
        perLegW !== null && legsW.some((watts) => watts > perLegW)
          ? 'leg'
          : used > limitW
            ? 'total'
            : used - load[i - 1]! >= jumpW
              ? 'jump'
              : null;
      if (cause === null || !(soc[i]! > (floor ?? 0) + CHARGED)) continue;
      const needAt = (cell: number) => load[cell]! - (solar ? solar[cell]! : 0);
      // By day the whole load goes over to the grid, whatever the sun still gives the battery.
      const asked = wasCharging ? used : needAt(i);
      if (!(asked > 0 && grid[i]! >= TAKEN * asked)) continue;
      const wasCarried = wasCharging || grid[i - 1]! <= (1 - TAKEN) * needAt(i - 1) + CARRIED_W;
      if (!wasCarried) continue;
      const isBack = (cell: number) => (wasCharging ? grid[cell]! <= CARRIED_W : battery[cell]! >= works);
      let back = i + 1;
      while (back < end && back - i <= longest && !isBack(back)) back++;
      if (back >= end || back - i > longest) continue;
      found.push({
        atMs: log.startMs + i * log.stepMs,
        toMs: log.startMs + back * log.stepMs,
        loadW: used,
        beforeW: load[i - 1]!,
        legsW,
        cause,
        soc: soc[i]!,
        wasCharging,
      });
    }
  }
  return found;
}
