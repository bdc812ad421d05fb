import { islandChange, islandNeed } from './step.js';
import type { StorageParameters } from './parameters.js';

const HOUR_MS = 3_600_000;

/** Load and sun by cells of one length; a cell with NaN in it is not known. */
export interface Demand {
  readonly load: ArrayLike<number>;
  /** Factor on the load, for a meter that errs. */
  readonly use: number;
  readonly solar: ArrayLike<number>;
  /** 1 in cells in which a leg carries more than it may; null where nothing is known of legs. */
  readonly overLeg: ArrayLike<number> | null;
  readonly stepMs: number;
}

/**
 * What a stretch of time does to a store: with e in it at the beginning, min(top, e + change) is in it at the end, if e is
 * at least `need`, else it has run empty on the way. Two stretches after each other are again of this form, which is why
 * ten years of starts need not be gone through start by start.
 */
interface Stretch {
  readonly change: Float64Array;
  readonly top: Float64Array;
  readonly need: Float64Array;
}

/** Change of what is stored in one cell of a demand without a grid, Wh, as {@link islandChange} has it. */
export function changeInCell(
  { load, use, solar, overLeg, stepMs }: Demand,
  parameters: StorageParameters,
  cell: number,
): number {
  const over = overLeg === null ? 0 : overLeg[cell]!;
  return islandChange(parameters, load[cell]! * use, solar[cell]!, over, stepMs / HOUR_MS);
}

/** A demand on a store by hours: every hour, and every 2, 4, 8 … hours from it on, put together. */
export interface Composed {
  readonly demand: Demand;
  readonly parameters: StorageParameters;
  readonly horizonH: number;
  readonly levels: readonly Stretch[];
  /** For each hour, the first hour from it on in which something is not known. */
  readonly known: Int32Array;
  readonly cellsAnHour: number;
}

function stretchOf(count: number): Stretch {
  return {
    change: new Float64Array(count),
    top: new Float64Array(count),
    need: new Float64Array(count),
  };
}

/**
 * Puts the cells of a demand together to hours, and these to stretches of 2, 4, 8 … hours up to a horizon. Cost: the cells
 * once, and one step for every hour and doubling.
 */
export function compose(demand: Demand, parameters: StorageParameters, horizonH: number): Composed {
  const cellsAnHour = Math.round(HOUR_MS / demand.stepMs);
  const hours = Math.floor(demand.load.length / cellsAnHour);
  const first = stretchOf(hours);
  const known = new Int32Array(hours + 1).fill(hours);
  const { load, use } = demand;
  const { capacityWh } = parameters;
  for (let hour = 0, cell = 0; hour < hours; hour++) {
    let change = 0;
    let top = Infinity;
    let need = 0;
    for (const end = cell + cellsAnHour; cell < end; cell++) {
      const own = changeInCell(demand, parameters, cell);
      if (own !== own) known[hour] = hour;
      // The cell's own form: change, full at most, and enough for itself.
      const least = islandNeed(parameters, load[cell]! * use, own);
      if (least - change > need) need = least - change;
      if (top < least) need = Infinity;
      change += own;
      top += own;
      if (top > capacityWh) top = capacityWh;
    }
    first.change[hour] = change;
    first.top[hour] = top;
    first.need[hour] = need;
  }
  for (let hour = hours - 1; hour >= 0; hour--) if (known[hour] !== hour) known[hour] = known[hour + 1]!;
  const levels = [first];
  for (let span = 1; span * 2 <= horizonH; span *= 2) {
    const half = levels.at(-1)!;
    const both = stretchOf(hours);
    for (let hour = 0; hour + span * 2 <= hours; hour++) {
      const then = hour + span;
      both.change[hour] = half.change[hour]! + half.change[then]!;
      both.top[hour] = Math.min(half.top[then]!, half.top[hour]! + half.change[then]!);
      both.need[hour] =
        half.top[hour]! < half.need[then]!
          ? Infinity
          : Math.max(half.need[hour]!, half.need[then]! - half.change[hour]!);
    }
    levels.push(both);
  }
  return { demand, parameters, horizonH, levels, known, cellsAnHour };
}
