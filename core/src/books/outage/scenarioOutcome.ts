import { kaplanMeier, survivalAt, survivalQuantile, type Surviving } from '../../statistics/kaplanMeier.js';
import { compose, type Composed, type Demand } from '../../storage/compose.js';
import { needFor, replay, type Run } from '../../storage/replay.js';
import { HOUR_MS, type Starts } from './outageStarts.js';
import type { HomeStorage } from '../shared/homeStorage.js';
import type { Held, Scenario } from './scenario.js';
import { shortestRuns, type ShortestRun } from './shortestRuns.js';

export const HORIZON_H = 14 * 24;
/** What a reserve is told for where nothing else is asked: so many hours, in such a share of the starts. */
export const USUAL_RESERVE = { hours: 12, chance: 0.9 } as const;

/** The least charge that lasts so many hours in such a share of the starts. */
export interface ReserveAdvice {
  readonly hours: number;
  readonly chance: number;
  /** Null where even a full battery does not last. */
  readonly all: Held | null;
  /** By month of the year, January first; `none` where even a full battery does not last, null where nothing is known. */
  readonly months: readonly (number | 'none' | null)[];
}

/** How long the home lasts under one option. */
export interface ScenarioOutcome {
  readonly scenario: Scenario;
  readonly starts: number;
  readonly censored: number;
  /** Hours that a tenth, half and nine tenths of the starts do not exceed; null beyond what is followed. */
  readonly p10: Held | null;
  readonly p50: Held | null;
  readonly p90: Held | null;
  /** Share of starts that last so long. */
  readonly survive12: Held;
  readonly survive24: Held;
  /** Least charge from which nine tenths of the starts last twelve hours. */
  readonly reserve: ReserveAdvice;
  /** Share of starts that last longer, by hours. */
  readonly curve: readonly Surviving[];
  /**
   * Median hours by month of the year (rows, January first) and starting hour: `longer` where the log ends, or what is
   * followed does, before half of the starts have ended; null where no start is known.
   */
  readonly table: readonly (readonly (number | 'longer' | null)[])[];
  /** The shortest start of each month of the year, with its reason. */
  readonly worst: readonly ShortestRun[];
}

/** The demand of an option: what stays on, with or without the sun, and where a leg carries too much. */
export function demandOf(starts: Starts, scenario: Scenario): Demand {
  const { load, solar, legs, parts, perLegW, stepMs } = starts;
  const off = parts.filter(({ name }) => scenario.without.includes(name));
  const kept = load.slice();
  for (const { values } of off) for (let i = 0; i < kept.length; i++) kept[i]! -= values[i]!;
  for (let i = 0; i < kept.length; i++)
    kept[i] = Math.min(scenario.capW, Math.max(0, kept[i]!) * scenario.share);
  // Which leg a part hangs on is not logged, so what is switched off leaves all of them alike.
  const overLeg =
    perLegW !== null && legs.length > 0
      ? Uint8Array.from(kept, (used, i) =>
          legs.some((leg) => leg[i]! * (load[i]! > 0 ? used / load[i]! : 1) > perLegW) ? 1 : 0,
        )
      : null;
  return {
    load: kept,
    use: 1,
    solar: scenario.hasSun ? solar : new Float64Array(solar.length),
    overLeg,
    stepMs,
  };
}

/** How far the load, the capacity and the charge may be off: two factors, and shares of full. */
export interface Doubt {
  readonly load: number;
  readonly capacity: number;
  readonly soc: number;
}

export const EXACT: Doubt = { load: 1, capacity: 1, soc: 0 };

/** All of what is not sure for the worse, and for the better. */
export function doubtsOf({ loadOff, storage: { capacityOff, socOff } }: Starts): readonly [Doubt, Doubt] {
  return [
    { load: 1 + loadOff, capacity: 1 - capacityOff, soc: -socOff },
    { load: 1 - loadOff, capacity: 1 + capacityOff, soc: socOff },
  ];
}

interface Replayed {
  readonly composed: Composed;
  readonly runs: readonly (Run | null)[];
  readonly curve: readonly Surviving[];
  readonly charge: Float64Array;
  readonly storage: HomeStorage;
}

/**
 * Begins an outage in every hour, with load, capacity and charge off by so much.
 * @param horizonH hours for which each is followed
 */
export function replayed(
  starts: Starts,
  scenario: Scenario,
  demand: Demand,
  { load, capacity, soc: socOff }: Doubt,
  horizonH = HORIZON_H,
): Replayed {
  const { storage: given, soc, stepMs } = starts;
  const cells = Math.round(HOUR_MS / stepMs);
  const storage = {
    ...given,
    fullWh: given.fullWh * capacity,
    parameters: {
      ...given.parameters,
      capacityWh: given.parameters.capacityWh * capacity,
      weakBelowWh: given.parameters.weakBelowWh * capacity,
    },
  };
  const { startSoc, leastSoc } = scenario;
  const { cutOff, fullWh } = storage;
  const charge = new Float64Array(Math.floor(soc.length / cells));
  for (let hour = 0; hour < charge.length; hour++) {
    const shown = startSoc ?? Math.max(leastSoc, soc[hour * cells]!);
    charge[hour] = Math.max(0, (Math.min(1, shown + socOff) - cutOff) * fullWh);
  }
  const composed = compose({ ...demand, use: load }, storage.parameters, horizonH);
  const runs = replay(composed, charge);
  return { composed, runs, curve: kaplanMeier(runs.filter((run) => run !== null)), charge, storage };
}

/** Curves of the same runs: as they are, with all that is not sure for the worse, and for the better. */
export type ThreeCurves = readonly [
  own: readonly Surviving[],
  worse: readonly Surviving[],
  better: readonly Surviving[],
];

/** Hours that a share of the runs does not outlast, with their bounds; null beyond what is followed. */
export function heldHours([own, worse, better]: ThreeCurves, share: number): Held | null {
  const value = survivalQuantile(own, share);
  if (value === null) return null;
  return {
    value,
    low: Math.min(value, survivalQuantile(worse, share) ?? value),
    high: Math.max(value, survivalQuantile(better, share) ?? HORIZON_H),
  };
}

/** Share of the runs that last so many hours, with its bounds. */
export function heldShare(curves: ThreeCurves, hours: number): Held {
  const [value, low, high] = curves.map((curve) => survivalAt(curve, hours)) as [number, number, number];
  return { value, low: Math.min(value, low), high: Math.max(value, high) };
}

/** How long the home lasts from every full hour under an option. */
export function scenarioOutcome(starts: Starts, scenario: Scenario): ScenarioOutcome {
  const demand = demandOf(starts, scenario);
  const three = threeOf(starts, scenario, demand);
  const [own, worse, better] = three;
  const curves = [own.curve, worse.curve, better.curve] as const;
  const lasts = (share: number) => heldHours(curves, share);
  const survives = (hours: number) => heldShare(curves, hours);
  const known = own.runs.filter((run) => run !== null);
  return {
    scenario,
    starts: known.length,
    censored: known.filter(({ isCensored }) => isCensored).length,
    p10: lasts(0.1),
    p50: lasts(0.5),
    p90: lasts(0.9),
    survive12: survives(12),
    survive24: survives(24),
    reserve: adviceOf(starts, three, USUAL_RESERVE.hours, USUAL_RESERVE.chance),
    curve: own.curve,
    table: medians(own.runs, starts),
    worst: shortestRuns(starts, scenario, own.composed, own.charge, own.runs),
  };
}

/**
 * The least charge from which an option lasts so many hours in such a share of the starts, of all and month by month.
 * @param hours whole, up to the 14 days that are followed
 * @param chance from 0 to 1
 */
export function reserveAdvice(
  starts: Starts,
  scenario: Scenario,
  hours: number,
  chance: number,
): ReserveAdvice {
  return adviceOf(starts, threeOf(starts, scenario, demandOf(starts, scenario)), hours, chance);
}

type Three = readonly [own: Replayed, worse: Replayed, better: Replayed];

function threeOf(starts: Starts, scenario: Scenario, demand: Demand): Three {
  const [worse, better] = doubtsOf(starts);
  return [
    replayed(starts, scenario, demand, EXACT),
    replayed(starts, scenario, demand, worse),
    replayed(starts, scenario, demand, better),
  ];
}

function adviceOf(
  { months, storage: { socOff } }: Starts,
  [own, worse, better]: Three,
  hours: number,
  chance: number,
): ReserveAdvice {
  const needs = needFor(own.composed, hours);
  const value = socFor(needs, own.storage, chance);
  const bound = ({ composed, storage }: Replayed) => socFor(needFor(composed, hours), storage, chance);
  // A display that shows more than there is asks for a higher reserve.
  const [least, most] = [bound(better), bound(worse)];
  return {
    hours,
    chance,
    all:
      value === null
        ? null
        : {
            value,
            low: least === null ? value : Math.max(0, Math.min(value, least - socOff)),
            high: Math.min(1, Math.max(value, (most ?? 1) + socOff)),
          },
    months: Array.from({ length: 12 }, (_, month) => {
      const known = needs.filter((need, hour) => months[hour] === month && !Number.isNaN(need));
      return known.length === 0 ? null : (socFor(known, own.storage, chance) ?? 'none');
    }),
  };
}

/** The SOC that such a share of the needs does not exceed; null where there is none, or it is more than full. */
function socFor(needs: Float64Array, { fullWh, cutOff }: HomeStorage, chance: number): number | null {
  const known = needs.filter((need) => !Number.isNaN(need)).sort();
  if (known.length === 0) return null;
  // The next one up, not between two: between a need and none that is enough lies nothing.
  const need = known[Math.min(known.length - 1, Math.max(0, Math.ceil(chance * known.length) - 1))]!;
  return need === Infinity ? null : cutOff + need / fullWh;
}

/** Median of what the starts of each month and hour last; runs cut off count by Kaplan–Meier. */
function medians(runs: readonly (Run | null)[], { months, hours }: Starts): ScenarioOutcome['table'] {
  const groups = Array.from({ length: 12 }, () => Array.from({ length: 24 }, (): Run[] => []));
  runs.forEach((run, hour) => {
    if (run) groups[months[hour]!]![hours[hour]!]!.push(run);
  });
  return groups.map((row) =>
    row.map((own) => {
      if (own.length === 0) return null;
      return survivalQuantile(kaplanMeier(own), 0.5) ?? 'longer';
    }),
  );
}
