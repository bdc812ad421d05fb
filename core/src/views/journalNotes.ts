import type { TrialRecord } from '../model/trialRecord.js';
import type { JournalNote } from '../system/journal.js';
import type { DayNote } from './roll.js';

/** The notes that touch a day, for its margin. */
export function notesOfDay(
  notes: readonly JournalNote[],
  day: { readonly fromMs: number; readonly toMs: number },
): DayNote[] {
  return notes
    .filter(({ fromMs, toMs }) => fromMs < day.toMs && toMs > day.fromMs)
    .map(({ kind, text, leaveOut }) => ({ kind: 'journal', about: kind, text, leaveOut }));
}

/** A trial as a note of its days: what it is called, and its verdict. */
export function noteOfTrial({ fromMs, toMs, name, verdict }: TrialRecord): JournalNote {
  return {
    fromMs,
    toMs: Math.max(toMs, fromMs + 1),
    kind: 'test',
    text: `${name}: ${verdict}`,
    leaveOut: false,
  };
}
