import type { FigureEntry } from '../../model/figure.js';
import { BASE, PART, YIELD } from './parts.js';

/** The figures of parts of the home. Those of a name stand once for all names. */
export const PARTS_FIGURES: readonly FigureEntry[] = [
  {
    key: 'solar.part.NAME',
    unit: 'kWh',
    label: 'Solar of an array',
    meaning: 'Energy of an array that is logged by its own name.',
    method: PART,
    cost: 'samples',
  },
  {
    key: 'load.part.NAME',
    unit: 'kWh',
    label: 'Load of a part',
    meaning: 'Energy of a part of the home that is logged by its own name.',
    method: PART,
    cost: 'samples',
  },
  {
    key: 'solar.specificYield',
    unit: 'kWh/kWp',
    label: 'Specific yield',
    meaning: 'What each kilowatt of panels gave in the range.',
    method: YIELD,
    cost: 'samples',
  },
  {
    key: 'load.baseLoad',
    unit: 'W',
    label: 'Base load',
    meaning:
      'The load that never goes away: what the home still takes in its quietest half hours of the night.',
    method: BASE,
    cost: 'samples',
  },
];
