import { estimated, measured } from '../../model/figure.js';
import type { Basis } from '../../model/basis.js';
import type { CapacityAssessment } from '../shared/capacityAssessment.js';

/** What every figure of the capacity rests on. */
export function basisOf(of: CapacityAssessment): Basis {
  const { estimates, trend, configuration, resets, deepRuns, isAnchored } = of;
  return {
    estimates: estimates.length,
    fullRuns: estimates.filter(({ kind }) => kind === 'full-run').length,
    fromFull: estimates.filter(({ isFromFull }) => isFromFull).length,
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
  const { trend, step, estimates } = of;
  return [
    ...(of.isAnchored ? [] : [SCALE]),
    ...(trend.season === 'temperature' ? ['Brought to 20 °C by the battery’s logged temperature.'] : []),
    ...(trend.season === 'calendar' ? ['The season is taken off as one wave a year.'] : []),
    ...(step ? ['Only what lies after the step of the capacity is counted.'] : []),
    ...(estimates.every(({ hasDraw }) => hasDraw)
      ? []
      : ['The battery’s own draw is taken as usual (5 to 55 W) where its windows do not tell it.']),
  ];
}

/** Figures that lean on a scale or a draw nobody has checked are estimates. */
export function gradeOf(of: CapacityAssessment): typeof measured {
  return of.isAnchored && of.estimates.every(({ hasDraw }) => hasDraw) ? measured : estimated;
}
