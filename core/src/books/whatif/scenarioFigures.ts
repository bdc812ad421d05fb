import { insufficient, estimated, notMeasured, type Figure, type Interval } from '../../model/figure.js';
import type { Change } from './scenarioFile.js';
import {
  KEYS,
  PER_LOAD,
  valuesOf,
  WHATIF_KEYS,
  type Model,
  type Values,
  type WhatifKey,
} from './scenarioValues.js';

/** A difference is held to this share of it, and to this share of the load. */
const DIFFERENCE_OFF = 0.06;
const LOAD_OFF = 0.005;
/** And to this share of the load where the coupling changes: what another inverter and charger lose is not known. */
const COUPLING_OFF = 0.015;
/** A modelled value by itself is held to what the model misses of the log, and to this share. */
const MODEL_OFF = 0.02;
const MOST_CAPACITY_OFF = 0.3;
const SAYS =
  'Measured load and sun through a model of the store, step by step. Common practice, no published source.';

/** A figure of a scenario; its basis holds the difference to the modelled base. */
export type WhatifFigure = Omit<Figure, 'basis'> & {
  readonly basis: Figure['basis'] & { readonly difference?: Interval };
};
export type WhatifFigures = Readonly<Record<string, WhatifFigure>>;

/** What the figures of runs are held against. */
export interface Beside {
  readonly model: Model;
  /** The home as it is, modelled. */
  readonly base: Values;
  /** How far the model lies from the log, by figure; NaN where that is not told. */
  readonly missed: Values;
  readonly logged: Readonly<Record<string, Figure>>;
  /** Half-width of the difference of a change, by figure: how far it moves with the capacity as unsure as it is. */
  readonly spreadOf: (change: Change) => Partial<Record<WhatifKey, number>>;
}

/** What to hold the figures of a range's runs against. */
export function besideOf(
  model: Model,
  base: Values,
  missed: Values,
  logged: Readonly<Record<string, Figure>>,
): Beside {
  const off = Math.min(MOST_CAPACITY_OFF, model.home.capacityOff);
  const capacities = [1 - off, 1 + off];
  const of = (change: Change, capacity: number) => valuesOf(model, model.energies(change, capacity), null);
  let bases: readonly Values[] | null = null;
  return {
    ...{ model, base, missed, logged },
    spreadOf(change) {
      const [lowBase, highBase] = (bases ??= capacities.map((capacity) => of({}, capacity)));
      const [low, high] = capacities.map((capacity) => of(change, capacity));
      return Object.fromEntries(
        KEYS.map((key) => [key, Math.abs(high![key] - highBase![key] - (low![key] - lowBase![key])) / 2]),
      );
    },
  };
}

/**
 * Figures of a run; beside each the difference to the base, with the interval that a reader should trust.
 * @param change null for the base itself
 */
export function scenarioFigures(
  { model, base, missed, logged, spreadOf }: Beside,
  values: Values,
  change: Change | null,
): WhatifFigures {
  const spread = change === null ? null : spreadOf(change);
  const isTurned = change?.coupling !== undefined && change.coupling !== model.home.coupling;
  const loadOff = isTurned ? COUPLING_OFF : LOAD_OFF;
  const loadKWh = base['account.import'] / Math.max(1e-9, 1 - base['account.selfSufficiency.grid']) || 0;
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
      const scale =
        key.startsWith('account.') && !PER_LOAD.includes(key) && unit === 'kWh'
          ? loadOff * loadKWh
          : unit === 'share' && key !== 'wear.damage'
            ? loadOff
            : 0;
      const difference = value - base[key];
      const half =
        change === null
          ? 0
          : Math.hypot(
              spread?.[key] || 0,
              DIFFERENCE_OFF * difference,
              difference === 0 && !isTurned ? 0 : scale,
            );
      const own = Math.hypot(missed[key] || 0, MODEL_OFF * Math.abs(value), half);
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
