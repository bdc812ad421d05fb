import type { FigureEntry } from '../../model/figure.js';
import { COOLING, HEATING } from './degreeDays.js';
import { MONEY } from './methods.js';

/** The figures of money and weather, in the order in which they are told. */
export const MONEY_FIGURES: readonly FigureEntry[] = [
  ...Object.entries(MONEY).map(([key, entry]): FigureEntry => ({
    key: `money.${key}`,
    ...entry,
    cost: 'samples',
  })),
  {
    key: 'weather.heatingDegreeDays',
    unit: 'K·d',
    label: 'Heating degree days',
    meaning: 'How cold it was, summed over the days.',
    method: HEATING,
    cost: 'samples',
  },
  {
    key: 'weather.coolingDegreeDays',
    unit: 'K·d',
    label: 'Cooling degree days',
    meaning: 'How hot it was, summed over the days.',
    method: COOLING,
    cost: 'samples',
  },
];
