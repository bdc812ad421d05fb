import type { Figure } from '../../model/figure.js';
import { InputError } from '../../model/problem.js';
import type { Range } from '../../model/range.js';
import { rangeDataOf, type Prepared } from '../../passes/prepare.js';
import type { RangeData } from '../../passes/rangeData.js';
import { siteTimeOf, zoneOf } from '../../time/zone.js';
import type { Appliance } from '../trial/combinations.js';
import { anotherYears, type AnotherYear } from './anotherYear.js';
import { valuesAsItWas } from './asItWas.js';
import { betterDescription, type Proposal } from './betterDescription.js';
import { changePayback, type ChangePayback } from './changePayback.js';
import { inverterCounts, type InverterCounts } from './inverterCounts.js';
import type { Moves } from './runDoubts.js';
import {
  hoursBetween,
  loggedBetween,
  loggedDay,
  monthsOf,
  loggedMonths,
  typicalDay,
  worstWeek,
  type CourseHours,
  type MonthValues,
} from './scenarioCourses.js';
import {
  besideOf,
  loggedMonthFigures,
  scenarioFigures,
  scenarioMonths,
  type Changed,
  type ScenarioMonth,
  type WhatifFigures,
} from './scenarioFigures.js';
import type { Change, ScenarioFile } from './scenarioFile.js';
import { outagesOf, survivalOf } from './scenarioSurvival.js';
import { homeModel, KEYS, valuesOf, type Modelled, type Values } from './scenarioValues.js';
import { sweepPoint, type SweepPoint } from './sweeps.js';

const DAY_MS = 86_400_000;

/** A run told by its months and on one axis with the others. */
export interface ToldRun {
  readonly months: readonly ScenarioMonth[];
  /** The mean day, by hour of the site's day. */
  readonly typicalDay: CourseHours;
  /** Hours of the worst week; null where the range has none. */
  readonly worstWeek: CourseHours | null;
}

/** One scenario: its figures, and what was changed. */
export interface WhatifScenario extends ToldRun {
  readonly name: string;
  readonly figures: WhatifFigures;
  readonly change: Change;
  /** Null where no price of the change is given. */
  readonly payback: ChangePayback | null;
  readonly anotherYear: AnotherYear;
}

/** The home as it is, modelled and logged. */
export interface WhatifBase extends ToldRun {
  readonly logged: Readonly<Record<string, Figure>>;
  readonly modelled: WhatifFigures;
  /** Modelled − logged, for the same keys; null where one of them is not told. */
  readonly errors: Readonly<Record<string, number | null>>;
  /** The same where each stretch is run with the configuration it had; null where that did not change. */
  readonly errorsAsItWas: Readonly<Record<string, number | null>> | null;
  /** Why the model has to lie beside the log, where that is known, and what would bring it closer. */
  readonly causes: readonly string[];
  /** What the log shows and the system file does not say, or says otherwise. */
  readonly proposals: readonly Proposal[];
  /** Empty where the home has no grid, or its power is not logged. */
  readonly loggedMonths: readonly ScenarioMonth[];
  readonly loggedDay: CourseHours | null;
  readonly loggedWeek: CourseHours | null;
  /** The week in which the home lacks most; null where the range is shorter. */
  readonly week: { readonly fromMs: number; readonly toMs: number } | null;
}

/** A range's home, ready to be told as it is and as changes would make it, one after the other. */
export interface ScenarioRunner {
  readonly base: WhatifBase;
  readonly hasGrid: boolean;
  /** @throws InputError where it names a part that the home has not */
  readonly scenario: (file: ScenarioFile) => WhatifScenario;
  /**
   * A point of a sweep.
   * @param where what an error names
   * @param tells whether an outage is begun in every hour as well
   */
  readonly point: <At>(
    at: At,
    change: Change,
    where: string,
    tells: 'everything' | 'energies',
  ) => SweepPoint<At>;
  /** Inverters against the highest measured load; null where no limit is described. */
  readonly inverters: (appliances: readonly Appliance[]) => InverterCounts | null;
}

/**
 * Readies the home of a range to be run as it is and as scenarios would make it.
 * @param logged figures of the range's report
 * @throws InputError where the home cannot be modelled
 */
export function scenarioRunner(
  prepared: Prepared,
  range: Range,
  logged: Readonly<Record<string, Figure>>,
): ScenarioRunner {
  const data = rangeDataOf(prepared, range);
  const model = homeModel(prepared, data);
  const modelledBase = model.run({});
  const baseOutages = outagesOf(model, modelledBase);
  const baseSurvival = survivalOf(baseOutages);
  const baseValues = valuesOf(model, modelledBase, baseSurvival);
  const errorsOf = (values: Values) =>
    Object.fromEntries(
      KEYS.map((key) => {
        const was = logged[key]?.value;
        return [key, was == null || Number.isNaN(values[key]) ? null : values[key] - was];
      }),
    );
  const asItWas = valuesAsItWas(prepared, data);
  const errors = errorsOf(baseValues);
  const errorsAsItWas = asItWas && errorsOf(asItWas);
  const missed = Object.fromEntries(
    KEYS.map((key) => [key, errorsAsItWas?.[key] ?? errors[key] ?? NaN]),
  ) as Values;
  const baseMonths = monthsOf(model, modelledBase, baseSurvival?.byMonth);
  const beside = besideOf(
    {
      ...{ model, missed, logged },
      base: { whole: baseValues, months: baseMonths },
      loggedMonths: loggedMonths(model),
    },
    modelledBase,
    baseOutages,
  );
  const inAnotherYear = anotherYears(model, modelledBase);
  const week = worstWeek(model, modelledBase);
  const told = (
    modelled: Modelled,
    months: readonly MonthValues[],
    moves: Moves,
    changed: Changed | null,
  ): ToldRun => ({
    months: scenarioMonths(beside, months, moves, changed),
    typicalDay: typicalDay(model, modelled),
    worstWeek: week && hoursBetween(model, modelled, week.fromMs, week.toMs),
  });
  const cells = modelledBase.run.importW.reduce((sum, watts) => (watts === watts ? sum + 1 : sum), 0);
  const billedDays = (cells * model.inputs.stepMs) / DAY_MS;
  const days = (range.toMs - range.fromMs) / DAY_MS;
  const { currency = '' } = prepared.system;
  const baseMoves = beside.moves({}, modelledBase, baseValues);
  const base: WhatifBase = {
    logged: Object.fromEntries(KEYS.flatMap((key) => (logged[key] ? [[key, logged[key]]] : []))),
    modelled: scenarioFigures(beside, baseValues, baseMoves, null),
    ...{ errors, errorsAsItWas },
    causes: [...changesWithin(data), ...sunNotTold(logged)],
    proposals: betterDescription(data, model.home),
    ...told(modelledBase, baseMonths, baseMoves, null),
    loggedMonths: loggedMonthFigures(model, beside.loggedMonths),
    loggedDay: loggedDay(model),
    loggedWeek: week && loggedBetween(model, week.fromMs, week.toMs),
    week,
  };
  return {
    base,
    hasGrid: model.home.hasGrid,
    scenario({ name, change, price }) {
      const modelled = named(`Scenario "${name}"`, () => model.run(change));
      const outages = outagesOf(model, modelled);
      const survival = survivalOf(outages);
      const changed = beside.changed(change, outages);
      const values = valuesOf(model, modelled, survival);
      const moves = beside.moves(change, modelled, values);
      const figures = scenarioFigures(beside, values, moves, changed);
      const saved = figures['money.bill']!.basis.difference ?? null;
      return {
        ...{ name, figures, change },
        payback: price === undefined ? null : changePayback(price, saved, days, billedDays, currency),
        anotherYear: inAnotherYear(modelled, figures),
        ...told(modelled, monthsOf(model, modelled, survival?.byMonth), moves, changed),
      };
    },
    point(at, change, where, tells) {
      const isWhole = tells === 'everything';
      const modelled = named(where, () => (isWhole ? model.run(change) : model.energies(change, 1)));
      const outages = isWhole ? outagesOf(model, modelled) : null;
      const values = valuesOf(model, modelled, survivalOf(outages));
      return sweepPoint(
        at,
        scenarioFigures(
          beside,
          values,
          beside.moves(change, modelled, values),
          beside.changed(change, outages),
        ),
        model,
        modelled.run,
      );
    },
    inverters: (appliances) => inverterCounts(data, appliances),
  };
}

/** Where the sun that was held back cannot be told, what more storage or load would have had of it is a lower bound. */
function sunNotTold(logged: Readonly<Record<string, Figure>>): string[] {
  return ['solar.heldBack', 'solar.clipped'].some((key) => logged[key]?.status === 'insufficient')
    ? [
        'Sun was held back or clipped here, and too little in the log shows how much. What more storage, another load or a higher limit would have gained is at least what is given here.',
      ]
    : [];
}

/** What of the range the home as it is at its end cannot show. */
function changesWithin({ configurations, range, log }: RangeData): string[] {
  const within = configurations.filter(({ fromMs }) => fromMs > range.fromMs && fromMs < range.toMs);
  const last = within.at(-1);
  if (!last) return [];
  const when = siteTimeOf(zoneOf(log.zone), last.fromMs).slice(0, 10);
  return [
    `The system changed within this range, last on ${when} (“${last.name}”), and the model uses it as it is at the end throughout. A range that begins after that date stands closer to the log.`,
  ];
}

/** A run of a change; where it names a part that the home has not, the error says in which scenario. */
function named(where: string, run: () => Modelled): Modelled {
  try {
    return run();
  } catch (error) {
    if (!(error instanceof InputError)) throw error;
    throw new InputError(error.problems.map((problem) => ({ ...problem, where })));
  }
}
