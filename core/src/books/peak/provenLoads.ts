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
/** A start that is over sooner was borne, not held. */
const BEARS_MS = 5000;
/** A longer step hides what stopped the output, unless even its mean lies above the limit. */
const SHOWS_MS = 2000;
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
  const bears = Math.max(1, Math.ceil(BEARS_MS / log.stepMs));
  const isOpen = new Uint8Array(Math.max(0, end - from)).fill(1);
  const hidden = ['jump', 'unknown'];
  const explains: readonly string[] = ['leg', 'total', ...(log.stepMs <= SHOWS_MS ? hidden : [])];
  const overloads = [...stops, ...transfers]
    .filter(({ cause }) => explains.includes(cause))
    .filter(({ atMs }) => atMs >= log.startMs + from * log.stepMs && atMs < log.startMs + end * log.stepMs);
  for (const { atMs } of [...stops, ...transfers]) {
    const at = cellAt(log, atMs) - from;
    isOpen.fill(0, Math.max(0, at - Math.max(1, Math.round(HELD_MS / log.stepMs))), Math.max(0, at + 1));
  }
  const proven: ProvenLoad[] = [];
  for (const [leg, values] of [load, ...legs].entries())
    for (const charge of ['above', 'below'] as const) {
      const isThere = (level: number) => (charge === 'above' ? level >= LOW_CHARGE : level < LOW_CHARGE);
      let [heldW, heldMs] = [NaN, NaN];
      for (let i = from; i + bears <= end; i++) {
        let level = values[i]!;
        if (!(level > heldW) && heldW === heldW) continue;
        if (isOpen[i - from] === 0 || !isThere(soc[i]!) || (grid && Math.abs(grid[i]!) > NO_GRID_W)) continue;
        for (let k = 1; k < bears; k++) if (!(values[i + k]! >= level)) level = values[i + k]!;
        if (level > heldW || heldW !== heldW) [heldW, heldMs] = [level, log.startMs + i * log.stepMs];
      }
      let [trippedW, trippedMs] = [NaN, NaN];
      for (const one of overloads) {
        if (!isThere(one.soc)) continue;
        // A leg above its limit says nothing of the total, nor a total of its legs; of the legs only the one that carried most stopped it.
        const most = Math.max(...one.legsW);
        const isOfLeg = one.legsW[leg - 1] === most && one.cause !== 'total';
        const watts = leg === 0 ? (one.cause === 'leg' ? NaN : one.loadW) : isOfLeg ? most : NaN;
        if (watts < trippedW || (trippedW !== trippedW && watts === watts))
          [trippedW, trippedMs] = [watts, one.atMs];
      }
      if (heldW === heldW || trippedW === trippedW)
        proven.push({ leg, charge, heldW, heldMs, trippedW, trippedMs });
    }
  return proven;
}
