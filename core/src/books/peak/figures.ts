import type { FigureEntry } from '../../model/figure.js';
import { HEADROOM, PEAK } from './peakFigures.js';
import { HEADROOM_LEG, HELD, STOPS, TRIPPED } from './stopFigures.js';
import { ABOVE, IMBALANCE, LEG, P999, TRANSFERS } from './peakLoads.js';

/** The figures of peaks, in the order in which they are told. */
export const PEAK_FIGURES: readonly FigureEntry[] = [
  {
    key: 'peak.load',
    unit: 'kW',
    label: 'Highest load',
    meaning: 'The highest mean load of one interval of the log.',
    method: PEAK,
    cost: 'days',
  },
  {
    key: 'peak.load.p999',
    unit: 'kW',
    label: 'Load, 99.9 %',
    meaning: 'Load that all but a thousandth of the time stays below.',
    method: P999,
    cost: 'samples',
  },
  {
    key: 'peak.leg.load',
    unit: 'kW',
    label: 'Highest on one leg',
    meaning: 'The highest mean power of one leg.',
    method: LEG,
    cost: 'samples',
  },
  {
    key: 'peak.leg.imbalance',
    unit: 'share',
    label: 'Imbalance of legs',
    meaning: 'How far the legs lie from their mean, as a share of it.',
    method: IMBALANCE,
    cost: 'samples',
  },
  {
    key: 'peak.hoursAbove.continuous',
    unit: 'h',
    label: 'Above continuous',
    meaning: 'Time with a load above the inverter’s continuous rating.',
    method: ABOVE('continuous'),
    cost: 'samples',
  },
  {
    key: 'peak.hoursAbove.batteryOnly',
    unit: 'h',
    label: 'Above battery-only',
    meaning:
      'Time with a load above what the inverter gives from the battery; in an outage it would have tripped.',
    method: ABOVE('battery'),
    cost: 'samples',
  },
  {
    key: 'peak.hoursAbove.leg',
    unit: 'h',
    label: 'A leg above its limit',
    meaning: 'Time with a leg above what it may carry.',
    method: ABOVE('leg'),
    cost: 'samples',
  },
  {
    key: 'peak.transfers',
    unit: 'count',
    label: 'Overload transfers',
    meaning: 'Loads that stopped a battery with charge left, so that the grid took over.',
    method: TRANSFERS,
    cost: 'samples',
  },
  {
    key: 'peak.stops',
    unit: 'count',
    label: 'Stops of the output',
    meaning: 'Times at which the home was cut off by its inverter, with no grid to take over.',
    method: STOPS,
    cost: 'samples',
  },
  {
    key: 'peak.leg.held',
    unit: 'kW',
    label: 'Held by one leg',
    meaning: 'The highest power of one leg that the output held without the grid.',
    method: HELD,
    cost: 'samples',
  },
  {
    key: 'peak.leg.tripped',
    unit: 'kW',
    label: 'Tripped by one leg',
    meaning: 'The lowest power of the most loaded leg at which the output stopped or handed over.',
    method: TRIPPED,
    cost: 'samples',
  },
  {
    key: 'peak.headroom.leg',
    unit: 'kW',
    label: 'Headroom of a leg',
    meaning: 'What one leg could have carried beyond its highest power.',
    method: HEADROOM_LEG,
    cost: 'samples',
  },
  {
    key: 'peak.headroom.batteryOnly',
    unit: 'kW',
    label: 'Headroom on battery',
    meaning: 'What the inverter could have carried beyond the highest load, without the grid.',
    method: HEADROOM,
    cost: 'days',
  },
];
