import { endMs, type SourceLog } from '../../model/log.js';
import { correlation } from '../../statistics/correlation.js';
import type { Quantity } from '../../model/quantity.js';

/** A finer source tells a shift within the step of a coarser one when its own step is so many times shorter. */
const FINER = 3;
const MINUTE_MS = 60_000;
/** By how much a shift must better the part left unexplained. */
const GAIN = 2;
/** So many intervals tell a shift as well as all of them. */
const MOST_CELLS = 6000;
/** So much of an interval must be known on both sides. */
const KNOWN_SHARE = 0.9;

type Source = Pick<SourceLog, 'startMs' | 'stepMs' | 'count' | 'columns'>;

/** How well two sources go together at a shift: the clock of the coarse one is behind that of the fine one by it. */
export interface Shift {
  readonly ms: number;
  readonly r: number;
}

/**
 * The shift of a coarser source against a finer one to the minute, around one that is known to its own step: the fine one is
 * averaged over the coarse one's intervals, moved minute by minute.
 * @returns null where the fine source is not much finer
 */
export function finerShift(fine: Source, coarse: Source, quantity: Quantity, aroundMs: number): Shift | null {
  const x = fine.columns.get(quantity)?.values;
  const y = coarse.columns.get(quantity)?.values;
  if (!x || !y || fine.stepMs * FINER > coarse.stepMs) return null;
  const sums = new Float64Array(x.length + 1);
  const known = new Float64Array(x.length + 1);
  x.forEach((value, i) => {
    const isKnown = !Number.isNaN(value);
    sums[i + 1] = sums[i]! + (isKnown ? value : 0);
    known[i + 1] = known[i]! + (isKnown ? 1 : 0);
  });
  /** Value of a running sum at an instant, between its cells by the line. */
  const at = (list: Float64Array, ms: number) => {
    const place = (ms - fine.startMs) / fine.stepMs;
    const cell = Math.floor(place);
    return list[cell]! + (place - cell) * ((list[cell + 1] ?? list[cell]!) - list[cell]!);
  };
  const every = Math.max(1, Math.floor(y.length / MOST_CELLS));
  const whole = coarse.stepMs / fine.stepMs;
  const ofCoarse = y.filter((_, i) => i % every === 0);
  const shifted = (shiftMs: number) =>
    ofCoarse.map((_, k) => {
      const fromMs = coarse.startMs + k * every * coarse.stepMs + shiftMs;
      const toMs = fromMs + coarse.stepMs;
      if (fromMs < fine.startMs || toMs > endMs(fine)) return NaN;
      const cells = at(known, toMs) - at(known, fromMs);
      return cells < KNOWN_SHARE * whole ? NaN : (at(sums, toMs) - at(sums, fromMs)) / cells;
    });
  const together = (shiftMs: number) => correlation(shifted(shiftMs), ofCoarse);
  const still = together(0);
  let best: Shift = { ms: 0, r: still };
  for (let ms = aroundMs - coarse.stepMs; ms <= aroundMs + coarse.stepMs; ms += MINUTE_MS) {
    const r = together(ms);
    if (r > best.r) best = { ms, r };
  }
  return isShifted(still, best) ? best : { ms: 0, r: still };
}

/** True where a shift leaves so much less unexplained than none that a clock must be off. */
export function isShifted(still: number, { ms, r }: Shift): boolean {
  return ms !== 0 && 1 - still ** 2 > GAIN * (1 - r ** 2) + 1e-6;
}
