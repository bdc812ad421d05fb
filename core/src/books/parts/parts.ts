import { counted } from '../../model/counted.js';
import { insufficient, measured, notMeasured, type Figure, type Method } from '../../model/figure.js';
import { cellAt, type Channel } from '../../model/log.js';
import { isPart, nameOfPart, type NamedLoad, type NamedSolar } from '../../model/quantity.js';
import { channelOf, coverageOf, gradeOf, hoursOf, type RangeData } from '../../passes/rangeData.js';
import { quantile } from '../../statistics/quantile.js';
import { zoneOf, offsetAt } from '../../time/zone.js';
import {
  combined,
  energyUncertainty,
  halfDigit,
  percent,
  uncertaintyLines,
  type Uncertainty,
} from '../shared/uncertainty.js';
import { lackOf } from '../shared/lacking.js';

const PRACTICE = 'Common practice, no published source.';
export const PART: Method = {
  id: 'parts.energy',
  formula: 'Σ mean power of the part × length of the interval',
  source: PRACTICE,
};
export const YIELD: Method = {
  id: 'solar.specific-yield',
  formula: 'Σ solar ÷ peak power of the arrays',
  source: 'Final yield in the sense of IEC 61724-1 (from memory).',
};
export const BASE: Method = {
  id: 'load.base',
  formula: '5th percentile of the half-hour means of the load from midnight to five',
  source: PRACTICE,
};

const NIGHT_MS = 5 * 3_600_000;
const HALF_HOUR_MS = 1_800_000;
const DAY_MS = 86_400_000;
const BASE_SHARE = 0.05;
const LEAST_HALF_HOURS = 20;

/** Energy of every part of load and solar that is logged by name, the arrays' yield, and the load that never goes away. */
export function partFigures(data: RangeData): Record<string, Figure> {
  const parts = [...data.log.channels].flatMap(([quantity, channel]) =>
    isPart(quantity)
      ? [
          [
            `${quantity.split(':')[0]!}.part.${nameOfPart(quantity)}`,
            partFigure(data, quantity, channel),
          ] as const,
        ]
      : [],
  );
  return {
    ...Object.fromEntries(parts),
    'solar.specificYield': specificYield(data),
    'load.baseLoad': baseLoad(data),
  };
}

function partFigure(data: RangeData, quantity: NamedLoad | NamedSolar, channel: Channel): Figure {
  const { log, range, accuracy } = data;
  const meter = quantity.startsWith('load:') ? 'load' : 'solar';
  const [from, to] = [cellAt(log, range.fromMs), cellAt(log, range.toMs)];
  let [sum, known, on] = [0, 0, 0];
  for (let i = from; i < to; i++) {
    const value = channel.values[i]!;
    if (Number.isNaN(value)) continue;
    known++;
    sum += value;
    if (value !== 0) on++;
  }
  if (known === 0) return insufficient('kWh', PART, 'It is missing throughout this range.');
  const hours = log.stepMs / 3_600_000;
  const wh = sum * hours;
  const zeroW = accuracy.offsetW + (channel.counter ? 0 : halfDigit(channel));
  const doubts: Uncertainty[] = [
    { label: `its meter, ±${percent(accuracy[meter])} of reading`, half: accuracy[meter] * Math.abs(wh) },
    channel.counter
      ? { label: 'last digit of its counter at both ends', half: channel.counter.digitWh }
      : {
          label: `its meter, ±${Number(zeroW.toPrecision(2))} W zero while it reads something`,
          half: zeroW * on * hours,
        },
  ];
  const half = combined(doubts) / 1000;
  const value = wh / 1000;
  const whole = meter === 'load' ? data.total.loadWh : data.total.solarWh;
  return measured(
    { value, low: Math.min(value, Math.max(0, value - half)), high: value + half },
    {
      unit: 'kWh',
      method: PART,
      basis: {
        coverage: coverageOf(data, known * hours * 3600),
        sources: channel.sources,
        ...(whole > 0 ? { shareOfWhole: wh / whole } : {}),
      },
      working: [
        { label: 'mean over the time measured', value: sum / known, unit: 'W', role: 'input' },
        { label: '× time measured', value: known * hours, unit: 'h', role: 'input' },
        { label: nameOfPart(quantity), value, unit: 'kWh', role: 'result' },
        ...uncertaintyLines(doubts, 1 / 1000, 'kWh'),
      ],
    },
  );
}

function specificYield(data: RangeData): Figure {
  const lack = lackOf(data, ['solar']);
  const lumped = data.lumps.filter(({ flow }) => flow === 'solar').reduce((sum, { wh }) => sum + wh, 0);
  if (lack && lumped === 0) return notMeasured('kWh/kWp', YIELD, lack);
  const sizes = data.parts.map(({ configuration: { described } }) =>
    (described?.arrays ?? []).reduce((sum, { kWp }) => sum + kWp, 0),
  );
  const kWp = sizes.at(-1) ?? 0;
  if (!(kWp > 0))
    return notMeasured(
      'kWh/kWp',
      YIELD,
      'The peak power of the arrays is not described; the System view takes it.',
    );
  if (sizes.some((size) => size !== kWp))
    return insufficient(
      'kWh/kWp',
      YIELD,
      'The arrays change within this range; a range of one configuration has a yield.',
    );
  const wh = data.total.solarWh + lumped;
  const doubts = energyUncertainty(data, 'solar', wh, data.total.solarOnS);
  const half = combined(doubts) / 1000 / kWp;
  const value = wh / 1000 / kWp;
  return gradeOf(data, 'solar')(
    { value, low: Math.max(0, value - half), high: value + half },
    {
      unit: 'kWh/kWp',
      method: YIELD,
      basis: { coverage: coverageOf(data, data.total.solarS) },
      working: [
        { label: 'solar', value: wh / 1000, unit: 'kWh', role: 'input' },
        { label: '÷ peak power of the arrays, kW', value: kWp, unit: 'kW', role: 'input' },
        { label: 'yield', value, unit: 'kWh/kWp', role: 'result' },
        ...uncertaintyLines(doubts, 1 / 1000 / kWp, 'kWh/kWp'),
      ],
    },
  );
}

function baseLoad(data: RangeData): Figure {
  const lack = lackOf(data, ['load']);
  if (lack) return notMeasured('W', BASE, lack);
  const { log, range } = data;
  const { values } = channelOf(data, 'load')!;
  if (log.stepMs > HALF_HOUR_MS)
    return insufficient(
      'W',
      BASE,
      'The steps of the log are longer than half an hour; a finer log would supply it.',
    );
  const zone = zoneOf(log.zone);
  const whole = HALF_HOUR_MS / log.stepMs;
  const means: number[] = [];
  const [first, end] = [cellAt(log, range.fromMs), cellAt(log, range.toMs)];
  for (let i = first; i < end;) {
    const halfMs = Math.floor((log.startMs + i * log.stepMs) / HALF_HOUR_MS) * HALF_HOUR_MS;
    const next = Math.min(end, Math.ceil((halfMs + HALF_HOUR_MS - log.startMs) / log.stepMs));
    const offsetMs = offsetAt(zone, halfMs);
    let [sum, count] = [0, 0];
    // A zone may be off by a quarter of an hour, so that midnight and five lie within a half hour.
    const isByDay =
      (halfMs + offsetMs) % DAY_MS >= NIGHT_MS && (halfMs + HALF_HOUR_MS + offsetMs) % DAY_MS >= NIGHT_MS;
    for (; i < next && !isByDay; i++) {
      const ms = log.startMs + i * log.stepMs;
      if (Number.isNaN(values[i]!) || (ms + offsetMs) % DAY_MS >= NIGHT_MS) continue;
      sum += values[i]!;
      count++;
    }
    if (count >= 0.9 * whole) means.push(sum / count);
    i = next;
  }
  const sorted = Float64Array.from(means).sort();
  if (sorted.length < LEAST_HALF_HOURS)
    return insufficient(
      'W',
      BASE,
      `This range has ${counted(sorted.length, 'half hour')} from midnight to five; ${LEAST_HALF_HOURS} are needed.`,
    );
  const value = quantile(sorted, BASE_SHARE);
  // Order statistics that enclose the percentile at about 95 % (Hahn & Meeker 1991, binomial by the normal law).
  const spread = (1.96 * Math.sqrt(BASE_SHARE * (1 - BASE_SHARE))) / Math.sqrt(sorted.length);
  const rank = (p: number) => quantile(sorted, Math.min(1, Math.max(0, p)));
  const channel = channelOf(data, 'load')!;
  const digitW = channel.counter ? channel.counter.digitWh * 2 : halfDigit(channel);
  const meter = Math.hypot(data.accuracy.load * value, data.accuracy.offsetW, digitW);
  return gradeOf(data, 'load')(
    {
      value,
      low: Math.max(0, value - Math.hypot(meter, value - rank(BASE_SHARE - spread))),
      high: value + Math.hypot(meter, rank(BASE_SHARE + spread) - value),
    },
    {
      unit: 'W',
      method: BASE,
      basis: { points: sorted.length, hours: hoursOf((sorted.length * HALF_HOUR_MS) / 1000) },
      working: [
        { label: 'half hours from midnight to five', value: sorted.length, unit: 'count', role: 'input' },
        { label: 'their 5th percentile', value, unit: 'W', role: 'result' },
        { label: 'load meter', value: meter, unit: 'W', role: 'uncertainty' },
      ],
      assumptions: [
        'What runs all night, every night: fridges, standby, the inverter where it counts as load.',
      ],
    },
  );
}
