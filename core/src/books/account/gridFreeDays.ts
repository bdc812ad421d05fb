import { insufficient, notMeasured, type Figure } from '../../model/figure.js';
import { GRID_FREE_WH } from '../../passes/dailySums.js';
import { TRICKLE_BELOW_W } from '../../passes/sumCells.js';
import {
  combined,
  energyUncertainty,
  hiddenByDigit,
  zeroOf,
  uncertaintyLines,
} from '../shared/uncertainty.js';
import { channelOf, gradeOf, hoursOf, type RangeData } from '../../passes/rangeData.js';
import { lackOf } from '../shared/lacking.js';
import { METHODS } from './methods.js';

/** Grid-free days and their share, and the standby trickle. */
export function gridContact(data: RangeData): Record<string, Figure> {
  const reason = lackOf(data, ['grid']);
  const isJudged = data.days.some(({ gridFree: free }) => free !== null);
  if (reason && isJudged)
    return { ...gridFree(data), 'account.trickle': notMeasured('kWh/day', METHODS.trickle, reason) };
  if (reason) {
    return {
      'account.gridFreeDays': notMeasured('days', METHODS.gridFree, reason),
      'account.gridFreeShare': notMeasured('share', METHODS.gridFree, reason),
      'account.trickle': notMeasured('kWh/day', METHODS.trickle, reason),
    };
  }
  return { ...gridFree(data), 'account.trickle': trickle(data) };
}

function gridFree(data: RangeData): Record<string, Figure> {
  const days = data.days.filter(({ gridFree: free }) => free !== null);
  if (days.length === 0) {
    const reason = 'No day is covered to 90 %; a fuller log would supply it.';
    return {
      'account.gridFreeDays': insufficient('days', METHODS.gridFree, reason),
      'account.gridFreeShare': insufficient('share', METHODS.gridFree, reason),
    };
  }
  const graded = gradeOf(data, 'grid');
  const gain = data.accuracy.grid;
  const zeroWh = zeroOf(data, 'grid') / 3600;
  const digitWh = (channelOf(data, 'grid')?.counter?.digitWh ?? 0) / 2;
  const count = (shift: -1 | 0 | 1) =>
    days.filter(({ sums, importWh }) => {
      const half = Math.hypot(gain * importWh, zeroWh * sums.importOnS, importWh > 0 ? digitWh : 0);
      return importWh + shift * half <= GRID_FREE_WH;
    }).length;
  const [least, value, most] = [count(1), count(0), count(-1)];
  const basis = { daysJudged: days.length, limitKWh: GRID_FREE_WH / 1000 };
  const lines = [
    { label: 'days covered to 90 %', value: days.length, unit: 'days', role: 'input' },
    { label: 'of them with import up to 0.5 kWh', value, unit: 'days', role: 'input' },
  ] as const;
  const assumptions = [
    'The interval counts the days that the grid meter’s accuracy could move across the limit.',
  ];
  return {
    'account.gridFreeDays': graded(
      { value, low: least, high: most },
      {
        unit: 'days',
        method: METHODS.gridFree,
        basis,
        assumptions,
        working: [...lines, { label: 'grid-free days', value, unit: 'days', role: 'result' }],
      },
    ),
    'account.gridFreeShare': graded(
      { value: value / days.length, low: least / days.length, high: most / days.length },
      {
        unit: 'share',
        method: METHODS.gridFree,
        basis,
        assumptions,
        working: [...lines, { label: 'share', value: value / days.length, unit: 'share', role: 'result' }],
      },
    ),
  };
}

function trickle(data: RangeData): Figure {
  const { trickleBus, trickleS, busS } = data.total;
  if (busS === 0) {
    return insufficient(
      'kWh/day',
      METHODS.trickle,
      'In no interval are solar, load, grid and battery all known.',
    );
  }
  const hidden = hiddenByDigit(data, 'grid', TRICKLE_BELOW_W);
  if (hidden) return insufficient('kWh/day', METHODS.trickle, hidden);
  const days = busS / 86_400;
  const value = trickleBus / 1000 / days;
  const doubts = energyUncertainty(data, 'grid', trickleBus, trickleS);
  const half = combined(doubts) / 1000 / days;
  return gradeOf(
    data,
    'solar',
    'load',
    'grid',
    'battery',
  )(
    { value, low: Math.max(0, value - half), high: value + half },
    {
      unit: 'kWh/day',
      method: METHODS.trickle,
      basis: { hours: hoursOf(trickleS), days },
      working: [
        {
          label: 'import below 60 W while the home carries itself',
          value: trickleBus / 1000,
          unit: 'kWh',
          role: 'input',
        },
        { label: '÷ days measured', value: days, unit: 'days', role: 'input' },
        { label: 'trickle', value, unit: 'kWh/day', role: 'result' },
        ...uncertaintyLines(doubts, 1 / 1000 / days, 'kWh/day'),
      ],
      assumptions: ['A grid meter’s zero offset counts in full here: it is as large as the trickle itself.'],
    },
  );
}
