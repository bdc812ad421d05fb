import { counted } from '../../model/counted.js';
import { insufficient, notMeasured, type Figure, type Method } from '../../model/figure.js';
import { lackOf } from '../shared/lacking.js';
import { numbersOf } from '../../statistics/numbersOf.js';
import { bootstrapRatio } from '../../statistics/bootstrapRatio.js';
import {
  combined,
  halfDigit,
  hiddenByDigit,
  zeroOf,
  type Uncertainty,
  uncertaintyLines,
} from '../shared/uncertainty.js';
import { channelOf, gradeOf, hoursOf, type RangeData } from '../../passes/rangeData.js';
import { PARKED_W } from '../../passes/sumCells.js';

export const REST: Method = {
  id: 'losses.idle-rest',
  formula: 'fall of SOC × usable capacity ÷ time, over rests in which the battery’s power reads nothing',
  source:
    'Self-discharge at rest: common practice, no published source; bootstrap over rests (Efron & Tibshirani 1993).',
};
export const STANDBY: Method = {
  id: 'losses.grid-standby',
  formula: '(import − load) ÷ time, while the battery is parked and there is no sun',
  source: 'Energy balance of the AC bus: common practice, no published source.',
};
const LEAST_REST_H = 48;
const LEAST_STANDBY_H = 10;

/** What the battery loses at rest, and what the equipment draws from the grid while it does nothing. */
export function standby(data: RangeData): Record<string, Figure> {
  return { 'losses.idle.rest': restDrain(data), 'losses.idle.gridStandby': gridStandby(data) };
}

function restDrain(data: RangeData): Figure {
  const lack = lackOf(data, ['battery', 'soc']);
  if (lack) return notMeasured('W', REST, lack);
  const rests = data.rests.filter(({ configuration }) => configuration.usableWh !== null);
  const wh = numbersOf(rests, ({ fall, configuration }) => fall * configuration.usableWh!);
  const lasting = numbersOf(rests, ({ fromMs, toMs }) => (toMs - fromMs) / 3_600_000);
  const hours = lasting.reduce((sum, own) => sum + own, 0);
  if (hours < LEAST_REST_H || rests.length < 3) {
    return insufficient(
      'W',
      REST,
      `The battery’s power reads nothing for ${hours.toFixed(0)} h in ${counted(rests.length, 'rest')} of two hours and more; ${LEAST_REST_H} h in three rests are needed. A battery that is in use every night gives none: then the idle draw is in the windows.`,
      { hours, rests: rests.length },
    );
  }
  const value = wh.reduce((sum, own) => sum + own, 0) / hours;
  const [low, high] = bootstrapRatio(wh, lasting);
  const digit = halfDigit(data.log.channels.get('soc'));
  const rounding = (Math.SQRT2 * digit * rests[0]!.configuration.usableWh! * Math.sqrt(rests.length)) / hours;
  const doubts: Uncertainty[] = [
    { label: 'last digit of SOC at both ends', half: rounding },
    { label: 'usable capacity, ±10 %', half: 0.1 * Math.abs(value) },
  ];
  const systematic = combined(doubts);
  return gradeOf(data, 'battery')(
    {
      value,
      low: value - Math.hypot(systematic, Math.max(0, value - low)),
      high: value + Math.hypot(systematic, Math.max(0, high - value)),
    },
    {
      unit: 'W',
      method: REST,
      basis: { rests: rests.length, hours },
      working: [
        {
          label: `fall of the store in ${counted(rests.length, 'rest')}`,
          value: (value * hours) / 1000,
          unit: 'kWh',
          role: 'input',
        },
        { label: '÷ their time', value: hours, unit: 'h', role: 'input' },
        { label: 'drain at rest', value, unit: 'W', role: 'result' },
        { label: 'bootstrap over rests', value: (high - low) / 2, unit: 'W', role: 'uncertainty' },
        ...uncertaintyLines(doubts, 1, 'W'),
      ],
      assumptions: ['What the battery monitor does not see, and what leaves the cells below its last digit.'],
    },
  );
}

function gridStandby(data: RangeData): Figure {
  const lack = lackOf(data, ['solar', 'load', 'grid', 'battery']);
  if (lack) return notMeasured('W', STANDBY, lack);
  const lacking = (['solar', 'load', 'grid', 'battery'] as const).filter(
    (quantity) => channelOf(data, quantity)?.origin !== 'logged',
  );
  if (lacking.length > 0)
    return notMeasured(
      'W',
      STANDBY,
      `Grid standby needs solar, load, grid and battery, each by a meter of its own; ${lacking.join(' and ')} ${lacking.length === 1 ? 'has' : 'have'} none.`,
    );
  const { standbyWh, standbyLoadWh, standbyS } = data.total;
  const hours = hoursOf(standbyS);
  if (hours < LEAST_STANDBY_H)
    return insufficient(
      'W',
      STANDBY,
      `The battery is parked without sun and with the grid carrying the home for ${hours.toFixed(1)} h only; ${LEAST_STANDBY_H} h are needed.`,
      { hours },
    );
  const hidden = hiddenByDigit(data, 'grid', PARKED_W) ?? hiddenByDigit(data, 'load', PARKED_W);
  if (hidden) return insufficient('W', STANDBY, hidden, { hours });
  const value = standbyWh / hours;
  const doubts: Uncertainty[] = [
    { label: 'load meter, gain', half: (data.accuracy.load * standbyLoadWh) / hours },
    { label: 'grid meter, gain', half: (data.accuracy.grid * (standbyLoadWh + standbyWh)) / hours },
    { label: 'load meter, zero', half: zeroOf(data, 'load') },
    { label: 'grid meter, zero', half: zeroOf(data, 'grid') },
  ];
  const half = combined(doubts);
  return gradeOf(data, 'grid')(
    { value, low: value - half, high: value + half },
    {
      unit: 'W',
      method: STANDBY,
      basis: { hours, meanLoadW: standbyLoadWh / hours },
      working: [
        { label: 'import', value: (standbyLoadWh + standbyWh) / 1000, unit: 'kWh', role: 'input' },
        { label: '− load, same intervals', value: standbyLoadWh / 1000, unit: 'kWh', role: 'input' },
        { label: '÷ time', value: hours, unit: 'h', role: 'input' },
        { label: 'standby from the grid', value, unit: 'W', role: 'result' },
        ...uncertaintyLines(doubts, 1, 'W'),
      ],
      assumptions: [
        'Two meters of the home differ by more than this draw when their gains do: see the interval.',
      ],
    },
  );
}
