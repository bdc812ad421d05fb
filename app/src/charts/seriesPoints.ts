import type { PowerSeries } from '@long-tally/core';
import { runs } from './runs.js';

/** More points than so many a pixel are drawn by the lowest and the highest of each pixel. */
const MOST_POINTS = 4;

/** Indices of the cells to draw: all, or of each column of pixels its first, lowest, highest and last. */
export function drawnCells(values: Float64Array, width: number): Uint32Array {
  const n = values.length;
  if (n <= MOST_POINTS * width) return Uint32Array.from(values, (_, i) => i);
  const indices: number[] = [];
  for (let column = 0; column < width; column++) {
    const from = Math.floor((column * n) / width);
    const to = Math.floor(((column + 1) * n) / width);
    let [low, high] = [from, from];
    for (let i = from; i < to; i++) {
      if (!(values[i]! >= values[low]!)) low = i;
      if (!(values[i]! <= values[high]!)) high = i;
    }
    indices.push(...[from, Math.min(low, high), Math.max(low, high), to - 1]);
  }
  return Uint32Array.from(indices);
}

/** The last value that is known; 0 where none is. */
export function lastKnown(values: Float64Array): number {
  return values.findLast((value) => !Number.isNaN(value)) ?? 0;
}

/** Stretches of the range in which a power that the log has elsewhere is missing, ms. */
export function missingRuns({
  range,
  startMs,
  stepMs,
  ...course
}: PowerSeries): (readonly [fromMs: number, toMs: number])[] {
  const columns = [course.solar, course.load, course.grid, course.battery].filter(
    (values) => values !== null,
  );
  const count = columns[0]?.length ?? 0;
  const missing = Array.from({ length: count }, (_, i) => columns.some((values) => Number.isNaN(values[i]!)));
  const inside = runs(missing, Boolean).map(
    ([from, to]) => [startMs + from * stepMs, startMs + to * stepMs] as const,
  );
  const end = startMs + count * stepMs;
  const outside = [[range.fromMs, startMs] as const, [end, range.toMs] as const];
  return [...inside, ...outside.filter(([from, to]) => to > from)];
}

/** Faults with a row of their own for each text, as far as three rows go; the first of each bears its text. */
export function faultRows(faults: PowerSeries['faults']) {
  const texts = [...new Set(faults.map(({ text }) => text))];
  return faults.map((run) => ({
    ...run,
    row: texts.indexOf(run.text) % 3,
    isFirst: faults.find(({ text }) => text === run.text) === run,
  }));
}
