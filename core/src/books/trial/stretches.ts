import { endMs } from '../../model/log.js';
import type { Range } from '../../model/range.js';
import { isoOf } from '../../time/instant.js';
import type { Prepared } from '../../passes/prepare.js';
import { evaluateTrial } from './evaluate.js';
import type { TrialKind } from '../../model/trialRecord.js';
import type { TrialCheck } from './trialResult.js';

const LEAST_IDLE_MS = 8 * 3_600_000;
const LEAST_ISLAND_MS = 3_600_000;
/** Of each kind no more are evaluated. */
const MOST = 40;
const LOAD_W = 30;
const SUN_W = 50;

/** A stretch of a log that qualifies as a trial. */
export interface TrialStretch {
  readonly kind: TrialKind;
  readonly from: string;
  readonly to: string;
  readonly deltaSoc: number | null;
  readonly delivered: number | null;
  readonly checks: readonly TrialCheck[];
}

/** Stretches of a log that qualify as trials, best first: the largest swing, less what weakens each. */
export function trialStretches(prepared: Prepared, range: Range): TrialStretch[] {
  const within = ({ fromMs, toMs }: Range) => fromMs >= range.fromMs && toMs <= range.toMs;
  const bySwing = prepared.capacity.segments
    .filter(within)
    .sort((one, other) => Math.abs(other.socFrom - other.socTo) - Math.abs(one.socFrom - one.socTo));
  const found: (Range & { readonly kind: TrialKind })[] = [
    ...bySwing
      .filter(({ direction }) => direction === 'discharge')
      .slice(0, MOST)
      .map(({ fromMs, toMs }) => ({ kind: 'drawdown' as const, fromMs, toMs })),
    ...bySwing
      .filter(({ direction }) => direction === 'charge')
      .slice(0, MOST)
      .map(({ fromMs, toMs }) => ({ kind: 'recharge' as const, fromMs, toMs })),
    ...idleNights(prepared)
      .filter(within)
      .slice(0, MOST)
      .map((one) => ({ kind: 'idle' as const, ...one })),
    ...prepared.outages
      .filter((one) => within(one) && one.toMs - one.fromMs >= LEAST_ISLAND_MS)
      .slice(0, MOST)
      .map(({ fromMs, toMs }) => ({ kind: 'off-grid-run' as const, fromMs, toMs })),
  ];
  return found
    .map(({ kind, fromMs, toMs }): TrialStretch => {
      const trial = { kind, fromMs, toMs, name: null, goal: null, readings: [] };
      const { figures, checks } = evaluateTrial(trial, prepared.system, prepared, 'log');
      return {
        kind,
        from: isoOf(fromMs),
        to: isoOf(toMs),
        deltaSoc: figures['trial.deltaSoc']?.value ?? null,
        delivered: figures['trial.delivered']?.value ?? figures['trial.taken']?.value ?? null,
        checks,
      };
    })
    .sort((one, other) => worthOf(other) - worthOf(one));
}

/** A doubt takes so much swing off; a reason that makes it void, all of it. */
const DOUBT = 0.1;

function worthOf({ deltaSoc, checks }: TrialStretch): number {
  return checks.reduce(
    (worth, { ok, weight }) => (ok === false ? worth - (weight === 'invalid' ? 1 : DOUBT) : worth),
    deltaSoc ?? 0,
  );
}

/** Hours on end without sun in which next to nothing was used. */
function idleNights({ log, columns }: Prepared): Range[] {
  const { load, solar } = columns;
  if (!load || log.stepMs > 3_600_000) return [];
  const nights: Range[] = [];
  let from = -1;
  const close = (to: number) => {
    const range = { fromMs: log.startMs + from * log.stepMs, toMs: log.startMs + to * log.stepMs };
    if (from >= 0 && range.toMs - range.fromMs >= LEAST_IDLE_MS) nights.push(range);
    from = -1;
  };
  for (let i = 0; i < log.count; i++) {
    const isQuiet = load[i]! < LOAD_W && !(solar && solar[i]! >= SUN_W);
    if (isQuiet && from < 0) from = i;
    else if (!isQuiet) close(i);
  }
  close(Math.round((endMs(log) - log.startMs) / log.stepMs));
  return nights.sort((one, other) => other.toMs - other.fromMs - (one.toMs - one.fromMs));
}
