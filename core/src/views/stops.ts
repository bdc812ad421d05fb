import { outputStops, type OutputStop } from '../books/peak/outputStops.js';
import { transfersOf, type Transfer } from '../books/peak/overloadTransfers.js';
import { endMs } from '../model/log.js';
import type { Prepared } from '../passes/prepare.js';
import { configurationAt, type Limits } from '../system/configuration.js';
import { powerSeries, type PowerSeries } from './powerSeries.js';

/** What is shown before and after a stop, in steps of the log and at least, and at most. */
const AROUND_STEPS = 30;
const LEAST_AROUND_MS = 5 * 60_000;
const MOST_AFTER_MS = 6 * 3_600_000;

/** A stop of the output or a transfer to the grid, opened: what is known of it, the power around it, and its neighbours. */
export interface OpenedStop {
  readonly stop: (OutputStop & { readonly kind: 'stop' }) | (Transfer & { readonly kind: 'transfer' });
  readonly limits: Limits;
  readonly course: PowerSeries;
  readonly beforeMs: number | null;
  readonly afterMs: number | null;
}

/** The stop or transfer at an instant; null where none is. */
export function openedStop(prepared: Prepared, atMs: number): OpenedStop | null {
  const { log, columns, configurations } = prepared;
  const whole = { fromMs: log.startMs, toMs: endMs(log) };
  const all = [
    ...outputStops(log, columns, configurations, whole).map((one) => ({ ...one, kind: 'stop' as const })),
    ...transfersOf(log, columns, configurations, whole).map((one) => ({
      ...one,
      kind: 'transfer' as const,
    })),
  ].sort((a, b) => a.atMs - b.atMs);
  const index = all.findIndex((one) => one.atMs === atMs);
  const stop = all[index];
  if (!stop) return null;
  const backMs = (stop.kind === 'stop' ? stop.restartMs : stop.toMs) ?? whole.toMs;
  const around = Math.max(LEAST_AROUND_MS, AROUND_STEPS * log.stepMs);
  const range = {
    fromMs: Math.max(whole.fromMs, atMs - around),
    toMs: Math.min(whole.toMs, backMs + around, atMs + MOST_AFTER_MS + around),
  };
  return {
    stop,
    limits: configurationAt(configurations, atMs).limits,
    course: powerSeries(prepared, range),
    beforeMs: all[index - 1]?.atMs ?? null,
    afterMs: all[index + 1]?.atMs ?? null,
  };
}
