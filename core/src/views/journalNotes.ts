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
