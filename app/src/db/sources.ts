import {
  withRoom,
  type Column,
  type Correction,
  type Mapping,
  type Quantity,
  type ReadLog,
  type SourceLog,
} from '@long-tally/core';
import { db, type Chunk, type Home, type Source } from './database.js';
import { bumpRevision } from './homes.js';
import type { Proposal } from './mappings.js';
import { checkedRows, chunkRow, fileRow, sourceRow } from './rows.js';

/** A text read from a file, to be stored. */
export interface NewSource {
  readonly file: File;
  /** SHA-256 of the file. */
  readonly hash: string;
  readonly name: string;
  readonly shape: string;
  readonly mapping: Mapping | null;
  /** As it was recognised, before its owner changed anything. */
  readonly proposal: Proposal | null;
  readonly read: ReadLog;
}

/** All sources of a home that can be used, those taken out too. */
export async function sourcesOf(homeId: string): Promise<readonly Source[]> {
  return checkedRows(sourceRow, await db.sources.where('homeId').equals(homeId).toArray()).good;
}

/** Sources of a home whose rows are damaged: their names, for the reader to know. */
export async function badSources(homeId: string): Promise<readonly string[]> {
  const { bad } = checkedRows(sourceRow, await db.sources.where('homeId').equals(homeId).toArray());
  return bad.map(({ row }) => {
    const { name, id } = row as { name?: unknown; id?: unknown };
    return typeof name === 'string' ? name : `source ${String(id)}`;
  });
}

/** SHA-256 of a file, by which it is known whatever its name. */
export async function hashOf(file: Blob): Promise<string> {
  const hash = new Uint8Array(await crypto.subtle.digest('SHA-256', await file.arrayBuffer()));
  return Array.from(hash, (byte) => byte.toString(16).padStart(2, '0')).join('');
}

/** The stored sources that were read from a file of the same contents. */
export async function sameSources(homeId: string, hash: string, bytes: number): Promise<Source[]> {
  const alike = (await sourcesOf(homeId)).filter((source) => source.bytes === bytes);
  const same: Source[] = [];
  for (const source of alike) {
    // A file stored before hashes were taken gets its own now.
    const own = source.hash ?? (await hashStored(source));
    if (own === hash) same.push(source);
  }
  return same;
}

async function hashStored(source: Source): Promise<string | null> {
  const [kept] = checkedRows(fileRow, [await db.files.get(source.fileOf)]).good;
  if (!kept) return null;
  const hash = await hashOf(kept.file);
  await db.sources.update(source.id, { hash });
  return hash;
}

/** A correction with what moved its maker to it. */
export interface Reasoned {
  readonly correction: Correction;
  readonly reason: string;
}

const TABLES = [db.homes, db.sources, db.files, db.chunks, db.homeMappings, db.corrections] as const;

/**
 * Stores texts with everything read from them, their files, their mappings, the corrections chosen for them and the home
 * they found: all of it or, when anything fails, nothing. A text that another tab has stored meanwhile is not stored twice.
 */
export async function storeSources(
  home: Home,
  sources: readonly NewSource[],
  corrections: readonly Reasoned[] = [],
): Promise<void> {
  await db.transaction('rw', TABLES, async () => {
    if (!(await db.homes.get(home.id))) await db.homes.add(home);
    const present = await db.sources.where('homeId').equals(home.id).toArray();
    const fileIds = new Map<File, number>();
    for (const source of sources) {
      if (present.some(({ hash, name }) => hash === source.hash && name === source.name)) continue;
      await storeSource(home.id, source, fileIds);
    }
    const madeAt = Date.now();
    await db.corrections.bulkAdd(corrections.map((one) => ({ homeId: home.id, ...one, madeAt })));
    await bumpRevision(home.id);
  });
}

/** Stores one text, within a transaction on everything that holds it. */
export async function storeSource(
  homeId: string,
  { file, hash, name, shape, mapping, proposal, read }: NewSource,
  fileIds: Map<File, number>,
  { importedAt = Date.now(), removedAt = null }: Partial<Pick<Source, 'importedAt' | 'removedAt'>> = {},
): Promise<void> {
  const { log, rows } = read;
  const id = await db.sources.add({
    homeId,
    name,
    fileName: file.name,
    bytes: file.size,
    hash,
    fileOf: fileIds.get(file) ?? 0,
    importedAt,
    removedAt,
    mapping,
    rows,
    startMs: log.startMs,
    stepMs: log.stepMs,
    count: log.count,
    columns: [...log.columns].map(([quantity, { resolution, counter, isNoted, texts }]) => ({
      quantity,
      resolution,
      ...(counter ? { counter } : {}),
      ...(isNoted ? { isNoted } : {}),
      ...(texts ? { texts } : {}),
    })),
    ...(log.firstLine === undefined ? {} : { firstLine: log.firstLine }),
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
  if (mapping && shape)
    await db.homeMappings.put({
      homeId,
      shape,
      mapping,
      proposed: proposal?.mapping ?? null,
      asked: proposal?.conclusions.filter(({ asks }) => asks).map(({ about }) => about) ?? [],
      usedAt: Date.now(),
    });
}

/** Takes a source out of the figures, or back into them; everything of it stays. */
export async function setRemoved({ id, homeId }: Source, removedAt: number | null): Promise<void> {
  await db.transaction('rw', db.homes, db.sources, async () => {
    await db.sources.update(id, { removedAt });
    await bumpRevision(homeId);
  });
}

/** Puts sources back that were taken out, as when their file comes again. */
export async function putBack(homeId: string, sources: readonly Source[]): Promise<void> {
  await db.transaction('rw', db.homes, db.sources, async () => {
    for (const { id } of sources) await db.sources.update(id, { removedAt: null });
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
    sources.map(async ({ id, name, startMs, stepMs, count, firstLine, columns, lumps, findings }) => {
      const known = held.get(id);
      if (known) return [id, known] as const;
      const joined = new Map<Quantity, Column>(
        columns.map(({ quantity, ...of }) => [
          quantity,
          { ...of, values: withRoom(Float64Array, count).fill(NaN) },
        ]),
      );
      await db.chunks
        .where('sourceId')
        .equals(id)
        .each((row) => {
          // A month that is damaged is missing; the others stand.
          const [chunk] = checkedRows(chunkRow, [row]).good;
          if (chunk && chunk.from + chunk.values.length <= count)
            joined.get(chunk.quantity)?.values.set(chunk.values, chunk.from);
        });
      const line = firstLine === undefined ? {} : { firstLine };
      return [id, { name, startMs, stepMs, count, lumps, findings, columns: joined, ...line }] as const;
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

/** The files of a home as they came, whatever else of it is damaged. */
export async function filesOfHome(homeId: string): Promise<{ readonly name: string; readonly blob: Blob }[]> {
  const rows = await db.sources.where('homeId').equals(homeId).toArray();
  const files: { name: string; blob: Blob }[] = [];
  for (const { id, fileName } of rows) {
    const [kept] = checkedRows(fileRow, [await db.files.get(id)]).good;
    if (kept) files.push({ name: typeof fileName === 'string' ? fileName : `source-${id}`, blob: kept.file });
  }
  return files;
}
