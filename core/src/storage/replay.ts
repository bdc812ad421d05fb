import { changeInCell, type Composed } from './compose.js';
import { islandNeed } from './step.js';

/** How long the home is carried from a start on. */
export interface Run {
  readonly hours: number;
  /** True where the log or the horizon ended first: it lasts at least so long. */
  readonly isCensored: boolean;
}

/**
 * How long a home lasts without the grid from every full hour of its log on, exactly as going through it cell by cell
 * would find. Cost: a step for every doubling of the horizon and start.
 * @param charge energy above the cut-off at each hour's beginning, Wh; NaN where it is not known: no start then
 * @returns for each hour, null where there is no start
 */
export function replay(composed: Composed, charge: ArrayLike<number>): (Run | null)[] {
  const hours = composed.known.length - 1;
  const runs = new Array<Run | null>(hours);
  for (let start = 0; start < hours; start++) runs[start] = lastingFrom(composed, start, charge[start]!);
  return runs;
}

function lastingFrom(
  { demand, parameters, horizonH, levels, known, cellsAnHour }: Composed,
  start: number,
  charge: number,
): Run | null {
  const { capacityWh } = parameters;
  let stored = Math.min(capacityWh, charge);
  if (stored !== stored || known[start] === start) return null;
  const last = Math.min(known[start]!, start + horizonH);
  let hour = start;
  for (;;) {
    for (let level = levels.length - 1; level >= 0; level--) {
      const { change, top, need } = levels[level]!;
      const span = 1 << level;
      while (hour + span <= last && stored >= need[hour]!) {
        stored = Math.min(top[hour]!, stored + change[hour]!);
        hour += span;
      }
    }
    if (hour >= last) return { hours: hour - start, isCensored: true };
    for (let cell = hour * cellsAnHour; cell < (hour + 1) * cellsAnHour; cell++) {
      const own = changeInCell(demand, parameters, cell);
      if (stored < islandNeed(parameters, demand.load[cell]! * demand.use, own))
        return { hours: (cell - start * cellsAnHour) / cellsAnHour, isCensored: false };
      stored = Math.min(capacityWh, stored + own);
    }
    // By a rounding the hour put together needs more than its cells one by one do: the cells are right.
    hour++;
  }
}

/**
 * The least energy above the cut-off that carries the home for so many hours from each full hour on, Wh; Infinity where
 * none does, NaN where the log does not tell.
 * @param hoursLong no more than the horizon
 */
export function needFor({ parameters, levels, known }: Composed, hoursLong: number): Float64Array {
  const hours = known.length - 1;
  return Float64Array.from({ length: hours }, (_, start) => {
    if (known[start]! < start + hoursLong) return NaN;
    let [change, top, need, hour, left] = [0, Infinity, 0, start, hoursLong];
    for (let level = levels.length - 1; level >= 0; level--) {
      const span = 1 << level;
      const next = levels[level]!;
      while (left >= span) {
        need = top < next.need[hour]! ? Infinity : Math.max(need, next.need[hour]! - change);
        top = Math.min(next.top[hour]!, top + next.change[hour]!);
        change += next.change[hour]!;
        hour += span;
        left -= span;
      }
    }
    return need > parameters.capacityWh ? Infinity : need;
  });
}
