import {
  withRoom,
  type Column,
  type Mapping,
  type Quantity,
  type ReadLog,
  type SourceLog,
} from '@long-tally/core';
import { db, type Chunk, type Home, type Source } from './database.js';
import { bumpRevision } from './homes.js';

/** A text read from a file, to be stored. */
export interface NewSource {
  readonly file: File;
  readonly name: string;
  readonly shape: string;
  readonly mapping: Mapping | null;
  readonly read: ReadLog;
}

/** All sources of a home, those taken out too. */
export function sourcesOf(homeId: string): Promise<Source[]> {
  return db.sources.where('homeId').equals(homeId).toArray();
}

/** The stored source that was read from the same file before, if any. */
export async function sameSource(homeId: string, file: File): Promise<Source | undefined> {
  return (await sourcesOf(homeId)).find(
    ({ fileName, bytes }) => fileName === file.name && bytes === file.size,
  );
}

const TABLES = [db.homes, db.sources, db.files, db.chunks, db.mappings] as const;

/**
 * Stores texts with everything read from them, their files, their mappings, and the home they found: all of it or, when
 * anything fails, nothing.
 */
export async function storeSources(home: Home, sources: readonly NewSource[]): Promise<void> {
  await db.transaction('rw', TABLES, async () => {
    if (!(await db.homes.get(home.id))) await db.homes.add(home);
    const fileIds = new Map<File, number>();
    for (const { file, name, shape, mapping, read } of sources) {
      const { log, rows } = read;
      const id = await db.sources.add({
        homeId: home.id,
        name,
        fileName: file.name,
        bytes: file.size,
        fileOf: fileIds.get(file) ?? 0,
        importedAt: Date.now(),
        removedAt: null,
        mapping,
        rows,
        startMs: log.startMs,
        stepMs: log.stepMs,
        count: log.count,
        columns: [...log.columns].map(([quantity, { resolution }]) => ({ quantity, resolution })),
        lumps: log.lumps,
        findings: log.findings,
      });
      if (!fileIds.has(file)) {
        fileIds.set(file, id);
        await db.sources.update(id, { fileOf: id });
        await db.files.add({ sourceId: id, file });
      }
      for (const [quantity, { values }] of log.columns)
        await db.chunks.bulkAdd(chunksOf(id, quantity, values, log));
      if (mapping) await db.mappings.put({ shape, mapping, usedAt: Date.now() });
    }
    await bumpRevision(home.id);
  });
}

/** Takes a source out of the figures, or back into them; everything of it stays. */
export async function setRemoved({ id, homeId }: Source, removedAt: number | null): Promise<void> {
  await db.transaction('rw', db.homes, db.sources, async () => {
    await db.sources.update(id, { removedAt });
    await bumpRevision(homeId);
  });
}

/** Deletes a source for good; its file goes with the last text read from it. */
export async function deleteSource({ id, homeId, fileOf }: Source): Promise<void> {
  await db.transaction('rw', TABLES, async () => {
    await db.chunks.where('sourceId').equals(id).delete();
    await db.sources.delete(id);
    const others = (await sourcesOf(homeId)).filter((source) => source.fileOf === fileOf);
    if (others.length === 0) await db.files.delete(fileOf);
    await bumpRevision(homeId);
  });
}

/**
 * The sources of a home that count, by their numbers, with their columns put together again.
 * @param held sources loaded before: what is stored of a source never changes, so they are given back as they are
 */
export async function loadSources(
  homeId: string,
  held: ReadonlyMap<number, SourceLog> = new Map(),
): Promise<Map<number, SourceLog>> {
  const sources = (await sourcesOf(homeId)).filter(({ removedAt }) => removedAt === null);
  const loaded = await Promise.all(
    sources.map(async ({ id, name, startMs, stepMs, count, columns, lumps, findings }) => {
      const known = held.get(id);
      if (known) return [id, known] as const;
      const joined = new Map<Quantity, Column>(
        columns.map(({ quantity, resolution }) => [
          quantity,
          { values: withRoom(Float64Array, count).fill(NaN), resolution },
        ]),
      );
      await db.chunks
        .where('sourceId')
        .equals(id)
        .each(({ quantity, from, values }) => joined.get(quantity)?.values.set(values, from));
      return [id, { name, startMs, stepMs, count, lumps, findings, columns: joined }] as const;
    }),
  );
  return new Map(loaded);
}

/** A column cut at the months of UTC; a month without any value takes no room. */
export function chunksOf(
  sourceId: number,
  quantity: Quantity,
  values: Float64Array,
  { startMs, stepMs, count }: Pick<SourceLog, 'startMs' | 'stepMs' | 'count'>,
): Chunk[] {
  const chunks: Chunk[] = [];
  for (let from = 0; from < count;) {
    const at = new Date(startMs + from * stepMs);
    const nextMonth = Date.UTC(at.getUTCFullYear(), at.getUTCMonth() + 1, 1);
    const to = Math.min(count, Math.ceil((nextMonth - startMs) / stepMs));
    const part = values.slice(from, to);
    if (part.some((value) => !Number.isNaN(value))) {
      chunks.push({ sourceId, quantity, month: at.toISOString().slice(0, 7), from, values: part });
    }
    from = to;
  }
  return chunks;
}
