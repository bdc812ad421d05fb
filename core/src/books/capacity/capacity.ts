import { lackOf } from '../shared/lacking.js';
import {
  insufficient,
  notMeasured,
  type Figure,
  type Method,
  type Unit,
  type WorkingLine,
} from '../../model/figure.js';
import { percent } from '../shared/uncertainty.js';
import { type RangeData } from '../../passes/rangeData.js';
import { CUT_OFF, cutOffDrift, cutOffNow, DRIFT, FROM_CHARGE, fromCharge } from './crossChecks.js';
import { END, endOfLife, ENDS } from './endOfLife.js';
import { assumptionsOf, basisOf, gradeOf } from './evidence.js';
import { DELIVERED, latestTrial, MODULES } from './latestTrial.js';
import { HEALTH, health } from './stateOfHealth.js';
import {
  capacityAssessment,
  fadeBySlope,
  fadeOf,
  type CapacityAssessment,
} from '../shared/capacityAssessment.js';
import { yearOnYear, type Bounded } from '../shared/capacityTrend.js';

const NAMES = 'State-of-health parameters of stationary storage: EU Regulation 2023/1542, Annex VII.';
export const NOW: Method = {
  id: 'capacity.level',
  formula: '(∫ discharge + idle draw × time) ÷ fall of SOC; level of their course at the end of the range',
  source: `${NAMES} Estimate from partial discharges: common practice, no published source.`,
};
export const FADE: Method = {
  id: 'capacity.theil-sen',
  formula:
    '− slope of the capacity ÷ reference; Theil–Sen over monthly medians, season or temperature taken off',
  source:
    'P. K. Sen, Journal of the American Statistical Association 63 (1968); interval by bootstrap over months.',
};
export const YEAR_ON_YEAR: Method = {
  id: 'capacity.year-on-year',
  formula: '− median of the slopes between months one year apart ÷ reference',
  source: 'Year-on-year method: common practice, no published source.',
};

/** Capacity, state of health, fade and the dates it leads to. */
export function capacity(data: RangeData): Record<string, Figure> {
  const assessment = capacityAssessment(data);
  const missing = assessment ? null : lacking(data);
  const all: readonly (readonly [
    key: string,
    unit: Unit,
    method: Method,
    make: (of: CapacityAssessment) => Figure,
  ])[] = [
    ['now', 'kWh', NOW, (of) => now(data, of)],
    ['now.fromCharge', 'kWh', FROM_CHARGE, (of) => fromCharge(data, of)],
    ['stateOfHealth', 'share', HEALTH.reference, (of) => health(of, 'reference')],
    ['stateOfHealth.trial', 'share', HEALTH.trial, (of) => health(of, 'trial')],
    ['stateOfHealth.firstDays', 'share', HEALTH.firstDays, (of) => health(of, 'firstDays')],
    ['stateOfHealth.nameplate', 'share', HEALTH.nameplate, (of) => health(of, 'nameplate')],
    ['cutOff', 'share', CUT_OFF, cutOffNow],
    ['cutOff.drift', 'share/year', DRIFT, cutOffDrift],
    ['fadePerYear', 'share/year', FADE, fade],
    ['fadePerYear.yearOnYear', 'share/year', YEAR_ON_YEAR, fadeByYears],
    ...ENDS.map(
      (left) =>
        [
          `endOfLife.${left}`,
          'date',
          END(left),
          (of: CapacityAssessment) => endOfLife(data, of, left),
        ] as const,
    ),
  ];
  return {
    ...Object.fromEntries(
      all.map(([key, unit, method, make]) => [
        `capacity.${key}`,
        assessment ? make(assessment) : missing!(unit, method),
      ]),
    ),
    ...(assessment
      ? latestTrial(data, assessment)
      : {
          'capacity.trial.delivered': missing!('share', DELIVERED),
          'capacity.trial.modules': missing!('count', MODULES),
        }),
  };
}

function lacking(data: RangeData): (unit: Unit, method: Method) => Figure {
  const lack = lackOf(data, ['battery', 'soc']);
  if (lack) return (unit, method) => notMeasured(unit, method, lack);
  if (data.parts.at(-1)!.configuration.usableWh === null)
    return (unit, method) =>
      notMeasured(unit, method, 'The battery’s capacity is not described; the system file would supply it.');
  const reason =
    'No discharge of this range takes the battery down by 30 % without a pause. One evening and night on the battery, from full, would give an estimate.';
  return (unit, method) => insufficient(unit, method, reason);
}

function now(data: RangeData, of: CapacityAssessment): Figure {
  const { trend, systematic } = of;
  const { value, low, high } = trend.level;
  const own = systematic * value;
  return gradeOf(of)(
    {
      value: value / 1000,
      low: (value - Math.hypot(value - low, own)) / 1000,
      high: (value + Math.hypot(high - value, own)) / 1000,
    },
    {
      unit: 'kWh',
      method: NOW,
      basis: { ...basisOf(of), side: data.batterySide },
      working: [
        { label: 'estimates', value: of.estimates.length, unit: 'count', role: 'input' },
        { label: 'months with estimates', value: trend.blocks.length, unit: 'count', role: 'input' },
        { label: 'level at the end of the range', value: value / 1000, unit: 'kWh', role: 'result' },
        {
          label: 'bootstrap over months',
          value: (high - low) / 2000,
          unit: 'kWh',
          role: 'uncertainty',
        },
        {
          label: `battery meter, and SOC ±${percent(data.accuracy.soc)} of full`,
          value: own / 1000,
          unit: 'kWh',
          role: 'uncertainty',
        },
      ],
      assumptions: [
        data.batterySide === 'ac'
          ? 'Delivered capacity: what reaches the AC side, conversion already lost.'
          : 'Capacity on the battery’s DC side.',
        ...assumptionsOf(of),
      ],
    },
  );
}

function fade(of: CapacityAssessment): Figure {
  const { trend } = of;
  const rate = fadeOf(of);
  if (!rate) return insufficient('share/year', FADE, trend.reason ?? NO_BASE, basisOf(of));
  const base = baseOf(of)!;
  const rank = trend.rank ? { rankLow: -trend.rank[1] / base, rankHigh: -trend.rank[0] / base } : {};
  return gradeOf(of)(rate, {
    unit: 'share/year',
    method: FADE,
    basis: { ...basisOf(of), years: trend.years, ...rank, mannKendallP: trend.p ?? 1 },
    working: rateLines(of, trend.slope!, rate, base),
    assumptions: assumptionsOf(of),
  });
}

const NO_BASE = 'There is neither a reference nor a described capacity to set the slope against.';

function baseOf({ reference, configuration }: CapacityAssessment): number | null {
  return reference?.wh ?? configuration.usableWh;
}

function rateLines(
  { meterDrift }: CapacityAssessment,
  slope: Bounded,
  rate: Bounded,
  base: number,
): WorkingLine[] {
  return [
    { label: 'slope, a year', value: slope.value / 1000, unit: 'kWh', role: 'input' },
    { label: '÷ reference', value: base / 1000, unit: 'kWh', role: 'input' },
    { label: 'fade', value: rate.value, unit: 'share/year', role: 'result' },
    {
      label: 'bootstrap over months',
      value: (slope.high - slope.low) / 2 / base,
      unit: 'share/year',
      role: 'uncertainty',
    },
    { label: 'drift of the battery’s meter', value: meterDrift, unit: 'share/year', role: 'uncertainty' },
  ];
}

function fadeByYears(of: CapacityAssessment): Figure {
  const slope = yearOnYear(of.trend.blocks);
  const rate = slope && fadeBySlope(of, slope);
  if (!rate)
    return insufficient(
      'share/year',
      YEAR_ON_YEAR,
      'Months one year apart are needed, six pairs of them. A range of eighteen months or more would supply them.',
      basisOf(of),
    );
  return gradeOf(of)(rate, {
    unit: 'share/year',
    method: YEAR_ON_YEAR,
    basis: basisOf(of),
    working: rateLines(of, slope, rate, baseOf(of)!),
    assumptions: assumptionsOf(of),
  });
}
