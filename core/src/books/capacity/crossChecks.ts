import { counted } from '../../model/counted.js';
import { estimated, insufficient, measured, type Figure, type Method } from '../../model/figure.js';
import type { RangeData } from '../../passes/rangeData.js';
import { assumptionsOf, basisOf } from './evidence.js';
import type { CapacityAssessment } from '../shared/capacityAssessment.js';

export const FROM_CHARGE: Method = {
  id: 'capacity.from-charge',
  formula: '((∫ charge − idle draw × time) ÷ (1 + conversion)) ÷ rise of SOC; level at the end of the range',
  source: 'Estimate from partial charges: common practice, no published source.',
};
export const CUT_OFF: Method = {
  id: 'capacity.cut-off',
  formula: 'median SOC at which the battery stopped while the home needed it, last three months of them',
  source: 'Common practice, no published source.',
};
export const DRIFT: Method = {
  id: 'capacity.cut-off-drift',
  formula: 'slope of the monthly medians of that SOC; Theil–Sen',
  source:
    'P. K. Sen, Journal of the American Statistical Association 63 (1968), with its rank interval and the last digit of SOC.',
};
const NO_STOP =
  'In this range the battery never stopped near empty while the home still needed it. A run down to the cut-off would show where it lies.';

/** The capacity from charges alone, brought to what they let out again: a check of the one from discharges. */
export function fromCharge(data: RangeData, of: CapacityAssessment): Figure {
  const { chargeLevel, charges, trend, systematic } = of;
  if (!chargeLevel)
    return insufficient(
      'kWh',
      FROM_CHARGE,
      'No charge of this range lifts the battery by 30 % without a pause, or its windows do not tell what a charge loses. A sunny month would supply both.',
      basisOf(of),
    );
  const { value, low, high } = chargeLevel;
  const own = systematic * value;
  return estimated(
    {
      value: value / 1000,
      low: (value - Math.hypot(value - low, own)) / 1000,
      high: (value + Math.hypot(high - value, own)) / 1000,
    },
    {
      unit: 'kWh',
      method: FROM_CHARGE,
      basis: { configurations: [of.configuration.name], charges, side: data.batterySide },
      working: [
        { label: 'charges', value: charges, unit: 'count', role: 'input' },
        { label: 'from charges', value: value / 1000, unit: 'kWh', role: 'result' },
        { label: 'from discharges, beside it', value: trend.level.value / 1000, unit: 'kWh', role: 'step' },
        { label: 'bootstrap over months', value: (high - low) / 2000, unit: 'kWh', role: 'uncertainty' },
        { label: 'battery meter and SOC', value: own / 1000, unit: 'kWh', role: 'uncertainty' },
      ],
      assumptions: assumptionsOf(of),
    },
  );
}

/** Where the battery stops on its monitor's scale. */
export function cutOffNow({ cutOff, configuration }: CapacityAssessment): Figure {
  if (!cutOff) return insufficient('share', CUT_OFF, NO_STOP);
  return measured(cutOff.now, {
    unit: 'share',
    method: CUT_OFF,
    basis: { configurations: [configuration.name], stops: cutOff.count, months: cutOff.months },
    working: [
      { label: 'stops in the range', value: cutOff.count, unit: 'count', role: 'input' },
      { label: 'median, last three months of them', value: cutOff.now.value, unit: 'share', role: 'result' },
    ],
    assumptions: [
      'A battery that rests again only because it was told to stops at its reserve: then this is the reserve.',
    ],
  });
}

/** How the charge at the cut-off moves: what a monitor that does not relearn hides of the fade. */
export function cutOffDrift({ cutOff, configuration }: CapacityAssessment): Figure {
  if (!cutOff) return insufficient('share/year', DRIFT, NO_STOP);
  if (!cutOff.slope)
    return insufficient(
      'share/year',
      DRIFT,
      `Its drift needs stops in six months over a year; this range has ${counted(cutOff.count, 'stop')} in ${counted(cutOff.months, 'month')}. A longer range would supply them.`,
    );
  return measured(cutOff.slope, {
    unit: 'share/year',
    method: DRIFT,
    basis: { configurations: [configuration.name], stops: cutOff.count, months: cutOff.months },
    working: [
      { label: 'stops in the range', value: cutOff.count, unit: 'count', role: 'input' },
      { label: 'months that have them', value: cutOff.months, unit: 'count', role: 'input' },
      { label: 'rise of SOC at the cut-off', value: cutOff.slope.value, unit: 'share/year', role: 'result' },
    ],
    assumptions: [
      'Where the monitor does not relearn, the charge at the cut-off rises by the share of the capacity that is gone.',
    ],
  });
}
