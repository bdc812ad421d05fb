import { quantile, quantileOf } from '../../statistics/quantile.js';

/** Days on either side that tell how the sun goes over a day. */
const AROUND_DAYS = 20;
const ROUNDS = 4;
/** A slot of the day needs so many days on which solar was free there. */
const LEAST_DAYS = 4;
/** Where solar stood at a limit on more of the days than this, those on which it was free were dull: they tell no shape. */
const MOST_LIMITED = 0.25;
/** Slots so far away, h, tell half as much of how bright it is. */
const NEAR_H = 1.5;
/** Free slots must give so much of the day's shape together to tell how bright the day is. */
const LEAST_SHAPE = 0.15;
/** Between the hours at a limit lie the duller ones: those at it were as bright as this share of the others is at most. */
const BRIGHTER = 0.7;
/** A day is not brighter than its neighbours by more than this. */
const BRIGHTEST = 1.25;
/** The course of a day is bent against the clear sky's by no more than this power. */
const STRONGEST_BEND = 1.5;
/** Below this share of the shape's highest the sun is too low to tell anything. */
const LOW = 0.05;
/** With fewer tried days nothing is known of how far the whole estimate lies off. */
const LEAST_TRIED = 5;
/** So many days are tried for how far the estimate lies off. */
const MOST_TRIALS = 60;

/** Solar by day and slot of the day. */
export interface SunTable {
  readonly days: number;
  readonly slots: number;
  /** Length of a slot, h. */
  readonly slotH: number;
  /** Mean power where solar was free and known, W, row by row; NaN elsewhere. */
  readonly free: Float64Array;
  /** 1 where solar stood at a limit. */
  readonly limited: Uint8Array;
  /** What a clear sky gives in each slot, reckoned in several ways, each on a scale of its own; the one that fits is taken. */
  readonly skies: readonly Float64Array[];
}

/** What solar could have given in the slots in which it stood at a limit. */
export interface UnlimitedSun {
  /** W, by day and slot; NaN where solar was free, or nothing tells. */
  readonly watts: Float64Array;
  /** Relative error of the energy of one day's limited slots, as tried on days that were free: bias and standard deviation. */
  readonly bias: number;
  readonly deviation: number;
  /** False where hardly a day was free in the same slots: their course rests on the clear sky alone. */
  readonly isTried: boolean;
  /** Limited slots for which nothing tells. */
  readonly untold: number;
}

/**
 * What the sun would have given while something held solar back: the course of a day is a shape that neighbouring days
 * share times how bright each day is around the hours in question. Shape and brightness are found in turn from the slots in
 * which solar was free; a cloudy day shows the shape of a noon that on clear days is clipped.
 * @source a rank-one fit with missing values, by medians in turn; common practice for lost solar energy, no published source
 */
export function unlimitedSun(table: SunTable): UnlimitedSun {
  const { days, slots, limited } = table;
  const watts = new Float64Array(days * slots).fill(NaN);
  let untold = 0;
  const errors: number[] = [];
  const needed = Array.from({ length: days }, (_, day) => day).filter((day) =>
    limited.subarray(day * slots, (day + 1) * slots).includes(1),
  );
  const every = Math.max(1, Math.ceil(needed.length / MOST_TRIALS));
  for (const [at, day] of needed.entries()) {
    const shape = shapeAround(table, day);
    for (let slot = 0; slot < slots; slot++) {
      if (limited[day * slots + slot] === 0) continue;
      const value = shape ? valueAt(table, shape, day, slot, limited, day) : NaN;
      if (value === value) watts[day * slots + slot] = value;
      else untold++;
    }
    if (shape && at % every === 0) errors.push(...triedAround(table, shape, day));
  }
  const sorted = Float64Array.from(errors).sort();
  const middle = sorted.length > 0 ? quantile(sorted, 0.5) : 0;
  const isTried = sorted.length >= LEAST_TRIED;
  const spread = isTried ? (quantile(sorted, 0.84) - quantile(sorted, 0.16)) / 2 : 0.15;
  return { watts, bias: middle, deviation: spread, isTried, untold };
}

/** The shape of a day by slot, W at the brightness of a usual day; NaN where too few days tell. Null where none does. */
function shapeAround({ days, slots, free, limited, skies }: SunTable, day: number): Float64Array | null {
  const from = Math.max(0, day - AROUND_DAYS);
  const to = Math.min(days, day + AROUND_DAYS + 1);
  const bright = new Float64Array(to - from).fill(1);
  const shape = new Float64Array(slots).fill(NaN);
  const tells = Array.from({ length: slots }, (_, slot) => {
    let [held, seen] = [0, 0];
    for (let d = from; d < to; d++) {
      if (limited[d * slots + slot] === 1) held++;
      else if (free[d * slots + slot] === free[d * slots + slot]) seen++;
    }
    return held <= MOST_LIMITED * (held + seen);
  });
  for (let round = 0; round < ROUNDS; round++) {
    for (let slot = 0; slot < slots; slot++) {
      if (!tells[slot]) continue;
      const own: number[] = [];
      for (let d = from; d < to; d++) {
        const value = free[d * slots + slot]! / bright[d - from]!;
        // A very dark day tells the shape of clouds.
        if (!(bright[d - from]! > 0.25)) continue;
        if (value === value) own.push(value);
      }
      shape[slot] =
        own.length >= LEAST_DAYS ? quantileOf(Float64Array.from(own), round === 0 ? 0.8 : 0.5) : NaN;
    }
    for (let d = from; d < to; d++) {
      let [made, usual] = [0, 0];
      for (let slot = 0; slot < slots; slot++) {
        const value = free[d * slots + slot]!;
        if (value !== value || shape[slot] !== shape[slot]) continue;
        made += value;
        usual += shape[slot]!;
      }
      bright[d - from] = usual > 0 ? Math.min(BRIGHTEST, made / usual) : NaN;
    }
  }
  const fits = skies.flatMap((sky) => bentSky(shape, sky.subarray(day * slots, (day + 1) * slots)) ?? []);
  const best = fits.sort((one, other) => one.residual - other.residual)[0];
  return best ? bridged(shape, best) : null;
}

/** A clear sky bent to the course that the slots with a value show. */
interface BentSky {
  readonly sky: Float64Array;
  /** Slots that tell, in order. */
  readonly known: readonly number[];
  /** Mean square of what is left of the logarithms. */
  readonly residual: number;
}

/**
 * Warm panels, haze and the air's mass bend the course of a day: by a power of the clear sky's, fitted to the logarithms,
 * morning and afternoon each on a scale of its own, as one may lie in the shade. Null where too few slots tell.
 */
function bentSky(shape: Float64Array, clear: Float64Array): BentSky | null {
  const highest = clear.reduce((most, value) => (value > most ? value : most), 0);
  // Low suns have ratios of their own: shade, and what the air does.
  const known = Array.from(shape.keys()).filter(
    (slot) => shape[slot]! > 0 && clear[slot]! > 2 * LOW * highest,
  );
  if (known.length < LEAST_DAYS) return null;
  const noon = clear.indexOf(highest);
  const points: { readonly x: number; readonly y: number }[] = [];
  for (const half of [known.filter((slot) => slot <= noon), known.filter((slot) => slot > noon)]) {
    const mean = (of: Float64Array) => half.reduce((sum, slot) => sum + Math.log(of[slot]!), 0) / half.length;
    const [x, y] = [mean(clear), mean(shape)];
    for (const slot of half) points.push({ x: Math.log(clear[slot]!) - x, y: Math.log(shape[slot]!) - y });
  }
  const squares = points.reduce((sum, { x }) => sum + x * x, 0);
  const slope = squares > 0 ? points.reduce((sum, { x, y }) => sum + x * y, 0) / squares : 1;
  const bend = Math.min(STRONGEST_BEND, Math.max(1 / STRONGEST_BEND, slope));
  const residual = points.reduce((sum, { x, y }) => sum + (y - bend * x) ** 2, 0) / points.length;
  return { sky: clear.map((value) => value ** bend), known, residual };
}

/** Slots without a value follow the bent sky, by the ratio to it that the nearest slots with one have on either side. */
function bridged(shape: Float64Array, { sky, known }: BentSky): Float64Array {
  const ratio = (slot: number) => shape[slot]! / sky[slot]!;
  return shape.map((value, slot) => {
    if (value === value) return value;
    const left = known.findLast((one) => one < slot);
    const right = known.find((one) => one > slot);
    if (left === undefined || right === undefined) return sky[slot]! * ratio((left ?? right)!);
    const t = (slot - left) / (right - left);
    return sky[slot]! * (ratio(left) * (1 - t) + ratio(right) * t);
  });
}

/** What a slot of a day would have given, by how bright the day was around it; NaN where nothing tells. */
function valueAt(
  { slots, slotH, free }: SunTable,
  shape: Float64Array,
  day: number,
  slot: number,
  without: Uint8Array,
  withoutDay: number,
): number {
  if (shape[slot] !== shape[slot]) return NaN;
  const highest = shape.reduce((most, value) => (value > most ? value : most), 0);
  const seen: { readonly bright: number; readonly weight: number }[] = [];
  let [open, whole, weights] = [0, 0, 0];
  for (let other = 0; other < slots; other++) {
    const form = shape[other]!;
    if (!(form > LOW * highest)) continue;
    whole += form;
    const value = free[day * slots + other]!;
    if (value !== value || without[withoutDay * slots + other] === 1) continue;
    open += form;
    const weight = form * 2 ** (-(Math.abs(other - slot) * slotH) / NEAR_H);
    seen.push({ bright: value / form, weight });
    weights += weight;
  }
  if (open < LEAST_SHAPE * whole) return NaN;
  seen.sort((one, other) => one.bright - other.bright);
  let below = 0;
  const bright = seen.find(({ weight }) => (below += weight) >= BRIGHTER * weights)!.bright;
  return shape[slot]! * Math.min(BRIGHTEST, bright);
}

/** The estimate tried on neighbouring days that were free in the same slots: relative errors of their energy. */
function triedAround(table: SunTable, shape: Float64Array, day: number): number[] {
  const { days, slots, free, limited } = table;
  const errors: number[] = [];
  for (let d = Math.max(0, day - AROUND_DAYS); d < Math.min(days, day + AROUND_DAYS + 1); d++) {
    let [told, real, isWhole] = [0, 0, d !== day];
    for (let slot = 0; isWhole && slot < slots; slot++) {
      if (limited[day * slots + slot] === 0) continue;
      const truth = free[d * slots + slot]!;
      const value = valueAt(table, shape, d, slot, limited, day);
      isWhole = truth === truth && value === value;
      told += value;
      real += truth;
    }
    if (isWhole && real > 0 && told > 0) errors.push((told - real) / told);
  }
  return errors;
}
