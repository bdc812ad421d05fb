import type { Figure } from '../../model/figure.js';
import type { TypedBesideLogged } from './typedBesideLogged.js';

/** A check of a trial: whether it holds, null where nothing tells, and what it weighs where it does not. */
export interface TrialCheck {
  readonly code: string;
  readonly ok: boolean | null;
  readonly weight: 'invalid' | 'weakens';
  readonly message: string;
}

/** One step of a trial with appliances: what came on and what it did. */
export interface TrialStep {
  readonly at: string;
  readonly appliance: string | null;
  readonly riseW: number | null;
  readonly legRiseW: readonly number[];
  readonly perUnit: readonly number[];
  readonly event: string | null;
}

/** What a trial gave. */
export interface TrialOutcome {
  readonly figures: Readonly<Record<string, Figure>>;
  readonly checks: readonly TrialCheck[];
  readonly verdict: { readonly code: string; readonly message: string };
  readonly steps?: readonly TrialStep[];
  /** What is to be expected from the last reading on, and what to do. */
  readonly advice?: readonly string[];
}

/** The result of a trial, `long-tally/trial-result@1`. */
export interface TrialResult extends TrialOutcome {
  readonly schema: 'long-tally/trial-result@1';
  readonly kind: string;
  readonly from: string | null;
  readonly to: string | null;
  /** What was both typed and logged; empty without a log of its hours. */
  readonly compared: readonly TypedBesideLogged[];
}

/** A check that holds where its condition does; unknown conditions are null. */
export function check(
  code: string,
  ok: boolean | null,
  weight: TrialCheck['weight'],
  [holds, fails, unknown]: readonly [holds: string, fails: string, unknown: string],
): TrialCheck {
  return { code, ok, weight, message: ok === null ? unknown : ok ? holds : fails };
}

/** Whether a check makes the trial void. */
export function isVoid(checks: readonly TrialCheck[]): boolean {
  return checks.some(({ ok, weight }) => ok === false && weight === 'invalid');
}
