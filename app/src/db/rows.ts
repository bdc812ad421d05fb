import {
  appliancesSchema,
  correctionSchema,
  findingSchema,
  FLOWS,
  mappingSchema,
  noteSchema,
  offerSchema,
  reportLayoutSchema,
  scenarioSchema,
  quantitySchema,
  readingSchema,
  systemSchema,
  trialSchema,
} from '@long-tally/core';
import { z } from 'zod';
import type {
  Chunk,
  Home,
  RawFile,
  Source,
  StoredAppliances,
  StoredCorrection,
  StoredNote,
  StoredOffers,
  StoredLayout,
  StoredScenarios,
  StoredPicture,
  StoredReading,
  StoredTrial,
} from './database.js';

/** What was stored is read through these doors: a row may be damaged, or written by another version. */
const lump = z.looseObject({
  flow: z.enum(FLOWS),
  fromMs: z.number(),
  toMs: z.number(),
  wh: z.number(),
  source: z.string(),
});
/** By its tag: a value that comes out of the store, or from a worker, may be of another realm. */
const tagged = <T>(...tags: readonly string[]) =>
  z.custom<T>((value) => tags.includes(Object.prototype.toString.call(value).slice(8, -1)));
const count = z.number().int().min(0);
const key = z.number().int();

export const homeRow = z.looseObject({
  id: z.string().min(1),
  system: systemSchema,
  revision: z.number(),
  addedAt: z.number(),
  savedAt: z.number().nullable().default(null),
  savedRevision: z.number().nullable().default(null),
  // The list is no part of the home’s figures: where it is damaged, it begins anew.
  changes: z
    .array(z.object({ atMs: z.number(), says: z.string() }))
    .optional()
    .catch(undefined),
}) as unknown as z.ZodType<Home>;

export const sourceRow = z.looseObject({
  id: key,
  homeId: z.string(),
  name: z.string(),
  fileName: z.string(),
  bytes: count,
  hash: z.string().nullable().default(null),
  fileOf: key,
  importedAt: z.number(),
  removedAt: z.number().nullable(),
  mapping: mappingSchema.nullable(),
  rows: count,
  startMs: z.number(),
  stepMs: z.number().positive(),
  count,
  firstLine: count.optional(),
  columns: z.array(
    z.looseObject({
      quantity: quantitySchema,
      resolution: z.number(),
      counter: z.looseObject({ digitWh: z.number(), isDaily: z.boolean() }).optional(),
      isNoted: z.literal(true).optional(),
      texts: z.record(z.string(), z.string()).optional(),
    }),
  ),
  lumps: z.array(lump),
  findings: z.array(findingSchema.loose()),
}) as unknown as z.ZodType<Source>;

export const chunkRow = z.looseObject({
  sourceId: key,
  quantity: quantitySchema,
  month: z.string(),
  from: count,
  values: tagged<Float64Array>('Float64Array'),
}) as unknown as z.ZodType<Chunk>;

export const fileRow = z.looseObject({
  sourceId: key,
  file: tagged<Blob>('Blob', 'File'),
}) as unknown as z.ZodType<RawFile>;

export const correctionRow = z.looseObject({
  id: key,
  homeId: z.string(),
  correction: correctionSchema,
  reason: z.string(),
  madeAt: z.number(),
}) as unknown as z.ZodType<StoredCorrection>;

export const noteRow = noteSchema.and(
  z.looseObject({ id: key, homeId: z.string() }),
) as unknown as z.ZodType<StoredNote>;

export const readingRow = readingSchema.and(
  z.looseObject({ id: key, homeId: z.string() }),
) as unknown as z.ZodType<StoredReading>;

export const trialRow = z.looseObject({
  id: key,
  homeId: z.string(),
  file: trialSchema,
  struck: z.array(count),
  state: z.enum(['running', 'paused', 'done', 'abandoned']),
  madeAt: z.number(),
}) as unknown as z.ZodType<StoredTrial>;

export const appliancesRow = z.looseObject({
  homeId: z.string(),
  appliances: appliancesSchema.shape.appliances,
}) as unknown as z.ZodType<StoredAppliances>;

export const offersRow = z.looseObject({
  homeId: z.string(),
  offers: z.array(offerSchema),
}) as unknown as z.ZodType<StoredOffers>;

export const scenariosRow = z.looseObject({
  homeId: z.string(),
  scenarios: z.array(scenarioSchema),
}) as unknown as z.ZodType<StoredScenarios>;

export const layoutRow = z.looseObject({
  homeId: z.string(),
  layout: reportLayoutSchema,
}) as unknown as z.ZodType<StoredLayout>;

export const pictureRow = z.looseObject({
  id: key,
  homeId: z.string(),
  trialId: key,
  place: count,
  name: z.string(),
  picture: tagged<Blob>('Blob', 'File'),
  addedAt: z.number(),
}) as unknown as z.ZodType<StoredPicture>;

/** Rows that are as they should be, and those that are not. */
export interface Checked<T> {
  readonly good: readonly T[];
  /** Rows that cannot be used, with the part of each that is wrong. */
  readonly bad: readonly { readonly row: unknown; readonly part: string }[];
}

/** Parts the rows of a table into those that can be used and those that cannot. */
export function checkedRows<T>(schema: z.ZodType<T>, rows: readonly unknown[]): Checked<T> {
  const good: T[] = [];
  const bad: { row: unknown; part: string }[] = [];
  for (const row of rows) {
    const result = schema.safeParse(row);
    if (result.success) good.push(result.data);
    else bad.push({ row, part: result.error.issues[0]!.path.join('.') || 'the whole row' });
  }
  return { good, bad };
}
