import { insufficient, measured, notMeasured, type Figure, type Method } from '../../model/figure.js';
import {
  HIGH,
  LOW,
  RATE_BIN,
  rateQuantile,
  TEMPERATURE_BOUNDS,
  timeAround,
} from '../../passes/stressHistogram.js';
import { lackOf } from '../shared/lacking.js';
import { energyUncertainty, combined, halfDigit, hiddenByDigit, percent } from '../shared/uncertainty.js';
import { channelOf, coverageOf, gradeOf, hoursOf, type RangeData } from '../../passes/rangeData.js';

const PRACTICE = 'Common practice, no published source.';
export const FULL: Method = {
  id: 'wear.time-full',
  formula: 'time above 95 % ÷ time known',
  source: PRACTICE,
};
export const EMPTY: Method = {
  id: 'wear.time-empty',
  formula: 'time below 10 % ÷ time known',
  source: PRACTICE,
};
export const P50: Method = {
  id: 'wear.rate-p50',
  formula: 'half of the working time |battery| ÷ nameplate is below it',
  source: PRACTICE,
};
export const P95: Method = {
  id: 'wear.rate-p95',
  formula: '95 % of the working time |battery| ÷ nameplate is below it',
  source: PRACTICE,
};
export const TOP: Method = {
  id: 'wear.rate-max',
  formula: 'highest |battery| ÷ nameplate',
  source: PRACTICE,
};
export const HARD: Method = {
  id: 'wear.rate-hours',
  formula: 'time with |battery| ÷ nameplate above 0.5',
  source: PRACTICE,
};
export const COLD: Method = {
  id: 'wear.cold-charge',
  formula: 'Σ charge while the battery is below 0 °C',
  source: PRACTICE,
};
export const HOT: Method = { id: 'wear.hot', formula: 'time above 45 °C', source: PRACTICE };
const HARD_RATE = 0.5;
/** A logged temperature is taken to be good to so many K. */
const TEMPERATURE_OFF = 1;

/** Time spent full and empty, charge rates, cold and heat. */
export function stressFigures(data: RangeData): Record<string, Figure> {
  return {
    'wear.timeAbove95': timeAt(data, FULL, 'above', HIGH, data.stress.highS),
    'wear.timeBelow10': timeAt(data, EMPTY, 'below', LOW, data.stress.lowS),
    'wear.rate.p50': rate(data, P50, rateQuantile(data.stress, 0.5)),
    'wear.rate.p95': rate(data, P95, rateQuantile(data.stress, 0.95)),
    'wear.rate.max': rate(data, TOP, data.stress.topRate || null),
    'wear.rate.hoursAboveHalf': hardHours(data),
    'wear.coldCharge': cold(data),
    'wear.hotHours': hot(data),
  };
}

function timeAt(
  data: RangeData,
  method: Method,
  side: 'above' | 'below',
  bound: number,
  seconds: number,
): Figure {
  const { socS } = data.total;
  const lack = lackOf(data, ['soc']);
  if (lack) return notMeasured('share', method, lack);
  if (socS === 0) return insufficient('share', method, 'State of charge is missing throughout this range.');
  const value = seconds / socS;
  const off = Math.hypot(data.accuracy.soc, halfDigit(data.log.channels.get('soc')));
  // A monitor that reads so much too high or too low moves the bound by as much.
  const [stricter, looser] = side === 'above' ? [bound + off, bound - off] : [bound - off, bound + off];
  const low = Math.min(value, timeAround(data.stress, stricter)[side].surely / socS);
  const high = Math.max(value, timeAround(data.stress, looser)[side].maybe / socS);
  return measured(
    { value, low, high },
    {
      unit: 'share',
      method,
      basis: { coverage: coverageOf(data, socS), hours: hoursOf(seconds) },
      working: [
        { label: 'time there', value: hoursOf(seconds), unit: 'h', role: 'input' },
        { label: '÷ time known', value: hoursOf(socS), unit: 'h', role: 'input' },
        { label: 'share', value, unit: 'share', role: 'result' },
        {
          label: `what lies within ±${percent(off)} of the bound`,
          value: (high - low) / 2,
          unit: 'share',
          role: 'uncertainty',
        },
      ],
    },
  );
}

/** Why charge rates cannot be told, or null. */
function lacking(data: RangeData): string | null {
  const lack = lackOf(data, ['battery']);
  if (lack) return lack;
  return data.parts.some(({ configuration }) => configuration.nameplateWh === null)
    ? 'The nameplate capacity is not described for every configuration of this range.'
    : null;
}

function rate(data: RangeData, method: Method, value: number | null): Figure {
  const reason = lacking(data);
  if (reason !== null) return notMeasured('C-rate', method, reason);
  if (value === null) return insufficient('C-rate', method, 'The battery did not work in this range.');
  const nameplateWh = Math.max(...data.parts.map(({ configuration }) => configuration.nameplateWh ?? 0));
  const hidden = hiddenByDigit(data, 'battery', value * nameplateWh);
  if (hidden) return insufficient('C-rate', method, hidden);
  const digit = channelOf(data, 'battery')!.counter ? halfDigit(channelOf(data, 'battery')) / nameplateWh : 0;
  const half = digit + data.accuracy.battery * value + (method === TOP ? 0 : RATE_BIN / 2);
  const worked = data.stress.rateS.reduce((sum, seconds) => sum + seconds, 0);
  return gradeOf(data, 'battery')(
    { value, low: Math.max(0, value - half), high: value + half },
    {
      unit: 'C-rate',
      method,
      basis: { workingHours: hoursOf(worked), stepMinutes: data.log.stepMs / 60_000 },
      working: [
        { label: 'time at work', value: hoursOf(worked), unit: 'h', role: 'input' },
        { label: 'charge rate', value, unit: 'C-rate', role: 'result' },
        { label: 'battery meter and bin', value: half, unit: 'C-rate', role: 'uncertainty' },
      ],
      assumptions: ['Means over the log’s step; shorter peaks were higher.'],
    },
  );
}

function hardHours(data: RangeData): Figure {
  const reason = lacking(data);
  if (reason !== null) return notMeasured('h', HARD, reason);
  const { rateS } = data.stress;
  const first = Math.round(HARD_RATE / RATE_BIN);
  const hoursFrom = (bin: number) => hoursOf(rateS.slice(bin).reduce((sum, seconds) => sum + seconds, 0));
  const value = hoursFrom(first);
  return gradeOf(data, 'battery')(
    { value, low: hoursFrom(first + 1), high: hoursFrom(first - 1) },
    {
      unit: 'h',
      method: HARD,
      basis: { coverage: coverageOf(data, data.total.batteryS) },
      working: [{ label: 'time above 0.5 C', value, unit: 'h', role: 'result' }],
    },
  );
}

function temperatureHours(data: RangeData): number {
  return hoursOf(data.stress.temperatureS.reduce((sum, seconds) => sum + seconds, 0));
}

const NO_TEMPERATURE = 'The battery’s temperature is not logged; a column battery_temp_c would supply it.';

function cold(data: RangeData): Figure {
  if (temperatureHours(data) === 0) return notMeasured('kWh', COLD, NO_TEMPERATURE);
  if (!channelOf(data, 'battery')) return notMeasured('kWh', COLD, lacking(data)!);
  const wh = data.stress.coldChargeWh;
  const half =
    combined(energyUncertainty(data, 'battery', wh, wh > 0 ? data.stress.temperatureS[0]! : 0)) / 1000;
  const value = wh / 1000;
  return gradeOf(data, 'battery')(
    { value, low: Math.max(0, value - half), high: value + half },
    {
      unit: 'kWh',
      method: COLD,
      basis: { hoursBelow0: hoursOf(data.stress.temperatureS[0]!), temperatureHours: temperatureHours(data) },
      working: [
        { label: 'time below 0 °C', value: hoursOf(data.stress.temperatureS[0]!), unit: 'h', role: 'input' },
        { label: 'charged meanwhile', value, unit: 'kWh', role: 'result' },
        { label: 'battery meter', value: half, unit: 'kWh', role: 'uncertainty' },
      ],
      assumptions: ['The logged temperature stands for the coldest cell.'],
    },
  );
}

function hot(data: RangeData): Figure {
  if (temperatureHours(data) === 0) return notMeasured('h', HOT, NO_TEMPERATURE);
  const { temperatureS } = data.stress;
  const value = hoursOf(temperatureS[TEMPERATURE_BOUNDS.length]!);
  // Within the accuracy of the sensor a part of the next cooler band may belong here.
  const width = TEMPERATURE_BOUNDS.at(-1)! - TEMPERATURE_BOUNDS.at(-2)!;
  const near = (hoursOf(temperatureS[TEMPERATURE_BOUNDS.length - 1]!) * TEMPERATURE_OFF) / width;
  return measured(
    { value, low: Math.max(0, value - near), high: value + near },
    {
      unit: 'h',
      method: HOT,
      basis: { temperatureHours: temperatureHours(data) },
      working: [{ label: 'time above 45 °C', value, unit: 'h', role: 'result' }],
    },
  );
}
