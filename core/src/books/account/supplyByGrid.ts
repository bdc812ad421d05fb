import { type Figure } from '../../model/figure.js';
import { isOnDc } from '../../passes/bypass.js';
import { channelOf, gradeOf, type RangeData } from '../../passes/rangeData.js';
import {
  combined,
  energyUncertainty,
  hiddenParts,
  hiddenWithin,
  uncertaintyLines,
  type Hidden,
  type Uncertainty,
} from '../shared/uncertainty.js';
import { basisOf, carried, coarseNote, scaled } from './evidence.js';
import { misplaced, mixedDoubts } from './flows.js';
import { METHODS } from './methods.js';

/**
 * Whether supply is what the grid did not give: behind an inverter, where solar or battery is measured on the DC side,
 * their power would count conversion as supply; lines between a counter's ticks do not meet the load from step to step.
 */
export function isByGrid(data: RangeData): boolean {
  return (
    data.parts.some(({ configuration }) => isOnDc(data.log, configuration)) ||
    (['solar', 'load', 'battery', 'grid'] as const).some((quantity) => channelOf(data, quantity)?.counter)
  );
}

/** Doubts of the grid's part in the load, as a share of the load. */
export function gridPartDoubts(data: RangeData, gridToLoad: number): Uncertainty[] {
  const { total, accuracy } = data;
  const load = total.loadBus;
  return [
    ...energyUncertainty(data, 'grid', gridToLoad, total.importOnS).map((doubt) => scaled(doubt, 1 / load)),
    { label: 'load meter', half: (accuracy.load * gridToLoad) / load },
    {
      label: 'what charged from the grid: meter of the battery',
      half: (accuracy.battery * total.gridChargedBus) / load,
    },
    ...mixedDoubts(data).map((doubt) => scaled(doubt, 1 / load)),
    ...misplaced(data).map((doubt) => scaled(doubt, 1 / load)),
  ];
}

/** What a supply as a share of the load may be less or more by what the step hides: more where the grid gave less. */
export function hiddenOfSupply({ total }: RangeData): Hidden {
  // Of next to no load any flow is a multiple.
  return hiddenWithin(Math.max(-1, Math.min(1, -total.gridToLoadDoubled / total.loadBus)));
}

/** Supply as what the grid did not give the load. */
export function supplyByGrid(data: RangeData): Figure {
  const { total } = data;
  const load = total.loadBus;
  const gridToLoad = Math.min(load, total.gridToLoadBus);
  const doubts = gridPartDoubts(data, gridToLoad);
  const half = combined(doubts);
  const value = 1 - gridToLoad / load;
  const hidden = hiddenOfSupply(data);
  return gradeOf(
    data,
    'solar',
    'load',
    'battery',
    'grid',
  )(
    {
      value,
      low: Math.max(0, value - half - hidden.below),
      high: Math.max(value, Math.min(1, value + half + hidden.above)),
    },
    {
      unit: 'share',
      method: METHODS.supply,
      basis: basisOf(data, total.busS),
      working: [
        { label: 'import', value: total.importBus / 1000, unit: 'kWh', role: 'input' },
        { label: 'of it into the battery', value: total.gridChargedBus / 1000, unit: 'kWh', role: 'input' },
        { label: 'of it to the load', value: gridToLoad / 1000, unit: 'kWh', role: 'step' },
        { label: '÷ load, same intervals', value: load / 1000, unit: 'kWh', role: 'input' },
        { label: '1 − share from the grid', value, unit: 'share', role: 'result' },
        ...uncertaintyLines([...doubts, ...hiddenParts(hidden)], 1, 'share'),
      ],
      assumptions: [
        'What the grid gave the load is no supply of the home’s own; what charged from the grid counts as supply here.',
        ...coarseNote(data),
        ...carried(data),
      ],
    },
  );
}
