import { isoOf } from '../../time/instant.js';
import type { Rows, Say } from './rows.js';

const DAY_MS = 86_400_000;
/** A pause longer than this parts a log into stretches … */
const APART_MS = 30 * DAY_MS;
/** … and a stretch of so few rows, as a share of all, is no stretch of a log when it lies far away. */
const FEW_ROWS = 2;
const FEW_SHARE = 0.001;
const FAR_MS = 100 * DAY_MS;
/** Rows this far apart are monthly or yearly, and parted by nature. */
const LONG_STEP_MS = 7 * DAY_MS;

interface Stretch {
  readonly from: number;
  readonly to: number;
}

/**
 * Sets aside the rows whose date is a slip of a clock: one or two rows that lie months from all the others, on either side.
 * Left in, they would stretch the log over years of nothing.
 * @param rows in order of time
 */
export function withoutStrays(rows: Rows, say: Say): Rows {
  const { timeMs, columns } = rows;
  const stretches = stretchesOf(timeMs);
  if (stretches.length < 2) return rows;
  const few = Math.max(FEW_ROWS, FEW_SHARE * timeMs.length);
  const long = stretches.filter(({ from, to }) => to - from > few);
  // Where no stretch is long, nothing tells what is astray; where rows are weeks apart, each is a stretch of its own.
  if (long.length === 0 || usualMs(timeMs) > LONG_STEP_MS) return rows;
  const [first, last] = [timeMs[long[0]!.from]!, timeMs[long.at(-1)!.to - 1]!];
  const span = Math.max(APART_MS, Math.min(FAR_MS, last - first));
  const isStray = ({ from, to }: Stretch) =>
    to - from <= few && long.every((other) => distance(timeMs, { from, to }, other) > span);
  const strays = stretches.filter(isStray);
  if (strays.length === 0) return rows;
  const kept = stretches.filter((stretch) => !isStray(stretch));
  const count = strays.reduce((sum, { from, to }) => sum + to - from, 0);
  const at = timeMs[strays[0]!.from]!;
  say(
    'stray-times',
    'warning',
    `${count} ${count === 1 ? 'row lies' : 'rows lie'} months from all the others, first at ${isoOf(at)}, and ${count === 1 ? 'is' : 'are'} set aside: the date is likely a slip of the logger’s clock.`,
    at,
  );
  const joined = (values: Float64Array) => {
    const all = new Float64Array(timeMs.length - count);
    let at = 0;
    for (const { from, to } of kept) {
      all.set(values.subarray(from, to), at);
      at += to - from;
    }
    return all;
  };
  return {
    timeMs: joined(timeMs),
    columns: columns.map((column) => ({ ...column, values: joined(column.values) })),
  };
}

function stretchesOf(timeMs: Float64Array): Stretch[] {
  const stretches: Stretch[] = [];
  let from = 0;
  for (let i = 1; i <= timeMs.length; i++) {
    if (i < timeMs.length && timeMs[i]! - timeMs[i - 1]! <= APART_MS) continue;
    stretches.push({ from, to: i });
    from = i;
  }
  return stretches;
}

/** Time between two stretches of the same rows. */
function distance(timeMs: Float64Array, a: Stretch, b: Stretch): number {
  return a.from < b.from ? timeMs[b.from]! - timeMs[a.to - 1]! : timeMs[a.from]! - timeMs[b.to - 1]!;
}

function usualMs(timeMs: Float64Array): number {
  const distances = timeMs
    .slice(1)
    .map((ms, i) => ms - timeMs[i]!)
    .sort();
  return distances[distances.length >> 1] ?? 0;
}
