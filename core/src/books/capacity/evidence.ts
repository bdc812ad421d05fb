import { estimated, measured } from '../../model/figure.js';
import type { Basis } from '../../model/basis.js';
import type { CapacityAssessment } from '../shared/capacityAssessment.js';

/** What the estimates are, counted once for all figures of an assessment. */
interface Counts {
  readonly fullRuns: number;
  readonly fromFull: number;
  readonly haveDraw: boolean;
}

const counted = new WeakMap<CapacityAssessment, Counts>();

function countsOf(of: CapacityAssessment): Counts {
  let counts = counted.get(of);
  if (counts) return counts;
  const { estimates } = of;
  counts = {
    fullRuns: estimates.filter(({ kind }) => kind === 'full-run').length,
    fromFull: estimates.filter(({ isFromFull }) => isFromFull).length,
    haveDraw: estimates.every(({ hasDraw }) => hasDraw),
  };
  counted.set(of, counts);
  return counts;
}

/** What every figure of the capacity rests on. */
export function basisOf(of: CapacityAssessment): Basis {
  const { estimates, trend, configuration, resets, deepRuns, isAnchored } = of;
  const { fullRuns, fromFull } = countsOf(of);
  return {
    estimates: estimates.length,
    fullRuns,
    fromFull,
    months: trend.blocks.length,
    configurations: [configuration.name],
    season: trend.season,
    scale: isAnchored ? 'held to the cells' : 'the monitor’s own',
    recalibrations: resets,
    runsToTheCutOff: deepRuns,
  };
}

const SCALE =
  'On the monitor’s own scale: nothing shows that its state of charge is held to the cells, and a monitor that does not relearn hides fade. A drawdown from full to the cut-off would tell.';

/** What every figure of the capacity takes for granted. */
export function assumptionsOf(of: CapacityAssessment): string[] {
  const { trend, step } = of;
  return [
    ...(of.isAnchored ? [] : [SCALE]),
    ...(trend.season === 'temperature' ? ['Brought to 20 °C by the battery’s logged temperature.'] : []),
    ...(trend.season === 'calendar' ? ['The season is taken off as one wave a year.'] : []),
    ...(step ? ['Only what lies after the step of the capacity is counted.'] : []),
    ...(countsOf(of).haveDraw
      ? []
      : ['The battery’s own draw is taken as usual (5 to 55 W) where its windows do not tell it.']),
  ];
}

/** Figures that lean on a scale or a draw nobody has checked are estimates. */
export function gradeOf(of: CapacityAssessment): typeof measured {
  return of.isAnchored && countsOf(of).haveDraw ? measured : estimated;
}
