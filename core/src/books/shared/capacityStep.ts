import { numbersOf } from '../../statistics/numbersOf.js';
import { levelShift } from '../../statistics/levelShift.js';
import { medianLine } from '../../statistics/theilSen.js';
import type { Estimate } from '../../passes/capacityEstimates.js';

const LEAST_EACH = 10;
const STRENGTH = 8;
const LEAST_SHARE = 0.03;
/** A step must explain so much more than a line does before it is taken for one. */
const BETTER = 0.6;
const MOST_FOR_LINE = 200;

/** A change of the capacity at a date that no configuration explains. */
export interface CapacityStep {
  /** First estimate after it. */
  readonly at: number;
  readonly atMs: number;
  readonly beforeWh: number;
  readonly afterWh: number;
}

/** The largest step of estimates of one configuration, where a step tells their course better than a line. */
export function capacityStep(estimates: readonly Estimate[]): CapacityStep | null {
  const wh = numbersOf(estimates, (one) => one.wh);
  const shift = levelShift(wh, LEAST_EACH);
  if (!shift || shift.strength < STRENGTH) return null;
  const { at, before, after } = shift;
  if (Math.abs(after - before) < LEAST_SHARE * before) return null;
  // Every so many estimates tell a line as well as all of them.
  const every = Math.ceil(estimates.length / MOST_FOR_LINE);
  const some = estimates.flatMap((_, i) => (i % every === 0 ? [i] : []));
  const x = numbersOf(some, (i) => estimates[i]!.atMs / 86_400_000);
  const y = numbersOf(some, (i) => wh[i]!);
  const line = medianLine(x, y);
  if (!line) return null;
  let [ofStep, ofLine] = [0, 0];
  some.forEach((i, k) => {
    ofStep += Math.abs(wh[i]! - (i < at ? before : after));
    ofLine += Math.abs(y[k]! - line.intercept - line.slope * x[k]!);
  });
  if (ofStep > BETTER * ofLine) return null;
  return { at, atMs: estimates[at]!.atMs, beforeWh: before, afterWh: after };
}
