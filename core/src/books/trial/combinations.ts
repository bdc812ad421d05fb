import { z } from 'zod';
import { parseJson } from '../../model/validation.js';
import { configurationsOf } from '../../system/configuration.js';
import type { System } from '../../system/schema.js';

const appliance = z.object({
  name: z.string().min(1).max(200),
  watts: z.number().min(0).max(1e6),
  /** Times the running power that it takes as it starts. */
  startFactor: z.number().min(1).max(20).default(1),
  leg: z.union([z.literal(1), z.literal(2), z.literal(3), z.literal('both')]).optional(),
  essential: z.boolean().default(false),
  canWait: z.boolean().default(false),
});
/** The appliance list, `long-tally/appliances@1`. */
export const appliancesSchema = z.object({
  schema: z.literal('long-tally/appliances@1').optional(),
  appliances: z.array(appliance).min(1).max(60),
});
export type Appliance = z.infer<typeof appliance>;

/** Times the running power that appliances usually take as they start: common practice, no published source. */
export const USUAL_STARTS: readonly (readonly [name: string, factor: number])[] = [
  ['oven, kettle, heater', 1],
  ['lights, electronics', 1],
  ['fridge, freezer', 3],
  ['washing machine', 3],
  ['water pump', 4],
  ['air conditioner, heat pump with a soft start', 2],
  ['air conditioner without one', 5],
  ['workshop motor, compressor', 6],
];

/** A smallest combination that exceeds a limit: take away any one of it, and it does not. */
export interface FailingCombination {
  readonly appliances: readonly string[];
  readonly limit: 'continuous' | 'batteryOnly' | 'surge' | 'leg';
  readonly leg?: number;
  readonly watts: number;
  readonly limitW: number;
}

/** What fails with a number of inverters, and where appliances without a leg should sit. */
export interface CombinationsOfUnits {
  readonly units: number;
  readonly combinations: readonly FailingCombination[];
  readonly moves: readonly {
    readonly appliance: string;
    readonly toLeg: number;
    readonly imbalance: number;
  }[];
}

/** Of each limit the smallest are listed, no more than so many. */
const MOST = 200;
/** Sets of more appliances than this are not searched: what takes so many to fail is no combination one can remember. */
const LARGEST = 8;
const MOST_PLACED = 14;

/**
 * An appliance list from the text of its file, `long-tally/appliances@1`.
 * @throws InputError with one problem for each key that is wrong
 */
export function parseAppliances(text: string, where: string): Appliance[] {
  return parseJson(appliancesSchema, text, where, 'an appliance list, schema long-tally/appliances@1')
    .appliances;
}

/**
 * The smallest combinations of appliances that exceed the continuous, battery-only, surge or leg limit with each number of
 * inverters; the described limits are those of all described units together.
 */
export function combinationsOf(
  appliances: readonly Appliance[],
  system: System,
  units: readonly number[],
): CombinationsOfUnits[] {
  const { limits, described } = configurationsOf(system).at(-1)!;
  const inverter = described?.inverter;
  const installed = inverter?.units ?? 1;
  const legs = inverter?.legs ?? 1;
  const surgeW = inverter?.surgeKW === undefined ? null : inverter.surgeKW * 1000;
  return units.map((count) => {
    const scaled = (watts: number | null) => (watts === null ? null : (watts * count) / installed);
    const plain = (one: Appliance) => one.watts;
    const combinations = [
      ...smallest(appliances, plain, 'continuous', scaled(limits.continuousW)),
      ...smallest(appliances, plain, 'batteryOnly', scaled(limits.batteryOnlyW)),
      ...smallestStarts(appliances, scaled(surgeW)),
      ...(legs > 1
        ? Array.from({ length: legs }, (_, k) => k + 1).flatMap((leg) =>
            smallest(
              appliances.filter((one) => one.leg === leg || one.leg === 'both' || one.leg === undefined),
              (one) => (one.leg === 'both' ? one.watts / legs : one.watts),
              'leg',
              scaled(limits.perLegW),
              leg,
            ),
          )
        : []),
    ];
    return {
      units: count,
      combinations: combinations.sort(
        (one, other) => one.appliances.length - other.appliances.length || other.watts - one.watts,
      ),
      moves: legs > 1 ? placed(appliances, legs) : [],
    };
  });
}

/** Smallest sets whose sum exceeds a limit. */
function smallest(
  appliances: readonly Appliance[],
  wattsOf: (one: Appliance) => number,
  limit: FailingCombination['limit'],
  limitW: number | null,
  leg?: number,
): FailingCombination[] {
  if (limitW === null) return [];
  const sorted = [...appliances]
    .filter((one) => wattsOf(one) > 0)
    .sort((one, other) => wattsOf(other) - wattsOf(one));
  // What all behind a place come to: where even they do not reach the limit, there is nothing to search.
  const behind = new Float64Array(sorted.length + 1);
  for (let i = sorted.length - 1; i >= 0; i--) behind[i] = behind[i + 1]! + wattsOf(sorted[i]!);
  const found: FailingCombination[] = [];
  const search = (from: number, chosen: readonly Appliance[], watts: number): void => {
    for (let i = from; i < sorted.length && found.length < MOST; i++) {
      if (watts + behind[i]! <= limitW || chosen.length >= LARGEST) return;
      const next = watts + wattsOf(sorted[i]!);
      const own = [...chosen, sorted[i]!];
      // Added in order of power, the last is the smallest: without it the rest lie below the limit, or it were found before.
      if (next > limitW)
        found.push({
          appliances: own.map(({ name }) => name),
          limit,
          ...(leg === undefined ? {} : { leg }),
          watts: next,
          limitW,
        });
      else search(i + 1, own, next);
    }
  };
  search(0, [], 0);
  return found;
}

/** Smallest sets of which one starts while the others run, over the surge limit: minimal as sets. */
function smallestStarts(appliances: readonly Appliance[], limitW: number | null): FailingCombination[] {
  if (limitW === null) return [];
  const startOf = (one: Appliance) => one.watts * one.startFactor;
  const peak = (own: readonly Appliance[]) =>
    own.reduce((sum, { watts }) => sum + watts, 0) +
    Math.max(0, ...own.map((one) => startOf(one) - one.watts));
  const found: (FailingCombination & { readonly own: readonly Appliance[] })[] = [];
  for (let size = 1; size <= Math.min(LARGEST, appliances.length) && found.length < MOST; size++)
    for (const own of subsets(appliances, size)) {
      if (found.length >= MOST) break;
      const watts = peak(own);
      if (watts <= limitW || found.some(({ own: smaller }) => smaller.every((one) => own.includes(one))))
        continue;
      found.push({ appliances: own.map(({ name }) => name), limit: 'surge', watts, limitW, own });
    }
  return found.map(({ appliances: names, limit, watts, limitW: most }) => ({
    appliances: names,
    limit,
    watts,
    limitW: most,
  }));
}

/** All subsets of a size, as far as there are not too many to go through. */
function* subsets(list: readonly Appliance[], size: number): Generator<Appliance[]> {
  const places = Array.from({ length: size }, (_, k) => k);
  for (let tried = 0; tried < 300_000; tried++) {
    yield places.map((place) => list[place]!);
    let k = size - 1;
    while (k >= 0 && places[k] === list.length - size + k) k--;
    if (k < 0) return;
    places[k]!++;
    for (let next = k + 1; next < size; next++) places[next] = places[next - 1]! + 1;
  }
}

/** Legs for the appliances that have none, so that the legs differ least. */
function placed(appliances: readonly Appliance[], legs: number): CombinationsOfUnits['moves'] {
  const base = new Array<number>(legs).fill(0);
  for (const { leg, watts } of appliances)
    if (leg === 'both') base.forEach((_, k) => (base[k]! += watts / legs));
    else if (leg !== undefined && leg <= legs) base[leg - 1]! += watts;
  const free = appliances
    .filter(({ leg }) => leg === undefined)
    .sort((one, other) => other.watts - one.watts);
  const imbalance = (loads: readonly number[]) => {
    const mean = loads.reduce((sum, watts) => sum + watts, 0) / legs;
    return mean > 0 ? (Math.max(...loads) - mean) / mean : 0;
  };
  let best: { readonly legs: readonly number[]; readonly imbalance: number } | null = null;
  const exact = free.slice(0, MOST_PLACED);
  const place = (k: number, loads: number[], chosen: number[]): void => {
    if (k === exact.length) {
      const own = imbalance(loads);
      if (!best || own < best.imbalance - 1e-12) best = { legs: [...chosen], imbalance: own };
      return;
    }
    for (let leg = 0; leg < legs; leg++) {
      loads[leg]! += exact[k]!.watts;
      chosen.push(leg + 1);
      place(k + 1, loads, chosen);
      chosen.pop();
      loads[leg]! -= exact[k]!.watts;
    }
  };
  place(0, [...base], []);
  const chosen = best as { readonly legs: readonly number[]; readonly imbalance: number } | null;
  return chosen
    ? exact.map(({ name }, k) => ({ appliance: name, toLeg: chosen.legs[k]!, imbalance: chosen.imbalance }))
    : [];
}
