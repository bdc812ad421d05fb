import type { FigureEntry } from '../../model/figure.js';
import { COUNTER, FULL_TO_FULL } from './roundTrip.js';
import { CONVERSION, IDLE } from './idleDraw.js';
import { TARE } from './inverterIdle.js';
import { REST, STANDBY } from './standby.js';
import { MEAN, PARTS } from './budget.js';

/** The figures of losses, in the order in which they are told. */
export const LOSSES_FIGURES: readonly FigureEntry[] = [
  {
    key: 'losses.mean',
    unit: 'W',
    label: 'Losses, mean',
    meaning: 'The losses of the account as a power that runs day and night.',
    method: MEAN,
    cost: 'days',
  },
  {
    key: 'losses.roundTrip.fullToFull',
    unit: 'share',
    label: 'Round trip, full to full',
    meaning: 'Energy out of the battery for each kWh put in, between full charges.',
    method: FULL_TO_FULL,
    cost: 'days',
  },
  {
    key: 'losses.roundTrip.counter',
    unit: 'share',
    label: 'Round trip, counters',
    meaning: 'Energy out for each kWh in over the whole range, corrected for the change in store.',
    method: COUNTER,
    cost: 'days',
  },
  {
    key: 'losses.idle.battery',
    unit: 'W',
    label: 'Idle draw, battery',
    meaning: 'What the battery’s side draws for itself, day and night.',
    method: IDLE,
    cost: 'days',
  },
  {
    key: 'losses.conversion.discharge',
    unit: 'share',
    label: 'Conversion',
    meaning: 'What is lost on the way in and out for each kWh that comes out, beside the idle draw.',
    method: CONVERSION,
    cost: 'days',
  },
  {
    key: 'losses.idle.inverter',
    unit: 'W',
    label: 'Idle draw, inverter',
    meaning: 'What the inverter draws from the battery whatever it serves.',
    method: TARE,
    cost: 'days',
  },
  {
    key: 'losses.idle.rest',
    unit: 'W',
    label: 'Drain at rest',
    meaning: 'What the battery loses while its meter reads nothing.',
    method: REST,
    cost: 'days',
  },
  {
    key: 'losses.idle.gridStandby',
    unit: 'W',
    label: 'Standby from the grid',
    meaning: 'What the equipment draws from the grid while the battery is parked and there is no sun.',
    method: STANDBY,
    cost: 'days',
  },
  {
    key: 'losses.part.idle',
    unit: 'kWh',
    label: 'Lost to idle draw',
    meaning: 'The battery’s idle draw over the whole range.',
    method: PARTS.idle,
    cost: 'days',
  },
  {
    key: 'losses.part.conversion',
    unit: 'kWh',
    label: 'Lost to conversion',
    meaning: 'Conversion of all that was discharged.',
    method: PARTS.conversion,
    cost: 'days',
  },
  {
    key: 'losses.part.inverter',
    unit: 'kWh',
    label: 'Lost to the inverter',
    meaning: 'The inverter’s idle draw over the whole range.',
    method: PARTS.inverter,
    cost: 'days',
  },
  {
    key: 'losses.unexplained',
    unit: 'kWh',
    label: 'Unexplained',
    meaning: 'What remains of the losses when the fitted parts are taken off; never spread.',
    method: PARTS.unexplained,
    cost: 'days',
  },
];
