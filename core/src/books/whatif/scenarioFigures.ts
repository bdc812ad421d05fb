import {
  estimated,
  insufficient,
  measured,
  notMeasured,
  type Figure,
  type Interval,
  type Method,
  type Unit,
} from '../../model/figure.js';
import { zeroOf } from '../shared/uncertainty.js';
import { runDoubts, STILL, type Move, type Moves } from './runDoubts.js';
import { monthMoves } from './monthMoves.js';
import { MONTH_KEYS, monthsOf, type MonthKey, type MonthValues } from './scenarioCourses.js';
import type { Change } from './scenarioFile.js';
import { survivalOf, type RunOutages } from './scenarioSurvival.js';
import {
  KEYS,
  PER_LOAD,
  valuesOf,
  WHATIF_KEYS,
  type Model,
  type Modelled,
  type Values,
  type WhatifKey,
} from './scenarioValues.js';

/** A difference is held to this share of it, and to this share of the load. */
const DIFFERENCE_OFF = 0.06;
const LOAD_OFF = 0.004;
/** And to this share of the load where the coupling changes: what another inverter and charger lose is not known. */
const COUPLING_OFF = 0.015;
/** A modelled value by itself is held to what the model misses of the log, and to this share. */
const MODEL_OFF = 0.02;
const MOST_CAPACITY_OFF = 0.3;
/** The slope of a difference by the capacity is taken over this part of what the capacity may be off. */
const PARTS = 4;
const SAYS =
  'Measured load and sun through a model of the store, step by step. Common practice, no published source.';

const LOGGED: Method = {
  id: 'whatif.logged-month',
  formula: 'sums of the month’s known intervals, a day; interval by the class of the meters',
  source: 'Common practice, no published source.',
};

/** A figure of a scenario; its basis holds the difference to the modelled base. */
export type WhatifFigure = Omit<Figure, 'basis'> & {
  readonly basis: Figure['basis'] & { readonly difference?: Interval };
};
export type WhatifFigures = Readonly<Record<string, WhatifFigure>>;

/** A month of the year of a run. */
export interface ScenarioMonth {
  /** 0 for January. */
  readonly month: number;
  readonly figures: Readonly<Record<MonthKey, WhatifFigure>>;
}

/** What a run comes to over the range, and month by month. */
export interface RunValues {
  readonly whole: Values;
  readonly months: readonly MonthValues[];
}

/** What the figures of runs are held against. */
export interface Beside {
  readonly model: Model;
  /** The home as it is, modelled. */
  readonly base: RunValues;
  /** How far the model lies from the log, by figure; NaN where that is not told. */
  readonly missed: Values;
  /** Its months as logged. */
  readonly loggedMonths: readonly MonthValues[];
  readonly logged: Readonly<Record<string, Figure>>;
  /** @param outages of the run of the change; null where they are not told */
  readonly changed: (change: Change, outages: RunOutages | null) => Changed;
  /** How far the figures of a run move with what is not known for certain beside the capacity. */
  readonly moves: (change: Change, modelled: Modelled, values: Values) => Moves;
}

/** A change, and how far its differences move with a capacity that is as unsure as it is: half-widths. */
export interface Changed {
  readonly change: Change;
  readonly whole: (key: WhatifKey, difference: number) => number;
  readonly month: (month: number, key: MonthKey, difference: number) => number;
}

/** What to hold the figures of a range's runs against. */
export function besideOf(
  held: Omit<Beside, 'changed' | 'moves'>,
  modelled: Modelled,
  baseOutages: RunOutages | null,
): Beside {
  const { model } = held;
  // One run a part of the way down tells nearly what runs at both ends would: a difference moves further with a kWh less than
  // with one more, and the slope about the capacity as it is is their mean.
  const less = 1 - Math.min(MOST_CAPACITY_OFF, model.home.capacityOff) / PARTS;
  const runOf = (change: Change, outages: RunOutages | null) => {
    const withLess = model.energies(change, less);
    // Outages begin with the charge of the whole run, in a battery that holds less.
    const survival = survivalOf(outages, less);
    // Months are asked for of a scenario, not of the points of a sweep.
    let months: readonly MonthValues[] | null = null;
    return {
      whole: valuesOf(model, withLess, survival),
      month: (month: number, key: MonthKey) =>
        (months ??= monthsOf(model, withLess, survival?.byMonth)).find((one) => one.month === month)?.[key] ??
        NaN,
    };
  };
  let baseWithLess: ReturnType<typeof runOf> | null = null;
  return {
    ...held,
    moves: runDoubts(model, modelled, held.base.whole),
    changed(change, outages) {
      const base = (baseWithLess ??= runOf({}, baseOutages));
      const run = runOf(change, outages);
      return {
        change,
        whole: (key, difference) => PARTS * Math.abs(run.whole[key] - base.whole[key] - difference) || 0,
        month: (month, key, difference) =>
          PARTS * Math.abs(run.month(month, key) - base.month(month, key) - difference) || 0,
      };
    },
  };
}

/**
 * Figures of a run; beside each the difference to the base, with the interval that a reader should trust.
 * @param moves how far the figures may move
 * @param changed null for the base itself
 */
export function scenarioFigures(
  beside: Beside,
  values: Values,
  moves: Moves,
  changed: Changed | null,
): WhatifFigures {
  const { base, missed, logged } = beside;
  const loadKWh =
    base.whole['account.import'] / Math.max(1e-9, 1 - base.whole['account.selfSufficiency.grid']) || 0;
  return Object.fromEntries(
    KEYS.map((key): [string, WhatifFigure] => {
      const unit = WHATIF_KEYS[key];
      const ofLoad =
        key.startsWith('account.') && !PER_LOAD.includes(key) && unit === 'kWh'
          ? loadKWh
          : unit === 'share' && key !== 'wear.damage'
            ? 1
            : 0;
      return [
        key,
        figureOf({
          ...{ key, unit, ofLoad },
          value: values[key],
          was: base.whole[key],
          missed: missed[key] || 0,
          spread: changed && changed.whole(key, values[key] - base.whole[key]),
          isTurned: isTurned(beside, changed),
          valueMove: moves.value(key),
          differenceMove: moves.difference(key),
          reason: logged[key]?.reason ?? null,
        }),
      ];
    }),
  );
}

/**
 * The months of a run; beside each figure the difference to the base, with its interval.
 * @param moves how far the figures of the range may move
 * @param changed null for the base itself
 */
export function scenarioMonths(
  beside: Beside,
  months: readonly MonthValues[],
  moves: Moves,
  changed: Changed | null,
): ScenarioMonth[] {
  const of = (list: readonly MonthValues[], month: number) => list.find((one) => one.month === month);
  const keys = Object.keys(MONTH_KEYS) as MonthKey[];
  const movesOf = new Map(
    keys.map((key) => [
      key,
      {
        value: monthMoves(months, key, moves.value, (one) =>
          key === 'selfSufficiency' ? 1 - one[key] : one[key],
        ),
        difference: monthMoves(
          months,
          key,
          moves.difference,
          (one) => one[key] - of(beside.base.months, one.month)![key],
        ),
      },
    ]),
  );
  return months.map((values) => {
    const { month } = values;
    const [base, logged] = [of(beside.base.months, month)!, of(beside.loggedMonths, month)];
    // Of a sunny month most is sold: what another inverter loses goes with all that passes it.
    const passes = base.load + (isTurned(beside, changed) ? base.export || 0 : 0);
    const entries = keys.map((key): [MonthKey, WhatifFigure] => {
      const unit = MONTH_KEYS[key];
      const { value: valueMove, difference: differenceMove } = movesOf.get(key)!;
      return [
        key,
        figureOf({
          ...{ key, unit },
          ofLoad: unit === 'share' ? 1 : passes,
          value: values[key],
          was: base[key],
          missed: (logged && base[key] - logged[key]) || 0,
          spread: changed && changed.month(month, key, values[key] - base[key]),
          isTurned: isTurned(beside, changed),
          ...{ valueMove: valueMove(values), differenceMove: differenceMove(values) },
          reason: null,
        }),
      ];
    });
    return { month, figures: Object.fromEntries(entries) as Record<MonthKey, WhatifFigure> };
  });
}

/** Months as logged, by the class of the meters of grid and load. */
export function loggedMonthFigures({ data }: Model, months: readonly MonthValues[]): ScenarioMonth[] {
  const { accuracy } = data;
  // A meter's zero counts while it reads something.
  const zeroKW = zeroOf(data, 'grid') / 1000;
  return months.map((values) => {
    const halves: Readonly<Record<MonthKey, number>> = {
      import: Math.hypot(accuracy.grid * values.import, zeroKW * values.importH),
      export: Math.hypot(accuracy.grid * values.export, zeroKW * values.exportH),
      selfSufficiency: Math.hypot(
        (1 - values.selfSufficiency) * Math.hypot(accuracy.grid, accuracy.load),
        (zeroKW * values.importH) / values.load,
      ),
      unserved: NaN,
      survive24: NaN,
    };
    const figures = (Object.keys(MONTH_KEYS) as MonthKey[]).map((key): [MonthKey, WhatifFigure] => {
      const unit = MONTH_KEYS[key];
      const value = values[key];
      return [
        key,
        Number.isNaN(value)
          ? notMeasured(unit, LOGGED, 'The log does not tell it month by month.')
          : measured(possible(key, unit, value, halves[key]), {
              unit,
              method: LOGGED,
              basis: {},
              working: [
                { label: 'logged, by the day', value, unit, role: 'result' },
                { label: 'class of the meters', value: halves[key], unit, role: 'uncertainty' },
              ],
            }),
      ];
    });
    return {
      month: values.month,
      figures: Object.fromEntries(figures) as Record<MonthKey, WhatifFigure>,
    };
  });
}

/** A value of a run, and what it is held against. */
interface Told {
  readonly key: string;
  readonly unit: Unit;
  readonly value: number;
  /** What the base has. */
  readonly was: number;
  readonly missed: number;
  /** Half-width from the capacity alone; null for the base itself, which differs from nothing. */
  readonly spread: number | null;
  /** What shares of the load are of: the load, or 1 for a share; 0 where a difference is not held to it. */
  readonly ofLoad: number;
  /** Whether the change is one of the coupling. */
  readonly isTurned: boolean;
  /** How far the value and the difference move with what is not known beside the capacity. */
  readonly valueMove: Move;
  readonly differenceMove: Move;
  /** Why the log does not tell it. */
  readonly reason: string | null;
}

/** An interval held to what a figure can be: no energy below none, no share above the whole; a bill may be a credit. */
function possible(
  key: string,
  unit: Unit,
  value: number,
  half: number,
  { below, above }: Pick<Move, 'below' | 'above'> = STILL,
): Interval {
  const most = unit === 'share' && key !== 'wear.damage' ? 1 : Infinity;
  // More may be charged from the grid than is used, and meters that err may make losses of less than nothing.
  const isSigned = unit === 'currency' || key.includes('elfSufficiency') || key === 'account.losses';
  return {
    value,
    low: Math.min(value, Math.max(isSigned ? -Infinity : 0, value - half + below)),
    high: Math.max(value, Math.min(most, value + half + above)),
  };
}

function isTurned({ model }: Beside, changed: Changed | null): boolean {
  const coupling = changed?.change.coupling;
  return coupling !== undefined && coupling !== model.home.coupling;
}

function figureOf({ key, unit, value, was, spread, ...told }: Told): WhatifFigure {
  const { missed, ofLoad, isTurned, reason, valueMove, differenceMove } = told;
  const method = {
    id: `whatif.${key}`,
    formula: 'as in the account, from the modelled flows',
    source: SAYS,
  };
  if (Number.isNaN(value))
    return notMeasured(
      unit,
      method,
      reason ??
        'The home lacks what this needs: a grid, a tariff, a described limit, or its charge in the log.',
    );
  const difference = value - was;
  const atLeast = difference === 0 && !isTurned ? 0 : (isTurned ? COUPLING_OFF : LOAD_OFF) * ofLoad;
  const modelOff = spread === null ? 0 : Math.hypot(spread, DIFFERENCE_OFF * difference, atLeast);
  const half = Math.hypot(modelOff, differenceMove.half);
  const missing = Math.hypot(missed, MODEL_OFF * Math.abs(value), modelOff);
  const own = Math.hypot(missing, valueMove.half);
  const figure = estimated(possible(key, unit, value, own, valueMove), {
    unit,
    method,
    basis: {},
    working: [
      { label: 'modelled', value, unit, role: 'result' },
      { label: 'what the model misses of the log', value: missing, unit, role: 'uncertainty' },
      { label: 'gains of the meters, rebuilt sun', value: valueMove.half, unit, role: 'uncertainty' },
      ...[valueMove.below, valueMove.above].flatMap((value, k) =>
        value === 0
          ? []
          : [
              {
                label: 'the log’s step and the battery’s own draw',
                ...{ value: Math.abs(value), unit, role: 'uncertainty' as const },
                side: k === 0 ? ('below' as const) : ('above' as const),
              },
            ],
      ),
    ],
    assumptions: [
      'Use and weather as they were; what a reader should trust is the difference to the modelled base.',
    ],
  });
  if (figure.value === null) return insufficient(unit, method, figure.reason!);
  return spread === null
    ? figure
    : {
        ...figure,
        basis: {
          difference: {
            value: difference,
            low: difference - half + differenceMove.below,
            high: difference + half + differenceMove.above,
          },
        },
      };
}
