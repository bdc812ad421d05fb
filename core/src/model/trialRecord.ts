import type { Range } from './range.js';

/** The kinds of trials, in the order in which they are offered. */
export const TRIAL_KINDS = [
  'drawdown',
  'recharge',
  'idle',
  'full-load',
  'off-grid-run',
  'curtailment',
  'restart',
] as const;
export type TrialKind = (typeof TRIAL_KINDS)[number];

/** What a trial that was run proves beside the log, by what was typed; null for what it does not tell. */
export interface TrialRecord extends Range {
  readonly kind: TrialKind;
  readonly name: string;
  readonly verdict: string;
  /** True where the home was taken off the grid for it: what the log shows of it is a planned run. */
  readonly isOffGrid: boolean;
  /** On the side of the battery's meter, Wh; depth and charge at its end as shares. */
  readonly capacity: {
    readonly wh: number;
    readonly half: number;
    readonly depth: number;
    readonly socTo: number;
    readonly isFromFull: boolean;
  } | null;
  /** Draw with everything off, W. */
  readonly idle: { readonly watts: number; readonly half: number } | null;
  /** Highest that a leg held, and the power of the most loaded one as it tripped, W; NaN where not met. */
  readonly legs: { readonly heldW: number; readonly trippedW: number } | null;
  /** A run without the grid: its length, and the charge used, as a share. */
  readonly run: { readonly hours: number; readonly fall: number; readonly loadW: number } | null;
}
