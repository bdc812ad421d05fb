import { estimated, insufficient, type Figure, type Method } from '../../model/figure.js';
import { ageAt } from '../../system/configuration.js';
import { YEAR_MS } from '../../time/days.js';
import { percent } from '../shared/uncertainty.js';
import type { RangeData } from '../../passes/rangeData.js';
import { assumptionsOf, basisOf } from './evidence.js';
import { fadeOf, type CapacityAssessment } from '../shared/capacityAssessment.js';

/** The date at which so much is left. */
export const END = (percentLeft: number): Method => ({
  id: `capacity.end-of-life-${percentLeft}`,
  formula: `date at which ${percentLeft} % of the reference is left: linear, and with the square root of time`,
  source:
    'Linear and square-root fade: common practice; calendar ageing with √time as in Wang (2011), from memory.',
});
export const ENDS = [80, 70, 60] as const;
/** Nothing is said of what lies further ahead. */
const HORIZON_YEARS = 50;

/** When so many per cent of the reference are left, straight on and by the root of time. */
export function endOfLife(data: RangeData, of: CapacityAssessment, left: number): Figure {
  const method = END(left);
  const rate = fadeOf(of);
  const { trend, reference } = of;
  if (!rate || !reference)
    return insufficient('date', method, trend.reason ?? 'There is no reference yet.', basisOf(of));
  if (rate.low <= 0)
    return insufficient(
      'date',
      method,
      `No fade can be measured yet: at most ${percent(Math.max(0, rate.high))} a year. A longer range, or a drawdown each year, would narrow it.`,
      basisOf(of),
    );
  const health = trend.level.value / reference.wh;
  const toLose = health - left / 100;
  const years = (a: number) => Math.min(HORIZON_YEARS, Math.max(0, toLose / a));
  const rooted = rootYears(data, of, health, left / 100);
  const all = [years(rate.low), years(rate.high), years(rate.value), rooted ?? years(rate.value)];
  const dateOf = (ahead: number) => data.range.toMs + ahead * YEAR_MS;
  return estimated(
    {
      value: dateOf(years(rate.value)),
      low: dateOf(Math.min(...all)),
      high: dateOf(Math.max(...all)),
    },
    {
      unit: 'date',
      method,
      basis: {
        ...basisOf(of),
        yearsAhead: years(rate.value),
        ...(rooted === null ? {} : { yearsAheadByRoot: rooted }),
      },
      working: [
        { label: 'state of health', value: health, unit: 'share', role: 'input' },
        { label: `− ${left} % left`, value: left / 100, unit: 'share', role: 'input' },
        { label: '÷ fade', value: rate.value, unit: 'share/year', role: 'input' },
        { label: 'reached', value: dateOf(years(rate.value)), unit: 'date', role: 'result' },
      ],
      assumptions: [
        'The battery is used and kept as it was in this range; nothing is projected further than 50 years ahead.',
        ...assumptionsOf(of),
      ],
    },
  );
}

/** Years from now by the square-root course through the reference and the present level; null where it does not fall. */
function rootYears(data: RangeData, of: CapacityAssessment, health: number, left: number): number | null {
  const age = ageAt(of.configuration, data.range.toMs, of.estimates[0]!.atMs) / YEAR_MS;
  if (health >= 1 || age <= 0) return null;
  return Math.min(HORIZON_YEARS, Math.max(0, age * (((1 - left) / (1 - health)) ** 2 - 1)));
}
