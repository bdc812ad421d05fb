import type { Basis } from './basis.js';

/** Units a figure can carry; shares run from 0 to 1, energies are kWh and powers W unless the unit says kW. */
export type Unit =
  | 'kWh'
  | 'kWh/day'
  | 'W'
  | 'kW'
  | 'share'
  | 'cycles'
  | 'h'
  | 'days'
  | 'share/year'
  | 'date'
  | 'C-rate'
  | '°C'
  | 'kWh/kWp'
  | 'Hz'
  | 'V'
  | 'years'
  | 'K·d'
  | 'currency/kWh'
  | 'currency'
  | 'count';

export type Status = 'measured' | 'estimated' | 'insufficient' | 'not-measured';

/** One line of the arithmetic behind a figure, as a reader would write it on paper. */
export interface WorkingLine {
  readonly label: string;
  readonly value: number;
  readonly unit: Unit;
  /** `result` closes the sum; `uncertainty` is one part of the interval, given as its half-width. */
  readonly role: 'input' | 'step' | 'result' | 'uncertainty';
  /** Of a part that widens the interval to one side only; without it a part widens both. */
  readonly side?: 'below' | 'above';
}

/** What a method is, for every figure computed by it. */
export interface Method {
  /** For example `round-trip.full-to-full`. */
  readonly id: string;
  /** The formula in words and symbols. */
  readonly formula: string;
  /** Where the method comes from: a publication, or "common practice, no published source". */
  readonly source: string;
}

/**
 * One entry of the registry: what a figure is called and means, and how it is computed. `cost` tells whether a range takes
 * its days, which were added up before, or its samples, which are gone through again.
 */
export interface FigureEntry {
  readonly key: string;
  readonly unit: Unit;
  readonly label: string;
  /** One sentence. */
  readonly meaning: string;
  readonly method: Method;
  readonly cost: 'days' | 'samples';
}

/**
 * A value with everything needed to trust or doubt it. `low` and `high` bound it at about 95 %.
 * `value`, `low` and `high` are null exactly when the status is `insufficient` or `not-measured`; then `reason`
 * says what is missing and what would supply it.
 */
export interface Figure {
  readonly value: number | null;
  readonly low: number | null;
  readonly high: number | null;
  readonly unit: Unit;
  readonly status: Status;
  readonly reason: string | null;
  readonly method: string;
  readonly basis: Basis;
  readonly formula: string;
  readonly source: string;
  readonly working: readonly WorkingLine[];
  readonly assumptions: readonly string[];
}

/** What a figure needs beside its value and interval. */
export interface Evidence {
  readonly unit: Unit;
  readonly method: Method;
  readonly basis: Basis;
  readonly working: readonly WorkingLine[];
  readonly assumptions?: readonly string[];
}

/** A value with its 95 % bounds. */
export interface Interval {
  readonly value: number;
  readonly low: number;
  readonly high: number;
}

/** A figure computed from logged channels alone; insufficient when value or bounds are not finite or not in order. */
export function measured(interval: Interval, evidence: Evidence): Figure {
  return present('measured', interval, evidence);
}

/** A figure that rests on a derived channel or on an assumption of weight. */
export function estimated(interval: Interval, evidence: Evidence): Figure {
  return present('estimated', interval, evidence);
}

/** The place of a figure whose channels are logged, but too little or too coarsely. */
export function insufficient(unit: Unit, method: Method, reason: string, basis: Basis = {}): Figure {
  return absent('insufficient', unit, method, reason, basis);
}

/** The place of a figure for which something needed is not logged or not described at all. */
export function notMeasured(unit: Unit, method: Method, reason: string, basis: Basis = {}): Figure {
  return absent('not-measured', unit, method, reason, basis);
}

function present(status: Status, { value, low, high }: Interval, evidence: Evidence): Figure {
  const { unit, method, basis, working, assumptions = [] } = evidence;
  // What is computed from absurd data may overflow or lose its order: one figure is lost by that, not the report.
  const isFormed = Number.isFinite(low) && Number.isFinite(high) && low <= value && value <= high;
  if (!isFormed) {
    const reason = `It cannot be formed from these data: it would come to ${value}, between ${low} and ${high}. A value of the log or of the description is close to zero or far beyond what a home has.`;
    return absent('insufficient', unit, method, reason, {});
  }
  return {
    value,
    low,
    high,
    unit,
    status,
    reason: null,
    method: method.id,
    basis,
    formula: method.formula,
    source: method.source,
    working,
    assumptions,
  };
}

function absent(status: Status, unit: Unit, method: Method, reason: string, basis: Basis): Figure {
  return {
    value: null,
    low: null,
    high: null,
    unit,
    status,
    reason,
    method: method.id,
    basis,
    formula: method.formula,
    source: method.source,
    working: [],
    assumptions: [],
  };
}
