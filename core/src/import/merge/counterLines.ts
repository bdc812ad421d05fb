import type { Flow } from '../../model/quantity.js';

/**
 * A counter's course as parts of the stretches between its ticks. Each part lies in one interval between two readings;
 * energy may be shifted among the parts of a stretch, never from one stretch into another.
 */
export interface CounterLines {
  /** Wh of each stretch. */
  readonly energies: Float64Array;
  /** The stretch of each part, and the interval it lies in: that which ends with the reading of this number. */
  readonly stretch: Uint32Array;
  readonly interval: Uint32Array;
  /** Wh of each part. */
  readonly wh: Float64Array;
}

/** Between two ticks: so much energy, evenly spread as far as is known. */
interface Stretch {
  readonly from: number;
  readonly to: number;
  readonly wh: number;
}

/** A stretch so many times as long as both its neighbours is one in which the flow stopped in between. */
const STOPPED = 6;

/**
 * The course of a counter whose last digit is coarse for the step: lines between the instants at which it ticks, instead
 * of nothing between them and a digit's worth of power in the step of each. Over any range the energy is that between
 * its readings to a digit.
 * @param risen Wh since the reading before; 0 at the first
 * @param digitWh last digit
 * @param runs rows [from, to) that follow each other without a gap
 */
export function counterLines(
  timeMs: Float64Array,
  risen: Float64Array,
  digitWh: number,
  runs: readonly (readonly [from: number, to: number])[],
): CounterLines {
  const stretches = runs.flatMap(([from, to]) => withStops(stretchesOf(timeMs, risen, digitWh, from, to)));
  const most = timeMs.length + 2 * stretches.length;
  const [stretch, interval, wh] = [new Uint32Array(most), new Uint32Array(most), new Float64Array(most)];
  let count = 0;
  let i = 1;
  stretches.forEach((own, k) => {
    while (i > 1 && timeMs[i - 1]! > own.from) i--;
    for (; i < timeMs.length; i++) {
      const overlap = Math.min(own.to, timeMs[i]!) - Math.max(own.from, timeMs[i - 1]!);
      if (overlap > 0) {
        stretch[count] = k;
        interval[count] = i;
        wh[count++] = (own.wh * overlap) / (own.to - own.from);
      }
      if (timeMs[i]! >= own.to) break;
    }
  });
  return {
    energies: Float64Array.from(stretches, (own) => own.wh),
    stretch: stretch.slice(0, count),
    interval: interval.slice(0, count),
    wh: wh.slice(0, count),
  };
}

/** From tick to tick; a reading that rises by several digits crosses the first and the last of them within its step. */
function stretchesOf(
  timeMs: Float64Array,
  risen: Float64Array,
  digitWh: number,
  first: number,
  end: number,
): Stretch[] {
  const stretches: Stretch[] = [];
  let from = timeMs[first]!;
  const until = (to: number, wh: number) => {
    stretches.push({ from, to, wh });
    from = to;
  };
  for (let i = first + 1; i < end; i++) {
    const wh = risen[i]!;
    if (!(wh > 0)) continue;
    const digits = Math.max(1, Math.round(wh / digitWh));
    const half = (timeMs[i]! - timeMs[i - 1]!) / (2 * digits);
    until(timeMs[i - 1]! + half, wh / digits);
    if (digits > 1) until(timeMs[i]! - half, wh - wh / digits);
  }
  return stretches;
}

/** Where a flow stopped between two ticks, half of the digit belongs to its end and half to its new beginning. */
function withStops(stretches: readonly Stretch[]): Stretch[] {
  return stretches.flatMap((stretch, i) => {
    const { from, to, wh } = stretch;
    const [before, after] = [stretches[i - 1], stretches[i + 1]];
    if (!before || !after) return [stretch];
    const [out, into] = [before.to - before.from, after.to - after.from];
    if (to - from < STOPPED * Math.max(out, into)) return [stretch];
    return [
      { from, to: from + out, wh: wh / 2 },
      { from: to - into, to, wh: wh / 2 },
    ];
  });
}

/** Wh in each interval between readings, by the number of the reading that ends it. */
export function energiesOf(counters: readonly CounterLines[], readings: number): Float64Array {
  const sums = new Float64Array(readings);
  for (const { interval, wh } of counters) for (let p = 0; p < wh.length; p++) sums[interval[p]!]! += wh[p]!;
  return sums;
}

/** Rounds in which the lines of a file are brought into agreement. */
const ROUNDS = 12;
/** So little is left of a part where nothing should flow, for the case that it has nowhere else to go. */
const LEFT_OVER = 1e-6;
const SOURCES: readonly Flow[] = ['solar', 'import', 'discharge'];
const USES: readonly Flow[] = ['load', 'export', 'charge'];
const OPPOSED: readonly (readonly [Flow, Flow])[] = [
  ['import', 'export'],
  ['charge', 'discharge'],
];

/**
 * Shifts energy within the ticks of a file's counters so that they agree: a battery does not charge and discharge at once
 * nor a home buy and sell, and where all six flows are counted, sources equal uses in each interval. What each counter
 * ticked stays what it is (iterative proportional fitting, Deming & Stephan 1940).
 */
export function settleLines(flows: ReadonlyMap<Flow, readonly CounterLines[]>, readings: number): void {
  const isWhole = [...SOURCES, ...USES].every((flow) => flows.has(flow));
  const pairs = OPPOSED.filter((pair) => pair.every((flow) => flows.has(flow)));
  if (!isWhole && pairs.length === 0) return;
  for (let round = 0; round < ROUNDS; round++) {
    for (const [one, other] of pairs) {
      const [a, b] = [energiesOf(flows.get(one)!, readings), energiesOf(flows.get(other)!, readings)];
      const left = (own: Float64Array, against: Float64Array) =>
        own.map((wh, i) => (wh > 0 ? Math.max(LEFT_OVER, (wh - against[i]!) / wh) : 1));
      weigh(flows.get(one)!, left(a, b));
      weigh(flows.get(other)!, left(b, a));
    }
    if (!isWhole) continue;
    const sum = (list: readonly Flow[]) =>
      energiesOf(
        list.flatMap((flow) => flows.get(flow)!),
        readings,
      );
    const [into, out] = [sum(SOURCES), sum(USES)];
    const factor = into.map((wh, i) => (wh > 0 && out[i]! > 0 ? Math.sqrt(out[i]! / wh) : 1));
    for (const flow of SOURCES) weigh(flows.get(flow)!, factor);
    for (const flow of USES)
      weigh(
        flows.get(flow)!,
        factor.map((one) => 1 / one),
      );
  }
}

/** Multiplies the parts of each interval by its factor, and brings each stretch back to its energy. */
function weigh(counters: readonly CounterLines[], factor: Float64Array): void {
  for (const { energies, stretch, interval, wh } of counters) {
    const sums = new Float64Array(energies.length);
    for (let p = 0; p < wh.length; p++) {
      wh[p]! *= factor[interval[p]!]!;
      sums[stretch[p]!]! += wh[p]!;
    }
    for (let p = 0; p < wh.length; p++) wh[p]! *= energies[stretch[p]!]! / sums[stretch[p]!]!;
  }
}
