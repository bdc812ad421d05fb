import type { Pass } from './pass.js';
import { busChannel } from '../import/merge/derive.js';
import { cellAt, type Log, endMs } from '../model/log.js';
import { daysBetween } from '../time/days.js';
import { zoneOf } from '../time/zone.js';
import { PARKED_W } from './sumCells.js';

/** Cells are averaged over so long: what a meter reads late or early within it does no harm. */
const BLOCK_MS = 30 * 60_000;

/** Half hours in which the battery alone carries the home, in order of time; powers in W. */
export interface TarePoints {
  readonly fromMs: Float64Array;
  /** What the home took from the inverter: load less import. */
  readonly servedW: Float64Array;
  /** What the battery gave on its DC side. */
  readonly drawnW: Float64Array;
  /** Number of the night, from 0; nights run from noon to noon. */
  readonly night: Int32Array;
}

/**
 * Collects where solar is nothing, the battery discharges and both its DC side and the load are logged: there the
 * inverter's own draw shows. Null where a meter for it is lacking.
 */
function tarePoints(log: Log): TarePoints | null {
  const drawn = log.channels.get('batteryDc');
  const load = log.channels.get('load');
  const grid = log.channels.get('grid');
  const solar = busChannel(log.channels, 'solar');
  const isMetered =
    drawn?.origin === 'logged' && load?.origin === 'logged' && grid && grid.origin !== 'derived';
  if (!isMetered || !solar || log.stepMs > BLOCK_MS) return null;
  const cells = Math.max(1, Math.round(BLOCK_MS / log.stepMs));
  const [fromMs, servedW, drawnW, night]: [number[], number[], number[], number[]] = [[], [], [], []];
  let nights = -1;
  for (const day of daysBetween(zoneOf(log.zone), log.startMs - 43_200_000, endMs(log))) {
    const [noon, next] = [(day.fromMs + day.toMs) / 2, (day.fromMs + day.toMs) / 2 + 86_400_000];
    const before = fromMs.length;
    for (let i = cellAt(log, noon); i + cells <= cellAt(log, next); i += cells) {
      let [x, y] = [0, 0];
      for (let k = i; k < i + cells; k++) {
        const s = solar.values[k]!;
        const dark = s < PARKED_W && s > -PARKED_W;
        const power = drawn.values[k]!;
        // Anything missing makes the sums NaN, and the block is left out.
        x += dark && power > 0 ? load.values[k]! - Math.max(0, grid.values[k]!) : NaN;
        y += power;
      }
      if (!(x > 0) || !(y > 0)) continue;
      if (fromMs.length === before) nights++;
      fromMs.push(log.startMs + i * log.stepMs);
      servedW.push(x / cells);
      drawnW.push(y / cells);
      night.push(nights);
    }
  }
  return {
    fromMs: Float64Array.from(fromMs),
    servedW: Float64Array.from(servedW),
    drawnW: Float64Array.from(drawnW),
    night: Int32Array.from(night),
  };
}

/** Half hours of the night that show the inverter's draw; null where the meters for it are lacking. */
export const tarePass: Pass<TarePoints | null> = {
  scan: ({ log }) => tarePoints(log),
  slice: (points, range) => points && slicePoints(points, range.fromMs, range.toMs),
  join: joinPoints,
};

function slicePoints({ fromMs, servedW, drawnW, night }: TarePoints, from: number, to: number): TarePoints {
  const [first, end] = [fromMs.findIndex((ms) => ms >= from), fromMs.findLastIndex((ms) => ms < to) + 1];
  const [a, b] = first < 0 ? [0, 0] : [first, Math.max(first, end)];
  return {
    fromMs: fromMs.subarray(a, b),
    servedW: servedW.subarray(a, b),
    drawnW: drawnW.subarray(a, b),
    night: night.subarray(a, b).map((n) => n - night[a]!),
  };
}

/** Joins points at the last that both have; null where they have none in common. */
function joinPoints(before: TarePoints | null, after: TarePoints | null): TarePoints | null {
  if (!before && !after) return null;
  if (!before || !after) return null;
  const last = after.fromMs.findLastIndex((ms) => before.fromMs.includes(ms));
  if (last < 0) return null;
  const end = before.fromMs.indexOf(after.fromMs[last]!) + 1;
  const nights = before.night[end - 1]! - after.night[last]!;
  const both = (a: Float64Array, b: Float64Array) =>
    Float64Array.from([...a.subarray(0, end), ...b.subarray(last + 1)]);
  return {
    fromMs: both(before.fromMs, after.fromMs),
    servedW: both(before.servedW, after.servedW),
    drawnW: both(before.drawnW, after.drawnW),
    night: Int32Array.from([
      ...before.night.subarray(0, end),
      ...after.night.subarray(last + 1).map((night) => night + nights),
    ]),
  };
}
