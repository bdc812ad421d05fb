import type { FigureEntry } from '../../model/figure.js';
import { CLIPPED, DC_GAIN, HELD_BACK, SURPLUS } from './solarFigures.js';

/** The figures of solar that was not made, in the order in which they are told. */
export const SOLAR_FIGURES: readonly FigureEntry[] = [
  {
    key: 'solar.clipped',
    unit: 'kWh',
    label: 'Clipped',
    meaning: 'Solar that was lost while the inverter stood at its AC limit.',
    method: CLIPPED,
    cost: 'samples',
  },
  {
    key: 'solar.heldBack',
    unit: 'kWh',
    label: 'Held back',
    meaning:
      'Solar that was lost behind a full battery: in islands, at the export limit, or with nothing to sell to.',
    method: HELD_BACK,
    cost: 'samples',
  },
  {
    key: 'solar.dcGain',
    unit: 'kWh',
    label: 'Gain of the DC side',
    meaning: 'Solar that the battery took on the DC side while the inverter stood at its AC limit.',
    method: DC_GAIN,
    cost: 'samples',
  },
  {
    key: 'solar.surplus',
    unit: 'kWh',
    label: 'Surplus',
    meaning: 'Solar that another load could have had for nothing: held back, or exported at no income.',
    method: SURPLUS,
    cost: 'samples',
  },
];
