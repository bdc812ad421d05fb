import { z } from 'zod';
import { correctionSchema, type Correction } from '../model/correction.js';
import { parseJson } from '../model/validation.js';
import type { Finding } from '../model/finding.js';
import type { Mapping } from '../import/read/mapping.js';
import { offerSchema, type Offer } from '../books/money/offers.js';
import type { TrialFile } from '../books/trial/trialFile.js';

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

/** A trial as it was run: every reading as it was typed, and the pictures of displays beside them. */
export interface BookTrial {
  readonly file: TrialFile;
  /** Places of readings that do not count. */
  readonly struck: readonly number[];
  readonly state: 'running' | 'paused' | 'done' | 'abandoned';
  readonly madeAt: number;
  readonly pictures: readonly {
    /** Member that holds the picture. */
    readonly path: string;
    readonly name: string;
    /** Of the reading it shows. */
    readonly place: number;
    readonly addedAt: number;
  }[];
}

/** A trial without the readings that are struck out: what counts. */
export function countingFile({ file, struck }: Pick<BookTrial, 'file' | 'struck'>): TrialFile {
  return { ...file, readings: file.readings.filter((_, place) => !struck.includes(place)) };
}

/** The trials that figures follow: those that are done. */
export function countingTrials(trials: readonly Pick<BookTrial, 'file' | 'struck' | 'state'>[]): TrialFile[] {
  return trials.filter(({ state }) => state === 'done').map(countingFile);
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

const place = z.number().int().min(0);

const trialsSchema = z.object({
  schema: z.literal('long-tally/trials@1'),
  trials: z.array(
    z.object({
      path,
      struck: z.array(place),
      state: z.enum(['running', 'paused', 'done', 'abandoned']),
      madeAt: z.number(),
      pictures: z.array(z.object({ path, name: z.string(), place, addedAt: z.number() })),
    }),
  ),
});

/** JSON Schema of the list of trials in a book. */
export function trialsJsonSchema(): object {
  return z.toJSONSchema(trialsSchema, { io: 'input', unrepresentable: 'any' });
}

/** Trials as their list in the book has them, each a member of its own. */
export function trialsText(trials: readonly (Omit<BookTrial, 'file'> & { path: string })[]): string {
  return `${JSON.stringify({ schema: 'long-tally/trials@1', trials }, null, 1)}\n`;
}

/** @throws InputError with one problem for each key that is wrong */
export function parseTrials(text: string, where: string) {
  return parseJson(trialsSchema, text, where, 'the list of trials of a book').trials;
}

const offersSchema = z.object({ schema: z.literal('long-tally/offers@1'), offers: z.array(offerSchema) });

/** Offers of batteries that a home compares, as the book has them. */
export function offersText(offers: readonly Offer[]): string {
  return `${JSON.stringify({ schema: 'long-tally/offers@1', offers }, null, 1)}\n`;
}

/** @throws InputError with one problem for each key that is wrong */
export function parseOffers(text: string, where: string): Offer[] {
  return parseJson(offersSchema, text, where, 'a list of offers, schema long-tally/offers@1').offers;
}

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
