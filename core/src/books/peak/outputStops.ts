import { cellAt, type Log } from '../../model/log.js';
import type { Range } from '../../model/range.js';
import type { BusColumns } from '../../passes/busColumns.js';
import { faultText } from './faultRuns.js';
import { DARK_W } from '../../passes/cutOffs.js';
import type { Configuration } from '../../system/configuration.js';

/** A home that drew this much and then nothing has been cut off, not switched off, W. */
const LIVE_W = 50;
/** A grid below this, W, carries nobody. */
const NO_GRID_W = 20;
/** So far back the load that tripped an output may lie: its last step is cut short. */
const BACK_MS = 60_000;
/** Charge so close above the cut-off explains a stop. */
const NEAR_CUT_OFF = 0.02;
const LONGEST_MS = 7 * 86_400_000;
/** A load that rests below so little for more of the time does not show when it is cut off. */
const OFTEN = 0.05;

/** What made an output stop. */
export type StopCause = 'leg' | 'total' | 'low-charge' | 'fault' | 'unknown';

/** A stop of the inverter's output: the home went dark without a grid to take over. */
export interface OutputStop {
  readonly atMs: number;
  /** When the output came back; null where the log ends first. */
  readonly restartMs: number | null;
  readonly cause: StopCause;
  /** Highest of the last minute before it, W; empty or NaN where not logged. */
  readonly loadW: number;
  readonly legsW: readonly number[];
  /** The limit that was exceeded, W; null where none was. */
  readonly limitW: number | null;
  readonly soc: number;
  /** What the equipment reported as it stopped; null where it reported nothing. */
  readonly fault: string | null;
}

/** The logged legs of a home. */
export function legsOf({ channels }: Log): Float64Array[] {
  return (['leg1', 'leg2', 'leg3'] as const).flatMap((leg) => channels.get(leg)?.values ?? []);
}

/**
 * Stops of the output in a range: the load falls to nothing with no grid to take it over, and what the last minute, the
 * charge and the fault code say of why.
 */
export function outputStops(
  log: Log,
  { load, grid, soc }: BusColumns,
  configurations: readonly Configuration[],
  { fromMs, toMs }: Range,
): OutputStop[] {
  const found: OutputStop[] = [];
  if (!load) return found;
  const legs = legsOf(log);
  const fault = log.channels.get('fault')?.values;
  const back = Math.max(1, Math.round(BACK_MS / log.stepMs));
  for (const { limits, cutOff, ...own } of configurations) {
    const [from, end] = [cellAt(log, Math.max(fromMs, own.fromMs)), cellAt(log, Math.min(toMs, own.toMs))];
    if (from >= end || restsOften(load, from, end)) continue;
    for (let i = from + 1; i < end; i++) {
      if (!(load[i]! < DARK_W && load[i - 1]! >= LIVE_W) || (grid && Math.abs(grid[i]!) > NO_GRID_W))
        continue;
      const before = (values: Float64Array) => {
        let most = NaN;
        for (let k = Math.max(from, i - back); k < i; k++) if (!(values[k]! <= most)) most = values[k]!;
        return most;
      };
      let restart = i + 1;
      const until = Math.min(end, i + Math.ceil(LONGEST_MS / log.stepMs));
      while (restart < until && !(load[restart]! >= DARK_W)) restart++;
      const charge = soc ? soc[i - 1]! : NaN;
      const loadW = before(load);
      const legsW = legs.map(before);
      const code = fault?.subarray(i - 1, Math.min(restart, i + back)).find((value) => value > 0) ?? 0;
      const totalW =
        limits.lowChargeW !== null && charge < limits.lowCharge ? limits.lowChargeW : limits.islandW;
      const isOverLeg = limits.perLegW !== null && legsW.some((watts) => watts > limits.perLegW!);
      const isOver = totalW !== null && loadW > totalW;
      const cause: StopCause = isOverLeg
        ? 'leg'
        : isOver
          ? 'total'
          : charge <= (cutOff ?? NEAR_CUT_OFF) + NEAR_CUT_OFF
            ? 'low-charge'
            : code > 0
              ? 'fault'
              : 'unknown';
      found.push({
        atMs: log.startMs + i * log.stepMs,
        restartMs: restart < until ? log.startMs + restart * log.stepMs : null,
        cause,
        loadW,
        legsW,
        limitW: isOverLeg ? limits.perLegW : isOver ? totalW : null,
        soc: charge,
        fault: code > 0 ? faultText(log, code) : null,
      });
      i = restart;
    }
  }
  return found;
}

function restsOften(load: Float64Array, from: number, to: number): boolean {
  let [dark, known] = [0, 0];
  for (let i = from; i < to; i++) {
    if (load[i] !== load[i]) continue;
    known++;
    if (load[i]! < DARK_W) dark++;
  }
  return dark > OFTEN * known;
}
