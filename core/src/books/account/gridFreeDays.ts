import { insufficient, notMeasured, type Figure } from '../../model/figure.js';
import type { DaySums } from '../../passes/dailySums.js';
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
  const reason = data.parts.every(({ configuration }) => !configuration.hasGrid)
    ? 'This home has no grid, so no day could have been free of it.'
    : lackOf(data, ['grid']);
  const isJudged = data.days.some(({ gridFree: free }) => free !== null);
  return {
    ...(reason && !isJudged
      ? Object.fromEntries(
          KEYS.map(([key, unit, method]) => [`account.${key}`, notMeasured(unit, method, reason)]),
        )
      : gridFree(data)),
    'account.trickle': reason ? notMeasured('kWh/day', METHODS.trickle, reason) : trickle(data),
  };
}

const KEYS = [
  ['gridFreeDays', 'days', METHODS.gridFree],
  ['gridFreeShare', 'share', METHODS.gridFree],
  ['gridFreeDays.beyondTrickle', 'days', METHODS.beyondTrickle],
] as const;
/** A trickle that the meter's accuracy could move over the limit by itself decides nothing about a day. */
const TRICKLE_DECIDES = 0.1;

/**
 * Days that bought so little, by an energy of each; low and high as the grid meter may be off.
 * @param halfWh by an energy and the seconds in which it was bought
 */
function daysWithin(
  limitWh: number,
  days: readonly DaySums[],
  energyWh: (day: DaySums) => number,
  secondsOf: (day: DaySums) => number,
  halfWh: (wh: number, seconds: number) => number,
) {
  let [value, low, high] = [0, 0, 0];
  for (const day of days) {
    const wh = energyWh(day);
    // Most days lie so far from the limit that it does not matter how long they bought.
    const isNear = Math.abs(wh - limitWh) <= halfWh(wh, DAY_S);
    const half = isNear ? halfWh(wh, secondsOf(day)) : 0;
    if (wh <= limitWh) value++;
    if (wh + half <= limitWh) low++;
    if (wh - half <= limitWh) high++;
  }
  return { value, low, high };
}

/** No day is longer, s: the clock is put back by an hour at most. */
const DAY_S = 25 * 3600;

function gridFree(data: RangeData): Record<string, Figure> {
  const days = data.days.filter((day) => day.gridFree !== null);
  if (days.length === 0) {
    const reason = 'No day is covered to 90 %; a fuller log would supply it.';
    return Object.fromEntries(
      KEYS.map(([key, unit, method]) => [`account.${key}`, insufficient(unit, method, reason)]),
    );
  }
  const graded = gradeOf(data, 'grid');
  const gain = data.accuracy.grid;
  const zeroWh = zeroOf(data, 'grid') / 3600;
  const digitWh = (channelOf(data, 'grid')?.counter?.digitWh ?? 0) / 2;
  const half = (wh: number, seconds: number) =>
    Math.sqrt((gain * wh) ** 2 + (zeroWh * seconds) ** 2 + (wh > 0 ? digitWh ** 2 : 0));
  const own = daysWithin(
    data.gridFreeWh,
    days,
    ({ importWh }) => importWh,
    ({ sums }) => sums.importOnS,
    half,
  );
  const beyondWh = ({ importWh, sums }: DaySums) => Math.max(0, importWh - sums.trickleBus);
  const beyond = daysWithin(
    data.gridFreeWh,
    days,
    beyondWh,
    ({ sums }) => Math.max(0, sums.importOnS - sums.trickleS),
    half,
  );
  const limitKWh = data.gridFreeWh / 1000;
  const basis = { daysJudged: days.length, limitKWh };
  const lines = [
    { label: 'days covered to 90 %', value: days.length, unit: 'days', role: 'input' },
    { label: `of them with import up to ${limitKWh} kWh`, value: own.value, unit: 'days', role: 'input' },
  ] as const;
  const isTrickle =
    own.high - own.low > TRICKLE_DECIDES * days.length && beyond.high - beyond.low < own.high - own.low;
  const assumptions = [
    'The interval counts the days that the grid meter’s accuracy could move across the limit.',
    ...(isTrickle
      ? [
          `The trickle alone lies so near the limit that the meter’s zero decides here. Beyond the trickle no more than ${limitKWh} kWh was bought on ${beyond.value} of ${days.length} days: the figure beside this one.`,
        ]
      : []),
  ];
  const share = (of: number) => of / days.length;
  return {
    'account.gridFreeDays': graded(own, {
      unit: 'days',
      method: METHODS.gridFree,
      basis,
      assumptions,
      working: [...lines, { label: 'grid-free days', value: own.value, unit: 'days', role: 'result' }],
    }),
    'account.gridFreeShare': graded(
      { value: share(own.value), low: share(own.low), high: share(own.high) },
      {
        unit: 'share',
        method: METHODS.gridFree,
        basis,
        assumptions,
        working: [...lines, { label: 'share', value: share(own.value), unit: 'share', role: 'result' }],
      },
    ),
    'account.gridFreeDays.beyondTrickle': graded(beyond, {
      unit: 'days',
      method: METHODS.beyondTrickle,
      basis,
      assumptions: assumptions.slice(0, 1),
      working: [
        lines[0],
        {
          label: `of them with import beyond the trickle up to ${limitKWh} kWh`,
          value: beyond.value,
          unit: 'days',
          role: 'result',
        },
      ],
    }),
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
