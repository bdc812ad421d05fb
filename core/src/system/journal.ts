import { z } from 'zod';
import type { Correction } from '../check/correction.js';

/** What a note is about; each with the key that chooses it. */
export const NOTE_KINDS = [
  ['grid-charged', 'g', 'grid-charged on purpose'],
  ['weather', 'w', 'weather'],
  ['setting', 's', 'setting changed'],
  ['fault', 'f', 'fault'],
  ['maintenance', 'm', 'maintenance'],
  ['away', 'a', 'away'],
  ['guests', 'v', 'guests'],
  ['test', 't', 'test'],
  ['outage', 'o', 'outage'],
  ['other', 'x', 'other'],
] as const;
export type NoteKind = (typeof NOTE_KINDS)[number][0];

/** A dated note of the journal. A stretch that is left out of analysis counts in no figure. */
export const noteSchema = z.object({
  fromMs: z.number(),
  toMs: z.number(),
  kind: z.enum(NOTE_KINDS.map(([kind]) => kind) as [NoteKind, ...NoteKind[]]),
  text: z.string().max(2000),
  leaveOut: z.boolean(),
});
export type JournalNote = z.infer<typeof noteSchema>;

/** What the journal leaves out of every figure, as a layer over the logs. */
export function leftOut(notes: readonly JournalNote[]): Correction[] {
  const stretches = notes
    .filter(({ leaveOut }) => leaveOut)
    .map(({ fromMs, toMs }): [number, number] => [fromMs, toMs]);
  return stretches.length === 0 ? [] : [{ kind: 'blank', source: null, quantity: null, stretches }];
}
