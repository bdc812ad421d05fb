import { estimated, insufficient, type Figure, type Method } from '../../model/figure.js';
import { assumptionsOf, basisOf, gradeOf } from './evidence.js';
import type { CapacityAssessment } from '../shared/capacityAssessment.js';

/** A state of health by one of its references. */
type School = 'reference' | 'trial' | 'firstDays' | 'nameplate';

const SOURCE = 'State-of-health parameters of stationary storage: EU Regulation 2023/1542, Annex VII.';
export const HEALTH: Readonly<Record<School, Method>> = {
  reference: { id: 'capacity.state-of-health', formula: 'capacity now ÷ reference', source: SOURCE },
  trial: {
    id: 'capacity.state-of-health-trial',
    formula: 'capacity now ÷ what the commissioning trial gave',
    source: SOURCE,
  },
  firstDays: {
    id: 'capacity.state-of-health-first-days',
    formula: 'capacity now ÷ its level in the first 90 days',
    source: SOURCE,
  },
  nameplate: {
    id: 'capacity.state-of-health-nameplate',
    formula: 'capacity now ÷ (nameplate × usable share)',
    source: SOURCE,
  },
};
const NONE: Readonly<Record<School, string>> = {
  reference:
    'There is no reference on this side of the battery yet: 90 days with five estimates after the configuration began, or a log of the DC side, would supply one.',
  trial:
    'The journal tells of no drawdown in the first 90 days of this configuration that went half of the way down. A note “test” over its hours would make one count.',
  firstDays:
    'The log has not yet gone on for 90 days after five estimates of this configuration. A longer log, or one that reaches further back, would supply them.',
  nameplate:
    'Behind a meter on the AC side the nameplate needs the battery’s conversion, which the windows from full to full of this range do not tell. A longer range, or a log of the DC side, would supply it.',
};

/** Capacity now against one reference. */
export function health(of: CapacityAssessment, school: School): Figure {
  const { trend, systematic } = of;
  const reference = of[school];
  const method = HEALTH[school];
  if (!reference) return insufficient('share', method, NONE[school], basisOf(of));
  const value = trend.level.value / reference.wh;
  const own = Math.hypot(reference.off, reference.isNameplate ? systematic : 0) * value;
  const side = (bound: number) => Math.abs(bound - trend.level.value) / reference.wh;
  const isBrought = reference.isNameplate && reference.off > 0;
  return (isBrought ? estimated : gradeOf(of))(
    {
      value,
      low: value - Math.hypot(side(trend.level.low), own),
      high: value + Math.hypot(side(trend.level.high), own),
    },
    {
      unit: 'share',
      method,
      basis: { ...basisOf(of), reference: reference.says },
      working: [
        { label: 'capacity now', value: trend.level.value / 1000, unit: 'kWh', role: 'input' },
        { label: `÷ ${reference.says}`, value: reference.wh / 1000, unit: 'kWh', role: 'input' },
        { label: 'state of health', value, unit: 'share', role: 'result' },
        {
          label: 'level now',
          value: Math.max(side(trend.level.low), side(trend.level.high)),
          unit: 'share',
          role: 'uncertainty',
        },
        {
          label: reference.isNameplate ? 'meter, monitor and conversion' : 'level of the reference',
          value: own,
          unit: 'share',
          role: 'uncertainty',
        },
      ],
      assumptions: [
        ...(isBrought ? ['Half of the conversion is lost on the way out, within a quarter of it.'] : []),
        ...assumptionsOf(of),
      ],
    },
  );
}
