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
  for (let hour = 0; hour < hours; hour++)
    if (!putHour(demand, parameters, hour, cellsAnHour, first)) known[hour] = hour;
  for (let hour = hours - 1; hour >= 0; hour--) if (known[hour] !== hour) known[hour] = known[hour + 1]!;
  const levels = [first];
  for (let span = 1; span * 2 <= horizonH; span *= 2) levels.push(doubled(levels.at(-1)!, span));
  return { demand, parameters, horizonH, levels, known, cellsAnHour };
}

/** Puts the cells of an hour together; false where one of them is not known. */
function putHour(
  demand: Demand,
  parameters: StorageParameters,
  hour: number,
  cells: number,
  into: Stretch,
): boolean {
  const { load, use, solar, overLeg } = demand;
  const { capacityWh } = parameters;
  const cellH = demand.stepMs / HOUR_MS;
  let change = 0;
  let top = Infinity;
  let need = 0;
  for (let cell = hour * cells, end = cell + cells; cell < end; cell++) {
    const used = load[cell]! * use;
    const own = islandChange(parameters, used, solar[cell]!, overLeg === null ? 0 : overLeg[cell]!, cellH);
    // The cell's own form: change, full at most, and enough for itself.
    const least = islandNeed(parameters, used, own);
    if (least - change > need) need = least - change;
    if (top < least) need = Infinity;
    change += own;
    top += own;
    if (top > capacityWh) top = capacityWh;
  }
  into.change[hour] = change;
  into.top[hour] = top;
  into.need[hour] = need;
  return change === change;
}

/** Stretches of so many hours put together two by two, from every hour on. */
function doubled({ change, top, need }: Stretch, span: number): Stretch {
  const both = stretchOf(change.length);
  for (let hour = 0, then = span; then + span <= change.length; hour++, then++) {
    both.change[hour] = change[hour]! + change[then]!;
    both.top[hour] = Math.min(top[then]!, top[hour]! + change[then]!);
    both.need[hour] =
      top[hour]! < need[then]! ? Infinity : Math.max(need[hour]!, need[then]! - change[hour]!);
  }
  return both;
}
