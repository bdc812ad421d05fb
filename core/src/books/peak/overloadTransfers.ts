import { cellAt, type Log } from '../../model/log.js';
import type { Range } from '../../model/range.js';
import type { BusColumns } from '../../passes/busColumns.js';
import { STOPPED, WORKS } from '../../passes/cutOffs.js';
import type { Configuration } from '../../system/configuration.js';

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
  readonly soc: number;
}

/**
 * Transfers that an overload explains: the battery stops from one interval to the next with charge left, as the load jumps
 * or lies above the inverter's limit, the grid takes the load over, and the battery works again within the hour. Only
 * configurations with a grid and a described limit can tell.
 */
export function transfersOf(
  log: Log,
  { load, solar, grid, battery, soc }: BusColumns,
  configurations: readonly Configuration[],
  { fromMs, toMs }: Range,
): Transfer[] {
  const found: Transfer[] = [];
  if (!load || !grid || !battery || !soc) return found;
  const longest = Math.max(1, Math.round(LONGEST_MS / log.stepMs));
  for (const { limits, hasGrid, nameplateWh, floor, ...own } of configurations) {
    const limitW = limits.islandW;
    if (limitW === null || nameplateWh === null || !hasGrid) continue;
    const [works, stopped] = [WORKS * nameplateWh, STOPPED * nameplateWh];
    const end = cellAt(log, Math.min(toMs, own.toMs));
    for (let i = cellAt(log, Math.max(fromMs, own.fromMs)) + 1; i < end; i++) {
      if (!(battery[i - 1]! >= works && Math.abs(battery[i]!) < stopped)) continue;
      const used = load[i]!;
      const isOver = used > limitW || used - load[i - 1]! >= JUMP * limitW;
      const hasCharge = soc[i]! > (floor ?? 0) + CHARGED;
      const needAt = (cell: number) => load[cell]! - (solar ? solar[cell]! : 0);
      const isTaken = needAt(i) > 0 && grid[i]! >= TAKEN * needAt(i);
      const wasCarried = grid[i - 1]! <= (1 - TAKEN) * needAt(i - 1) + CARRIED_W;
      if (!isOver || !hasCharge || !isTaken || !wasCarried) continue;
      let back = i + 1;
      while (back < end && back - i <= longest && !(battery[back]! >= works)) back++;
      if (back >= end || back - i > longest) continue;
      found.push({
        atMs: log.startMs + i * log.stepMs,
        toMs: log.startMs + back * log.stepMs,
        loadW: used,
        beforeW: load[i - 1]!,
        soc: soc[i]!,
      });
    }
  }
  return found;
}
