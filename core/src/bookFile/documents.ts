import { z } from 'zod';
import { correctionSchema, type Correction } from '../model/correction.js';
import { parseJson } from '../model/validation.js';
import type { Finding } from '../model/finding.js';
import type { Mapping } from '../import/read/mapping.js';

/** A correction as its maker left it. */
export interface BookCorrection {
  readonly correction: Correction;
  readonly reason: string;
  readonly madeAt: number;
}

/** One text of a file of the book: how it is read. */
export interface BookSource {
  /** Member that holds the file, byte by byte. */
  readonly path: string;
  /** Name under which the file came. */
  readonly fileName: string;
  /** Name of the text: the file's own, or of a part of it. */
  readonly name: string;
  /** Null for a canonical log. */
  readonly mapping: Mapping | null;
  readonly importedAt: number;
  /** When it was taken out of the figures; null while it counts. */
  readonly removedAt: number | null;
  /** What was said of the parts of the file that are not read. */
  readonly leftOut: readonly Finding[];
}

/** A finding as it is stored. */
export const findingSchema = z.object({
  code: z.string(),
  severity: z.enum(['note', 'warning', 'error']),
  fromMs: z.number().nullable(),
  toMs: z.number().nullable(),
  message: z.string(),
  source: z.string().nullable(),
  kWh: z.number().nullable(),
});

/** A member's path: within the book, without a step out of it. */
const path = z.string().refine((text) => !/^\/|(^|\/)\.\.(\/|$)|\\/.test(text), {
  error: 'name a member of the book',
});

const sourcesSchema = z.object({
  schema: z.literal('long-tally/sources@1'),
  sources: z.array(
    z.object({
      path,
      fileName: z.string().min(1),
      name: z.string().min(1),
      mapping: path.nullable(),
      importedAt: z.number(),
      removedAt: z.number().nullable(),
      leftOut: z.array(findingSchema),
    }),
  ),
});

const correctionsSchema = z.object({
  schema: z.literal('long-tally/corrections@1'),
  corrections: z.array(z.object({ correction: correctionSchema, reason: z.string(), madeAt: z.number() })),
  /** Findings that were seen and set aside. */
  dismissals: z.array(z.string()),
});

/** JSON Schema of the list of sources in a book. */
export function sourcesJsonSchema(): object {
  return z.toJSONSchema(sourcesSchema, { io: 'input', unrepresentable: 'any' });
}

/** JSON Schema of the file of corrections in a book. */
export function correctionsJsonSchema(): object {
  return z.toJSONSchema(correctionsSchema, { io: 'input', unrepresentable: 'any' });
}

/** Sources as their list in the book has them, mappings as members of their own. */
export function sourcesText(sources: readonly (Omit<BookSource, 'mapping'> & { mapping: string | null })[]) {
  return `${JSON.stringify({ schema: 'long-tally/sources@1', sources }, null, 1)}\n`;
}

/** @throws InputError with one problem for each key that is wrong */
export function parseSources(text: string, where: string) {
  return parseJson(sourcesSchema, text, where, 'the list of sources of a book').sources;
}

export function correctionsText(
  corrections: readonly BookCorrection[],
  dismissals: readonly string[],
): string {
  return `${JSON.stringify({ schema: 'long-tally/corrections@1', corrections, dismissals }, null, 1)}\n`;
}

/** @throws InputError with one problem for each key that is wrong */
export function parseCorrections(text: string, where: string) {
  return parseJson(correctionsSchema, text, where, 'a file of corrections, schema long-tally/corrections@1');
}
