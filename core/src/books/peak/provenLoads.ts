import { cellAt, type Log } from '../../model/log.js';
import type { Range } from '../../model/range.js';
import type { BusColumns } from '../../passes/busColumns.js';
import type { Configuration } from '../../system/configuration.js';
import { legsOf, type OutputStop } from './outputStops.js';
import type { Transfer } from './overloadTransfers.js';

/** A grid below this, W, takes no part in carrying the home. */
const NO_GRID_W = 60;
/** A load that stops the output within so much later was not held. */
const HELD_MS = 120_000;
/** Charge below which many an inverter gives less. */
export const LOW_CHARGE = 0.1;

/** What an output, or one leg of it, was seen to hold and not to hold without the grid, W; NaN where nothing is known. */
export interface ProvenLoad {
  /** 0 for all legs together, else the number of the leg. */
  readonly leg: number;
  readonly charge: 'above' | 'below';
  readonly heldW: number;
  readonly heldMs: number;
  readonly trippedW: number;
  readonly trippedMs: number;
}

/**
 * The highest load that was held without the grid's help, and the lowest at which the output stopped or handed over, of all
 * legs together and of each, above and below a tenth of charge. Between the two lies the real limit.
 */
export function provenLoads(
  log: Log,
  { load, grid, soc }: BusColumns,
  configuration: Configuration,
  range: Range,
  stops: readonly OutputStop[],
  transfers: readonly Transfer[],
): ProvenLoad[] {
  if (!load || !soc) return [];
  const legs = legsOf(log);
  const from = cellAt(log, Math.max(range.fromMs, configuration.fromMs));
  const end = cellAt(log, Math.min(range.toMs, configuration.toMs));
  const isOpen = new Uint8Array(Math.max(0, end - from)).fill(1);
  const overloads = [
    ...stops.filter(({ cause }) => cause === 'leg' || cause === 'total' || cause === 'unknown'),
    ...transfers,
  ].filter(({ atMs }) => atMs >= log.startMs + from * log.stepMs && atMs < log.startMs + end * log.stepMs);
  for (const { atMs } of [...stops, ...transfers]) {
    const at = cellAt(log, atMs) - from;
    isOpen.fill(0, Math.max(0, at - Math.max(1, Math.round(HELD_MS / log.stepMs))), Math.max(0, at + 1));
  }
  const proven: ProvenLoad[] = [];
  for (const [leg, values] of [load, ...legs].entries())
    for (const charge of ['above', 'below'] as const) {
      const isThere = (level: number) => (charge === 'above' ? level >= LOW_CHARGE : level < LOW_CHARGE);
      let [heldW, heldMs] = [NaN, NaN];
      for (let i = from; i < end; i++) {
        if (isOpen[i - from] === 0 || !isThere(soc[i]!) || (grid && Math.abs(grid[i]!) > NO_GRID_W)) continue;
        if (values[i]! > heldW || heldW !== heldW)
          [heldW, heldMs] = [values[i]!, log.startMs + i * log.stepMs];
      }
      let [trippedW, trippedMs] = [NaN, NaN];
      for (const one of overloads) {
        if (!isThere(one.soc)) continue;
        // Of the legs only the one that carried most stopped it.
        const most = Math.max(...one.legsW);
        const watts = leg === 0 ? one.loadW : one.legsW[leg - 1] === most ? most : NaN;
        if (watts < trippedW || (trippedW !== trippedW && watts === watts))
          [trippedW, trippedMs] = [watts, one.atMs];
      }
      if (heldW === heldW || trippedW === trippedW)
        proven.push({ leg, charge, heldW, heldMs, trippedW, trippedMs });
    }
  return proven;
}
