import { estimated, insufficient, type Figure, type Method } from '../../model/figure.js';
import type { RangeData } from '../../passes/rangeData.js';
import { isoOf } from '../../time/instant.js';
import { answeringUnits, type UnitsVerdict } from '../shared/answeringUnits.js';
import type { CapacityAssessment } from '../shared/capacityAssessment.js';

export const DELIVERED: Method = {
  id: 'capacity.trial-delivered',
  formula: '(discharge + idle draw × time) ÷ (modules × kWh each × usable share × fall of SOC)',
  source: 'Common practice, no published source.',
};
export const MODULES: Method = {
  id: 'capacity.trial-modules',
  formula: 'modules − what is missing of delivered ÷ usual conversion, in parts of one module',
  source: 'Common practice, no published source.',
};
const NONE =
  'The journal tells of no drawdown trial. A note “test” over the hours of a discharge without a pause, by 30 % or more, would make one count.';
const WORDS: Readonly<Record<UnitsVerdict, string>> = {
  'all-units-deliver': 'All modules deliver.',
  'one-unit-may-be-out':
    'About the part of a module or more is missing: one may be out. Ask the installer to look at it.',
  'below-expected': 'It gave less than its modules should, but not by the part of one: loss or fade.',
  'cannot-tell':
    'A missing module and none cannot be told from each other here; a deeper drawdown would tell.',
};

/** What the latest drawdown trial says of the modules. */
export function latestTrial(data: RangeData, of: CapacityAssessment): Record<string, Figure> {
  const trial = of.estimates.findLast(({ kind }) => kind === 'trial');
  const { usableWh, described } = of.configuration;
  const modules = described?.battery?.modules;
  if (!trial || usableWh === null || !modules)
    return {
      'capacity.trial.delivered': insufficient('share', DELIVERED, NONE),
      'capacity.trial.modules': insufficient('count', MODULES, NONE),
    };
  const { accuracy, batterySide } = data;
  const deliveredWh = trial.wh * trial.depth;
  const answer = answeringUnits({
    deliveredWh,
    deliveredHalfWh: accuracy.battery * deliveredWh,
    units: modules,
    unitWh: usableWh / modules,
    swing: trial.depth,
    swingHalf: Math.hypot((trial.half / trial.wh) * trial.depth, accuracy.soc / 2),
    side: batterySide,
  });
  const { ratio, shortfallUnits, expectedWh, verdict, missing } = answer;
  const basis = { at: isoOf(trial.atMs), depth: trial.depth, side: batterySide, verdict };
  const lines = [
    { label: 'delivered, its own draw added', value: deliveredWh / 1000, unit: 'kWh', role: 'input' },
    { label: `expected of ${modules} modules`, value: expectedWh / 1000, unit: 'kWh', role: 'input' },
  ] as const;
  const most = Math.min(modules, Math.ceil(Math.max(0, shortfallUnits.high)));
  return {
    'capacity.trial.delivered': estimated(ratio, {
      unit: 'share',
      method: DELIVERED,
      basis,
      working: [
        ...lines,
        { label: 'delivered ÷ expected', value: ratio.value, unit: 'share', role: 'result' },
        { label: 'meter and SOC', value: (ratio.high - ratio.low) / 2, unit: 'share', role: 'uncertainty' },
      ],
      assumptions: [WORDS[verdict]],
    }),
    'capacity.trial.modules': estimated(
      {
        value: modules - missing,
        low: verdict === 'all-units-deliver' ? modules : Math.min(modules - missing, modules - most),
        high: modules,
      },
      {
        unit: 'count',
        method: MODULES,
        basis,
        working: [
          ...lines,
          { label: 'modules', value: modules, unit: 'count', role: 'input' },
          { label: 'missing, in parts of one', value: shortfallUnits.value, unit: 'count', role: 'step' },
          { label: 'that answer', value: modules - missing, unit: 'count', role: 'result' },
        ],
        assumptions: [WORDS[verdict], 'The usual conversion lies between what is stored and the meter.'],
      },
    ),
  };
}
