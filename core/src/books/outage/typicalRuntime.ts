import { kaplanMeier, survivalQuantile } from '../../statistics/kaplanMeier.js';
import { median } from '../../statistics/median.js';
import type { RangeData } from '../../passes/rangeData.js';
import { isNamed, nameOfPart } from '../../model/quantity.js';
import type { Held, Scenario } from './scenario.js';
import { demandOf, doubtsOf, EXACT, HORIZON_H, replayed, type Doubt } from './scenarioOutcome.js';
import type { Starts } from './outageStarts.js';

/** A part of the load is on above this, W. */
const ON_W = 20;
/** So many starts lie beyond either bound. */
const TAIL = 0.05;

/** A part of the load that is logged by itself, with what it usually draws when it is on. */
export interface LoadPart {
  readonly name: string;
  readonly onW: number;
}

/** How long a charge lasts with the usual load. */
export interface TypicalRuntime extends Held {
  /** Starts of that month and hour in the range. */
  readonly starts: number;
}

/** The named parts of the load; those that were never on in the range are left out. */
export function loadParts({ log, range }: RangeData): LoadPart[] {
  const [from, to] = [range.fromMs, range.toMs].map((ms) => Math.ceil((ms - log.startMs) / log.stepMs));
  return [...log.channels].flatMap(([quantity, { values }]) => {
    if (!isNamed(quantity)) return [];
    const on = values.subarray(from, to).filter((watts) => watts > ON_W);
    return on.length > 0 ? [{ name: nameOfPart(quantity), onW: median(on) }] : [];
  });
}

/**
 * How long the charge of an option lasts with the load, and the sun if there is any, that the home has at an hour of a month
 * of the year: the median over the days of that month, between what one in twenty of them does not reach and exceeds, meters
 * and capacity off for the worse and the better.
 * @param month 0 for January
 * @returns null where the range has no such hour
 */
export function typicalRuntime(
  starts: Starts,
  scenario: Scenario,
  month: number,
  hour: number,
): TypicalRuntime | null {
  const demand = demandOf(starts, scenario);
  const [worse, better] = doubtsOf(starts);
  const isThen = (start: number) => starts.months[start] === month && starts.hours[start] === hour;
  const curveOf = (doubt: Doubt) => {
    const { runs } = replayed(starts, scenario, demand, doubt);
    return runs.flatMap((run, start) => (run && isThen(start) ? [run] : []));
  };
  const own = curveOf(EXACT);
  if (own.length === 0) return null;
  const at = (runs: typeof own, share: number) => survivalQuantile(kaplanMeier(runs), share) ?? HORIZON_H;
  const value = at(own, 0.5);
  return {
    value,
    low: Math.min(value, at(curveOf(worse), TAIL)),
    high: Math.max(value, at(curveOf(better), 1 - TAIL)),
    starts: own.length,
  };
}
