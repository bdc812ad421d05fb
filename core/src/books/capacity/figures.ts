import type { FigureEntry } from '../../model/figure.js';
import { FADE, NOW, YEAR_ON_YEAR } from './capacity.js';
import { DELIVERED, MODULES } from './latestTrial.js';
import { HEALTH } from './stateOfHealth.js';
import { CUT_OFF, DRIFT, FROM_CHARGE } from './crossChecks.js';
import { END } from './endOfLife.js';

/** The figures of capacity, in the order in which they are told. */
export const CAPACITY_FIGURES: readonly FigureEntry[] = [
  {
    key: 'capacity.now',
    unit: 'kWh',
    label: 'Capacity now',
    meaning: 'Energy from full to empty on the measuring side, at the end of the range.',
    method: NOW,
    cost: 'days',
  },
  {
    key: 'capacity.stateOfHealth',
    unit: 'share',
    label: 'State of health',
    meaning: 'Capacity now as a share of what it is measured against.',
    method: HEALTH.reference,
    cost: 'days',
  },
  {
    key: 'capacity.stateOfHealth.trial',
    unit: 'share',
    label: 'Health, trial',
    meaning: 'Capacity now as a share of what the commissioning trial gave.',
    method: HEALTH.trial,
    cost: 'days',
  },
  {
    key: 'capacity.stateOfHealth.firstDays',
    unit: 'share',
    label: 'Health, first 90 days',
    meaning: 'Capacity now as a share of what it was when this configuration began.',
    method: HEALTH.firstDays,
    cost: 'days',
  },
  {
    key: 'capacity.stateOfHealth.nameplate',
    unit: 'share',
    label: 'Health, nameplate',
    meaning: 'Capacity now as a share of what the nameplate makes usable.',
    method: HEALTH.nameplate,
    cost: 'days',
  },
  {
    key: 'capacity.now.fromCharge',
    unit: 'kWh',
    label: 'Capacity, from charges',
    meaning:
      'The same from charges alone, less what is lost on the way out: a check of the one from discharges.',
    method: FROM_CHARGE,
    cost: 'days',
  },
  {
    key: 'capacity.cutOff',
    unit: 'share',
    label: 'SOC at cut-off',
    meaning: 'State of charge at which the battery has no more to give, on its monitor’s display.',
    method: CUT_OFF,
    cost: 'days',
  },
  {
    key: 'capacity.cutOff.drift',
    unit: 'share/year',
    label: 'Drift of the cut-off',
    meaning: 'How much that charge rises a year: fade that the monitor does not show.',
    method: DRIFT,
    cost: 'days',
  },
  {
    key: 'capacity.fadePerYear',
    unit: 'share/year',
    label: 'Fade',
    meaning: 'Share of the reference capacity lost in a year.',
    method: FADE,
    cost: 'days',
  },
  {
    key: 'capacity.fadePerYear.yearOnYear',
    unit: 'share/year',
    label: 'Fade, year on year',
    meaning: 'The same from months one year apart, which takes the season off by itself.',
    method: YEAR_ON_YEAR,
    cost: 'days',
  },
  {
    key: 'capacity.trial.delivered',
    unit: 'share',
    label: 'Delivered in the latest trial',
    meaning:
      'What the latest drawdown trial gave, as a share of what its modules are described to hold over its fall.',
    method: DELIVERED,
    cost: 'days',
  },
  {
    key: 'capacity.trial.modules',
    unit: 'count',
    label: 'Modules that answer',
    meaning: 'How many modules seem to have delivered in the latest drawdown trial.',
    method: MODULES,
    cost: 'days',
  },
  {
    key: 'capacity.endOfLife.80',
    unit: 'date',
    label: '80 % is reached',
    meaning: 'When four fifths of the reference are left.',
    method: END(80),
    cost: 'days',
  },
  {
    key: 'capacity.endOfLife.70',
    unit: 'date',
    label: '70 % is reached',
    meaning: 'When seven tenths of the reference are left.',
    method: END(70),
    cost: 'days',
  },
  {
    key: 'capacity.endOfLife.60',
    unit: 'date',
    label: '60 % is reached',
    meaning: 'When six tenths of the reference are left.',
    method: END(60),
    cost: 'days',
  },
];
