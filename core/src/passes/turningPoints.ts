import { firstFrom, happening, joinInStep, type Pass } from './pass.js';
import { cellAt, type Log } from '../model/log.js';
import type { Range } from '../model/range.js';
import type { Configuration } from '../system/configuration.js';

const LEAST_SWING = 0.02;
const LONGEST_GAP_MS = 6 * 3_600_000;

/** A turning point of the state of charge. */
export interface TurningPoint {
  readonly atMs: number;
  readonly soc: number;
  /** True for the first of a sequence: after a gap of more than six hours or a change of configuration. */
  readonly begins: boolean;
}

/** Swings of SOC smaller than this are no reversals: 2 %, or twice its last digit where that is coarser. */
export function hysteresisOf({ channels }: Log): number {
  return Math.max(LEAST_SWING, 2 * (channels.get('soc')?.resolution ?? 0));
}

/**
 * Turning points of the state of charge, in one pass: an extreme counts once SOC has come back from it by the
 * hysteresis. A sequence ends with its last extreme.
 */
export function turningPointsOf(log: Log, configurations: readonly Configuration[]): TurningPoint[] {
  const soc = log.channels.get('soc')?.values;
  if (!soc) return [];
  const swing = hysteresisOf(log) - 1e-9;
  const longest = LONGEST_GAP_MS / log.stepMs;
  const turningPoints: TurningPoint[] = [];
  for (const { fromMs, toMs } of configurations) {
    const end = cellAt(log, toMs);
    let [low, high, missing, direction, begins] = [-1, -1, 0, 0, true];
    const put = (i: number) => {
      turningPoints.push({ atMs: log.startMs + i * log.stepMs, soc: soc[i]!, begins });
      begins = false;
    };
    const endSequence = () => {
      if (direction !== 0) put(direction > 0 ? high : low);
      [low, high, direction, begins] = [-1, -1, 0, true];
    };
    for (let i = cellAt(log, fromMs); i < end; i++) {
      const value = soc[i]!;
      if (value !== value) {
        if (++missing > longest && low >= 0) endSequence();
        continue;
      }
      missing = 0;
      if (low < 0) {
        low = high = i;
        continue;
      }
      if (value > soc[high]!) high = i;
      if (value < soc[low]!) low = i;
      if (direction >= 0 && soc[high]! - value >= swing) {
        put(high);
        direction = -1;
        low = i;
      } else if (direction <= 0 && value - soc[low]! >= swing) {
        put(low);
        direction = 1;
        high = i;
      }
    }
    endSequence();
  }
  return turningPoints;
}

/**
 * The turning points within a range, with the charge at its two ends where a sequence goes on beyond them: so a range
 * counts what was cycled in it.
 * @param first and @param last charge known first and last in the range; NaN where none is
 */
export function turningPointsIn(
  turningPoints: readonly TurningPoint[],
  range: Range,
  first: number,
  last: number,
): TurningPoint[] {
  const { fromMs, toMs } = range;
  const within = happening(turningPoints, range);
  const next = turningPoints[firstFrom(turningPoints, toMs)];
  const inside = [...within];
  if (!Number.isNaN(first) && within[0] && !within[0].begins)
    inside.unshift({ atMs: fromMs, soc: first, begins: true });
  if (!Number.isNaN(last) && next && !next.begins) {
    if (within.length > 0) inside.push({ atMs: toMs, soc: last, begins: false });
    else if (!Number.isNaN(first))
      inside.push({ atMs: fromMs, soc: first, begins: true }, { atMs: toMs, soc: last, begins: false });
  }
  return inside;
}

/** Turning points of the state of charge, without the ends of the range. */
export const turningPointsPass: Pass<readonly TurningPoint[]> = {
  scan: ({ log, configurations }) => turningPointsOf(log, configurations),
  slice: happening,
  join: (before, after, seam) =>
    joinInStep(before, after, ({ atMs }) => ({ fromMs: atMs, toMs: atMs }), seam),
};
