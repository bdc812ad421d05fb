import { InputError } from '../../model/problem.js';
import type { TrialKind, TrialRecord } from '../../model/trialRecord.js';
import type { System } from '../../system/schema.js';
import { evaluateTrial } from './evaluate.js';
import { trialOf, type TrialFile, type TrialReading } from './trialFile.js';

/** Capacity is read from a fall of so much, as from the log. */
const LEAST_FALL = 0.3;
const TRULY_FULL = 0.99;
/** Kinds for which the home is isolated. */
const OFF_GRID: readonly TrialKind[] = ['drawdown', 'full-load', 'off-grid-run', 'curtailment', 'restart'];

/**
 * What trials that were run prove by their typed readings, to stand beside the log in the other books. One that is invalid, or of which
 * nothing says when it was, proves nothing; one without readings names a stretch of the log.
 */
export function trialRecords(files: readonly TrialFile[], system: System): TrialRecord[] {
  const records = files.flatMap((file): TrialRecord[] => {
    const trial = trialOf(file);
    const name = file.name ?? file.kind;
    try {
      const { figures, verdict, from, to } = evaluateTrial(trial, system, null, name);
      if (verdict.code === 'invalid') return [];
      const figure = (key: string) => {
        const own = figures[`trial.${key}`];
        return own?.value == null ? null : { value: own.value, half: (own.high! - own.low!) / 2 };
      };
      const [capacity, fall, idle, hours] = [
        figure('capacity'),
        figure('deltaSoc'),
        figure('idleW'),
        figure('hours'),
      ];
      const load = figure('load');
      const isTrip = ({ event }: TrialReading) => event === 'trip' || event === 'transfer';
      const legsOf = (readings: readonly TrialReading[]) =>
        readings.flatMap(({ legW }) => (legW ? [Math.max(...legW)] : []));
      const held = legsOf(trial.readings.filter((one) => !isTrip(one)));
      const tripped = legsOf(trial.readings.filter(isTrip));
      const socs = trial.readings.flatMap(({ soc }) => soc ?? []);
      return [
        {
          kind: file.kind,
          name,
          verdict: verdict.message,
          isOffGrid: OFF_GRID.includes(file.kind) && file.journal !== 'leave',
          fromMs: Date.parse(from!),
          toMs: Date.parse(to!),
          capacity:
            file.kind === 'drawdown' && capacity && fall && fall.value >= LEAST_FALL
              ? {
                  wh: 1000 * capacity.value,
                  half: 1000 * capacity.half,
                  depth: fall.value,
                  socTo: socs.at(-1)!,
                  isFromFull: socs[0]! >= TRULY_FULL,
                }
              : null,
          idle: file.kind === 'idle' && idle ? { watts: idle.value, half: idle.half } : null,
          legs:
            file.kind === 'full-load' && held.length + tripped.length > 0
              ? {
                  heldW: held.length > 0 ? Math.max(...held) : NaN,
                  trippedW: tripped.length > 0 ? Math.min(...tripped) : NaN,
                }
              : null,
          run:
            file.kind === 'off-grid-run' && hours && fall && fall.value > 0
              ? {
                  hours: hours.value,
                  fall: fall.value,
                  loadW: load ? (1000 * load.value) / hours.value : NaN,
                }
              : null,
        },
      ];
    } catch (error) {
      // A trial of which nothing says when it was, or only that it was begun.
      if (error instanceof InputError) return [];
      throw error;
    }
  });
  return records.sort((a, b) => a.toMs - b.toMs);
}
