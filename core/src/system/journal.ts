import { z } from 'zod';
import type { Correction } from '../model/correction.js';
import { parseJson } from '../model/validation.js';
import { isoOf, parseInstant } from '../time/instant.js';

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

const instant = z.string().refine((text) => !Number.isNaN(parseInstant(text)), {
  error: 'write the date and time with its offset, for example "2024-03-01T18:00:00+13:00"',
});
const journalSchema = z.looseObject({
  schema: z.literal('long-tally/journal@1'),
  notes: z.array(
    z
      .looseObject({
        from: instant,
        to: instant,
        kind: noteSchema.shape.kind,
        text: noteSchema.shape.text.default(''),
        leaveOut: z.boolean().default(false),
      })
      .refine(({ from, to }) => parseInstant(from) < parseInstant(to), {
        error: 'let the note end after it begins',
      }),
  ),
});

/**
 * The notes of a journal file, `long-tally/journal@1`.
 * @param where name of the file, for the messages
 * @throws InputError with one problem for each key that is wrong
 */
export function parseJournal(text: string, where: string): JournalNote[] {
  const { notes } = parseJson(
    journalSchema,
    text,
    where,
    'a journal file, schema long-tally/journal@1, as the Journal view saves it',
  );
  return notes.map(({ from, to, kind, text: words, leaveOut }) => ({
    fromMs: parseInstant(from),
    toMs: parseInstant(to),
    kind,
    text: words,
    leaveOut,
  }));
}

/** A journal as the text of its file, oldest note first; {@link parseJournal} reads it back. */
export function journalText(notes: readonly JournalNote[]): string {
  const sorted = [...notes].sort((a, b) => a.fromMs - b.fromMs);
  const file = {
    schema: 'long-tally/journal@1',
    notes: sorted.map(({ fromMs, toMs, kind, text, leaveOut }) => ({
      from: isoOf(fromMs),
      to: isoOf(toMs),
      kind,
      text,
      leaveOut,
    })),
  };
  return `${JSON.stringify(file, null, 1)}\n`;
}

/** JSON Schema of the journal file. */
export function journalJsonSchema(): object {
  return z.toJSONSchema(journalSchema, { io: 'input', unrepresentable: 'any' });
}
