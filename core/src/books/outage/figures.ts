import type { FigureEntry } from '../../model/figure.js';
import { CARRIED, COUNT, HOURS, UNSERVED } from './outageFigures.js';
import { RUNTIME } from '../shared/homeStorage.js';
import { REPLAY, RESERVE, SURVIVE } from './survivalFigures.js';

/** The figures of outages, in the order in which they are told. */
export const OUTAGE_FIGURES: readonly FigureEntry[] = [
  {
    key: 'outage.count',
    unit: 'count',
    label: 'Outages',
    meaning: 'Interruptions of the grid that the log shows.',
    method: COUNT,
    cost: 'days',
  },
  {
    key: 'outage.hours',
    unit: 'h',
    label: 'Time without the grid',
    meaning: 'All interruptions together.',
    method: HOURS,
    cost: 'days',
  },
  {
    key: 'outage.carriedShare',
    unit: 'share',
    label: 'Carried through',
    meaning: 'Share of the time without the grid in which the home had power.',
    method: CARRIED,
    cost: 'days',
  },
  {
    key: 'outage.unservedHours',
    unit: 'h',
    label: 'Without power',
    meaning:
      'Time in which the home itself was dark: in outages, and without a grid whenever the load was gone.',
    method: UNSERVED,
    cost: 'days',
  },
  {
    key: 'outage.runtime.now',
    unit: 'h',
    label: 'Runtime now',
    meaning: 'Hours that the charge at the end of the range lasts at the usual load, without sun.',
    method: RUNTIME,
    cost: 'samples',
  },
  {
    key: 'outage.replay.p10',
    unit: 'h',
    label: 'Runtime, 10th percentile',
    meaning: 'A tenth of the possible starts lasts no longer.',
    method: REPLAY(0.1),
    cost: 'samples',
  },
  {
    key: 'outage.replay.p50',
    unit: 'h',
    label: 'Runtime, median',
    meaning: 'Half of the possible starts last no longer.',
    method: REPLAY(0.5),
    cost: 'samples',
  },
  {
    key: 'outage.replay.p90',
    unit: 'h',
    label: 'Runtime, 90th percentile',
    meaning: 'Nine tenths of the possible starts last no longer.',
    method: REPLAY(0.9),
    cost: 'samples',
  },
  {
    key: 'outage.survive.12h',
    unit: 'share',
    label: 'Lasts 12 h',
    meaning: 'Share of possible starts that last twelve hours.',
    method: SURVIVE(12),
    cost: 'samples',
  },
  {
    key: 'outage.survive.24h',
    unit: 'share',
    label: 'Lasts a day',
    meaning: 'Share of possible starts that last 24 hours.',
    method: SURVIVE(24),
    cost: 'samples',
  },
  {
    key: 'outage.reserve.12h90',
    unit: 'share',
    label: 'Reserve for 12 h',
    meaning: 'Least charge from which nine of ten starts last twelve hours, with the sun that there was.',
    method: RESERVE,
    cost: 'samples',
  },
];
