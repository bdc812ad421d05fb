import type { Column, SourceLog, UnshapedEnergy } from '../../model/log.js';
import type { Quantity } from '../../model/quantity.js';

const HOUR_MS = 3_600_000;

/** States noted at single instants, on no step. */
export interface NotedState {
  readonly quantity: Quantity;
  readonly timeMs: ArrayLike<number>;
  /** NaN where it was not noted. */
  readonly values: ArrayLike<number>;
  readonly resolution: number;
}

/**
 * Energies without a course and states noted now and then, on a grid of hours: each state stands in the hour in which it
 * was noted and nowhere else, since between two notes anything may have happened.
 */
export function sparseLog(
  name: string,
  lumps: readonly UnshapedEnergy[],
  states: readonly NotedState[],
): Omit<SourceLog, 'findings'> {
  const times = [
    ...lumps.flatMap(({ fromMs, toMs }) => [fromMs, toMs]),
    ...states.flatMap(({ timeMs }) => [Math.min(...Array.from(timeMs)), Math.max(...Array.from(timeMs)) + 1]),
  ];
  const startMs = Math.min(
    ...times.map((ms) => Math.floor(ms / HOUR_MS) * HOUR_MS),
    ...lumps.map(({ fromMs }) => fromMs),
  );
  const count = Math.ceil((Math.max(...times) - startMs) / HOUR_MS);
  const columns = new Map<Quantity, Column>();
  for (const { quantity, timeMs, values, resolution } of states) {
    const cells = new Float64Array(count).fill(NaN);
    for (let i = 0; i < values.length; i++) {
      const cell = Math.floor((timeMs[i]! - startMs) / HOUR_MS);
      if (!Number.isNaN(values[i]!)) cells[cell] = values[i]!;
    }
    if (cells.some((value) => !Number.isNaN(value)))
      columns.set(quantity, { values: cells, resolution, isNoted: true });
  }
  return { name, startMs, stepMs: HOUR_MS, count, lumps, columns };
}
