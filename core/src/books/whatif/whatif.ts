import { insufficient, estimated, notMeasured, type Figure, type Interval } from '../../model/figure.js';
import { InputError } from '../../model/problem.js';
import type { Range } from '../../model/range.js';
import { rangeDataOf, type Prepared } from '../../passes/prepare.js';
import type { RangeData } from '../../passes/rangeData.js';
import { siteTimeOf, zoneOf } from '../../time/zone.js';
import { lackOf } from '../shared/lacking.js';
import { changePayback, type ChangePayback } from './changePayback.js';
import { modelHome } from './modelHome.js';
import type { Change, ScenarioFile } from './scenarioFile.js';
import { changeAt, crossedOf, kneeOf, reachOf, type Knee, type Reach, type Sweep } from './sweeps.js';
import {
  KEYS,
  modelOf,
  valuesOf,
  WHATIF_KEYS,
  type Model,
  type Values,
  type WhatifKey,
  type Modelled,
} from './scenarioValues.js';

/** A difference is held to this share of it, and to this share of the load. */
const DIFFERENCE_OFF = 0.06;
const LOAD_OFF = 0.005;
/** A modelled value by itself is held to what the model misses of the log, and to this share. */
const MODEL_OFF = 0.02;

const DAY_MS = 86_400_000;
const SAYS =
  'Measured load and sun through a model of the store, step by step. Common practice, no published source.';

/** A figure of a scenario; its basis holds the difference to the modelled base. */
export type WhatifFigure = Omit<Figure, 'basis'> & {
  readonly basis: Figure['basis'] & { readonly difference?: Interval };
};

/** One run told: its figures, and what was changed. */
export interface WhatifScenario {
  readonly name: string;
  readonly figures: Readonly<Record<string, WhatifFigure>>;
  readonly change: Change;
  /** Null where no price of the change is given. */
  readonly payback: ChangePayback | null;
}

/** What scenarios would change, `long-tally/whatif@1`. */
export interface Whatif {
  readonly schema: 'long-tally/whatif@1';
  readonly base: {
    readonly logged: Readonly<Record<string, Figure>>;
    readonly modelled: Readonly<Record<string, WhatifFigure>>;
    /** Modelled − logged, for the same keys; null where one of them is not told. */
    readonly errors: Readonly<Record<string, number | null>>;
    /** Why the model has to lie beside the log, where that is known, and what would bring it closer. */
    readonly causes: readonly string[];
  };
  readonly scenarios: readonly WhatifScenario[];
  readonly sweep: readonly {
    readonly at: number;
    readonly figures: Readonly<Record<string, WhatifFigure>>;
  }[];
  readonly knee: Knee | null;
  /** Where a sweep first has so many of its days without the grid; null where there is no grid or no sweep. */
  readonly reach: Reach | null;
  /** Two quantities swept over each other; empty where one is. */
  readonly grid: readonly {
    readonly at: readonly [number, number];
    readonly figures: Readonly<Record<string, WhatifFigure>>;
  }[];
}

/**
 * Runs the home of a range as it is and as scenarios would make it.
 * @param logged figures of the range's report
 * @param by a second quantity that is swept with every value of the first, or null
 * @throws InputError where the home cannot be modelled, or a scenario names what it has not
 */
export function whatif(
  prepared: Prepared,
  range: Range,
  logged: Readonly<Record<string, Figure>>,
  scenarios: readonly ScenarioFile[],
  sweep: Sweep | null,
  by: Sweep | null = null,
): Whatif {
  const data = rangeDataOf(prepared, range);
  const home = modelHome(data);
  const lack = lackOf(data, ['load']);
  if (!home || lack)
    throw new InputError([
      {
        where: prepared.system.name,
        found: lack ?? 'The battery is not described: modules, kWh each and usable share.',
        mend: 'A what-if runs the measured load through the described battery; supply what is missing.',
      },
    ]);
  const model = modelOf(prepared, data, home);
  const base = model.run({});
  const baseValues = valuesOf(model, base);
  const told = (values: Values, change: Change | null) =>
    figuresOf(model, values, baseValues, logged, change);
  const swept = sweep ? sweep.values.map((at) => ({ at, change: changeAt(sweep.key, at) })) : [];
  const swiftly = sweep?.tells === 'energies' ? { ...model, starts: null } : model;
  const runs = swept.map(({ at, change }) => {
    const modelled = runNamed(`${sweep!.key}=${at}`, model, change);
    return { at, values: valuesOf(swiftly, modelled), change, modelled };
  });
  const days = (range.toMs - range.fromMs) / DAY_MS;
  const billed = base.run.importW.reduce((sum, watts) => (Number.isNaN(watts) ? sum : sum + 1), 0);
  const billedDays = (billed * model.inputs.stepMs) / DAY_MS;
  const { currency = '' } = prepared.system;
  const crossed = sweep && by ? crossedOf(sweep, by) : [];
  return {
    schema: 'long-tally/whatif@1',
    base: {
      logged: Object.fromEntries(KEYS.flatMap((key) => (logged[key] ? [[key, logged[key]]] : []))),
      modelled: told(baseValues, null),
      errors: Object.fromEntries(
        KEYS.map((key) => {
          const was = logged[key]?.value;
          const value = baseValues[key];
          return [key, was == null || Number.isNaN(value) ? null : value - was];
        }),
      ),
      causes: causesOf(data),
    },
    scenarios: scenarios.map(({ name, change, price }) => {
      const figures = told(valuesOf(model, runNamed(`Scenario "${name}"`, model, change)), change);
      const saved = figures['money.bill']!.basis.difference ?? null;
      return {
        ...{ name, figures, change },
        payback: price === undefined ? null : changePayback(price, saved, days, billedDays, currency),
      };
    }),
    sweep: runs.map(({ at, values, change }) => ({ at, figures: told(values, change) })),
    knee: kneeOf(sweep?.key ?? '', runs),
    reach: home.hasGrid && runs.length > 0 ? reachOf(sweep!.key, model, runs) : null,
    grid: crossed.map(({ at, change }) => ({
      at,
      figures: told(valuesOf(swiftly, runNamed(at.join(' and '), model, change)), change),
    })),
  };
}

/** What of the range the home as it is at its end cannot show. */
function causesOf({ configurations, range, log }: RangeData): string[] {
  const within = configurations.filter(({ fromMs }) => fromMs > range.fromMs && fromMs < range.toMs);
  const last = within.at(-1);
  if (!last) return [];
  const when = siteTimeOf(zoneOf(log.zone), last.fromMs).slice(0, 10);
  return [
    `The system changed within this range, last on ${when} (“${last.name}”), and the model has it as it is at the end all along. A range that begins after that date stands closer to the log.`,
  ];
}

/** A run of a change; where it names a part that the home has not, the error says in which scenario. */
function runNamed(where: string, model: Model, change: Change): Modelled {
  try {
    return model.run(change);
  } catch (error) {
    if (!(error instanceof InputError)) throw error;
    throw new InputError(error.problems.map((problem) => ({ ...problem, where })));
  }
}

const PER_LOAD: readonly WhatifKey[] = [
  'account.selfSufficiency.grid',
  'account.selfSufficiency.supply',
  'account.selfSufficiency.solar',
];

/** Figures of a run; beside each the difference to the base, with the interval that a reader should trust. */
function figuresOf(
  model: Model,
  values: Values,
  base: Values,
  logged: Readonly<Record<string, Figure>>,
  change: Change | null,
): Record<string, WhatifFigure> {
  const spread = change === null ? null : spreadOf(model, change);
  return Object.fromEntries(
    KEYS.map((key): [string, WhatifFigure] => {
      const unit = WHATIF_KEYS[key];
      const method = {
        id: `whatif.${key}`,
        formula: 'as the account has it, of the modelled flows',
        source: SAYS,
      };
      const value = values[key];
      if (Number.isNaN(value)) {
        const reason =
          logged[key]?.reason ??
          'The home has not what it needs: a grid, a tariff, a described limit, or its charge in the log.';
        return [key, notMeasured(unit, method, reason)];
      }
      const was = logged[key]?.value;
      const missed = was == null ? 0 : Math.abs(base[key] - was);
      const scale =
        key.startsWith('account.') && !PER_LOAD.includes(key) && unit === 'kWh'
          ? LOAD_OFF * loadOfBase(base)
          : unit === 'share'
            ? LOAD_OFF
            : 0;
      const difference = value - base[key];
      const half =
        change === null
          ? 0
          : Math.hypot(spread?.[key] ?? 0, DIFFERENCE_OFF * difference, difference === 0 ? 0 : scale);
      const own = Math.hypot(missed, MODEL_OFF * Math.abs(value), half);
      const figure = estimated(
        { value, low: value - own, high: value + own },
        {
          unit,
          method,
          basis: {},
          working: [
            { label: 'modelled', value, unit, role: 'result' },
            { label: 'what the model misses of the log', value: own, unit, role: 'uncertainty' },
          ],
          assumptions: [
            'Use and weather as they were; what a reader should trust is the difference to the modelled base.',
          ],
        },
      );
      if (figure.value === null) return [key, insufficient(unit, method, figure.reason!)];
      return change === null
        ? [key, figure]
        : [
            key,
            {
              ...figure,
              basis: { difference: { value: difference, low: difference - half, high: difference + half } },
            },
          ];
    }),
  );
}

function loadOfBase(base: Values): number {
  return base['account.import'] / Math.max(1e-9, 1 - base['account.selfSufficiency.grid']) || 0;
}

/** How far a difference moves with the capacity as unsure as it is. */
function spreadOf(model: Model, change: Change): Partial<Record<WhatifKey, number>> {
  const off = Math.min(0.3, model.home.capacityOff);
  const plain = [
    'account.selfSufficiency.grid',
    'account.selfSufficiency.supply',
    'account.selfSufficiency.solar',
    'account.import',
    'account.export',
    'account.charge',
    'account.discharge',
    'account.losses',
    'solar.heldBack',
    'money.bill',
    'money.saving',
    'account.gridFreeDays',
    'wear.efc.nameplate',
  ] as const;
  const lean: Model = { ...model, starts: null };
  const differences = [1 - off, 1 + off].map((capacity) => {
    const [changed, base] = [
      valuesOf(lean, model.run(change, capacity)),
      valuesOf(lean, model.run({}, capacity)),
    ];
    return Object.fromEntries(plain.map((key) => [key, changed[key] - base[key]]));
  });
  return Object.fromEntries(
    plain.map((key) => [key, Math.abs(differences[1]![key]! - differences[0]![key]!) / 2]),
  );
}
