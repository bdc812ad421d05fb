import type { Interval } from '../../model/figure.js';
import type { TrialFigureKey } from './trialFigures.js';
import type { TrialResult } from './trialResult.js';

/** Of what a trial repeats, what is worth setting beside the time before. */
const COMPARED: Readonly<Record<string, readonly TrialFigureKey[]>> = {
  drawdown: ['capacity', 'ratio'],
  recharge: ['efficiency', 'peakPower'],
  idle: ['idleW'],
  'full-load': ['peakPower', 'tripPower', 'legImbalance'],
  'off-grid-run': ['power.mean'],
  curtailment: ['resumeSoc', 'shiftStartHz'],
  restart: ['restartDelay'],
};

/** One figure of a trial beside the same of an earlier one. */
export interface TrialDifference {
  readonly key: string;
  readonly before: number;
  readonly after: number;
  readonly difference: Interval;
}

/**
 * What changed from one trial to a later one of its kind. Both intervals count in full: the same meter may have drifted between them, so its
 * gain is not taken for the same.
 */
export function trialDifferences(before: TrialResult, after: TrialResult): TrialDifference[] {
  return (COMPARED[after.kind] ?? []).flatMap((name) => {
    const key = `trial.${name}`;
    const [was, is] = [before.figures[key], after.figures[key]];
    if (was?.value == null || is?.value == null) return [];
    const half = ({ low, high }: typeof was) => (high! - low!) / 2;
    const value = is.value - was.value;
    const off = Math.hypot(half(was), half(is));
    return [
      {
        key,
        before: was.value,
        after: is.value,
        difference: { value, low: value - off, high: value + off },
      },
    ];
  });
}
