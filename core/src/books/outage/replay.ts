/** What a home runs on without the grid. Energies are those the battery delivers, on the home's side. */
export interface Store {
  /** From the cut-off to full, Wh. */
  readonly capacityWh: number;
  /** What the battery and inverter draw beside the load, W. */
  readonly idleW: number;
  /** Share of what is charged that comes out again. */
  readonly roundTrip: number;
  /** Highest charge, W. */
  readonly chargeW: number;
  /** Highest load that the inverter carries from the battery, W; above it the home goes dark. */
  readonly limitW: number;
  /** With less than this above the cut-off, Wh, the inverter carries no more than `weakW`. */
  readonly weakBelowWh: number;
  readonly weakW: number;
}

/** Load and solar by cells of one length; a cell with NaN in it is not known. */
export interface Demand {
  readonly load: ArrayLike<number>;
  /** Factor on the load, for a meter that errs. */
  readonly use: number;
  readonly solar: ArrayLike<number>;
  /** 1 in cells in which a leg carries more than it may; null where nothing is known of legs. */
  readonly overLeg: ArrayLike<number> | null;
  readonly stepMs: number;
}

/** How long a start lasts. */
export interface Lasting {
  readonly hours: number;
  /** True where the log or the horizon ended first: it lasts at least so long. */
  readonly isCensored: boolean;
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

const HOUR_MS = 3_600_000;

/** Change of the store in one cell, Wh; −Infinity where the load is more than the inverter carries, NaN where unknown. */
export function changeOf(
  { load, use, solar, overLeg, stepMs }: Demand,
  { idleW, roundTrip, chargeW, limitW }: Store,
  cell: number,
): number {
  const used = load[cell]! * use;
  const hours = stepMs / HOUR_MS;
  const net = used - solar[cell]!;
  if (net !== net) return NaN;
  if (used > limitW || (overLeg !== null && overLeg[cell] === 1)) return -Infinity;
  if (net >= 0) return -(net + idleW) * hours;
  return (Math.min(-net, chargeW) * roundTrip - idleW) * hours;
}

/** What must be in the store at the beginning of a cell that changes it so, Wh. */
export function needOf(
  { load }: Demand,
  { weakBelowWh, weakW }: Store,
  cell: number,
  change: number,
): number {
  return Math.max(-change, load[cell]! > weakW ? weakBelowWh : 0);
}

/** A demand on a store by hours: every hour, and every 2, 4, 8 … hours from it on, put together. */
export interface Composed {
  readonly demand: Demand;
  readonly store: Store;
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
export function compose(demand: Demand, store: Store, horizonH: number): Composed {
  const cellsAnHour = Math.round(HOUR_MS / demand.stepMs);
  const hours = Math.floor(demand.load.length / cellsAnHour);
  const first = stretchOf(hours);
  const known = new Int32Array(hours + 1).fill(hours);
  const { load, use, solar, overLeg, stepMs } = demand;
  const { idleW, roundTrip, chargeW, limitW, capacityWh, weakBelowWh, weakW } = store;
  const cellH = stepMs / HOUR_MS;
  for (let hour = 0, cell = 0; hour < hours; hour++) {
    let change = 0;
    let top = Infinity;
    let need = 0;
    for (const end = cell + cellsAnHour; cell < end; cell++) {
      // As changeOf and needOf have it, written out: this runs for every minute of ten years.
      const used = load[cell]! * use;
      const net = used - solar[cell]!;
      if (net !== net) known[hour] = hour;
      let own = net >= 0 ? -(net + idleW) * cellH : (Math.min(-net, chargeW) * roundTrip - idleW) * cellH;
      if (used > limitW || (overLeg !== null && overLeg[cell] === 1)) own = -Infinity;
      // The cell's own form: change, full at most, and enough for itself.
      let least = -own;
      if (used > weakW && weakBelowWh > least) least = weakBelowWh;
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
  return { demand, store, horizonH, levels, known, cellsAnHour };
}

/**
 * How long a home lasts without the grid from every full hour of its log on, exactly as going through it cell by cell
 * would find. Cost: a step for every doubling of the horizon and start.
 * @param charge energy above the cut-off at each hour's beginning, Wh; NaN where it is not known: no start then
 * @returns for each hour, null where there is no start
 */
export function replay(
  { demand, store, horizonH, levels, known, cellsAnHour }: Composed,
  charge: ArrayLike<number>,
): (Lasting | null)[] {
  const hours = known.length - 1;
  const lastingFrom = (start: number): Lasting | null => {
    let stored = Math.min(store.capacityWh, charge[start]!);
    if (stored !== stored || known[start] === start) return null;
    const last = Math.min(known[start]!, start + horizonH);
    let hour = start;
    for (;;) {
      for (let level = levels.length - 1; level >= 0; level--) {
        const { change, top, need } = levels[level]!;
        const span = 2 ** level;
        while (hour + span <= last && stored >= need[hour]!) {
          stored = Math.min(top[hour]!, stored + change[hour]!);
          hour += span;
        }
      }
      if (hour >= last) return { hours: hour - start, isCensored: true };
      for (let cell = hour * cellsAnHour; cell < (hour + 1) * cellsAnHour; cell++) {
        const own = changeOf(demand, store, cell);
        if (stored < needOf(demand, store, cell, own))
          return { hours: (cell - start * cellsAnHour) / cellsAnHour, isCensored: false };
        stored = Math.min(store.capacityWh, stored + own);
      }
      // By a rounding the hour put together needs more than its cells one by one do: the cells are right.
      hour++;
    }
  };
  const runs = new Array<Lasting | null>(hours);
  for (let start = 0; start < hours; start++) runs[start] = lastingFrom(start);
  return runs;
}

/**
 * The least energy above the cut-off that carries the home for so many hours from each full hour on, Wh; Infinity where
 * none does, NaN where the log does not tell.
 * @param hoursLong no more than the horizon
 */
export function needFor({ store, levels, known }: Composed, hoursLong: number): Float64Array {
  const hours = known.length - 1;
  return Float64Array.from({ length: hours }, (_, start) => {
    if (known[start]! < start + hoursLong) return NaN;
    let [change, top, need, hour, left] = [0, Infinity, 0, start, hoursLong];
    for (let level = levels.length - 1; level >= 0; level--) {
      const span = 2 ** level;
      const next = levels[level]!;
      while (left >= span) {
        need = top < next.need[hour]! ? Infinity : Math.max(need, next.need[hour]! - change);
        top = Math.min(next.top[hour]!, top + next.change[hour]!);
        change += next.change[hour]!;
        hour += span;
        left -= span;
      }
    }
    return need > store.capacityWh ? Infinity : need;
  });
}
