import type {
  Found,
  FoundBook,
  ImportProgress,
  ImportWorker,
  ReadSummary,
  Restored,
  SetAside,
} from '../protocol.js';
import {
  checkLog,
  configurationsOf,
  leftOutFinding,
  mergeSources,
  pricePreview,
  readPart,
  surveyFile,
  type Finding,
  type LeftOut,
  type Mapping,
  type Part,
  type ReadLog,
  type Recognition,
  type SourceLog,
} from '@long-tally/core';
import { expose } from 'comlink';
import type { Home, Source } from '../db/database.js';
import { rememberedMapping } from '../db/mappings.js';
import { hashOf, putBack, sameSources, sourcesOf, storeSources, type NewSource } from '../db/sources.js';
import { lookIntoBooks, restoreBook, type HeldBook } from './restore.js';
import { shapeOf } from './shape.js';
import { inWords } from './words.js';

interface Held {
  readonly file: File;
  readonly hash: string;
  readonly part: Part;
  readonly shape: string;
  readonly recognition: Recognition;
  /** What else the file holds, told once with the first of its texts. */
  readonly leftOut: readonly LeftOut[];
  mapping: Mapping | null;
  readonly isRemembered: boolean;
  read: ReadLog | null;
}

const state: { onProgress: (progress: ImportProgress) => void; stage: ImportProgress['stage'] } = {
  onProgress: () => undefined,
  stage: 'looking',
};
const held = new Map<number, Held>();
let books: readonly HeldBook[] = [];

async function* bytesOf(file: File): AsyncGenerator<Uint8Array> {
  const reader = file.stream().getReader();
  let done = 0;
  try {
    for (;;) {
      const chunk = await reader.read();
      if (chunk.done) return;
      yield chunk.value;
      done += chunk.value.length;
      state.onProgress({ name: file.name, share: done / Math.max(1, file.size), stage: state.stage });
    }
  } finally {
    await reader.cancel();
  }
}

const importWorker: ImportWorker = {
  ready: () => true,

  /** Looks at files: what is in them and how each would be read. Nothing is stored, but what was taken out comes back. */
  async look(home, files, onProgress) {
    Object.assign(state, { onProgress, stage: 'looking' });
    const found: Found[] = [];
    const aside: SetAside[] = [];
    const hashes = new Set<string>();
    for (const file of files) {
      try {
        const hash = await hashOf(file);
        const same = await sameSources(home.id, hash, file.size);
        if (same.length > 0 || hashes.has(hash)) {
          const out = same.filter(({ removedAt }) => removedAt !== null);
          if (out.length > 0) await putBack(home.id, out);
          aside.push({ name: file.name, kind: out.length > 0 ? 'put-back' : 'known', problems: [] });
          continue;
        }
        hashes.add(hash);
        const { surveys, leftOut } = await surveyFile(file.name, () => bytesOf(file), home.system);
        aside.push(
          ...leftOut.map(({ name, why }): SetAside => ({
            name,
            kind: 'left-out',
            problems: [`${name} is not read: ${why}`],
          })),
        );
        for (const [i, { part, mapping, recognition }] of surveys.entries()) {
          const shape = shapeOf(recognition);
          const { conclusions } = recognition;
          const remembered = mapping
            ? await rememberedMapping(home.id, shape, { mapping, conclusions })
            : null;
          const id = held.size;
          const used = remembered ?? mapping;
          held.set(id, {
            file,
            hash,
            part,
            shape,
            recognition,
            leftOut: i === 0 ? leftOut : [],
            mapping: used,
            isRemembered: remembered !== null,
            read: null,
          });
          found.push({
            id,
            name: part.name,
            shape,
            mapping: used,
            recognition,
            isRemembered: remembered !== null,
          });
        }
      } catch (error) {
        aside.push(refusal(file.name, error));
      }
    }
    return { found, aside };
  },

  /** Reads texts whole, each through the mapping given for it. Nothing is stored. */
  async read(home, choices, onProgress) {
    Object.assign(state, { onProgress, stage: 'reading' });
    const present = (await sourcesOf(home.id)).filter(({ removedAt }) => removedAt === null);
    const summaries: ReadSummary[] = [];
    const aside: SetAside[] = [];
    for (const { id, mapping } of choices) {
      const one = held.get(id)!;
      one.mapping = mapping;
      one.read = null;
      try {
        const { log, rows } = await readThrough(one, mapping, home);
        const findings = [...one.leftOut.map(leftOutFinding), ...log.findings];
        one.read = { rows, log: { ...log, findings } };
        summaries.push(
          summaryOf(id, one.part.name, one.read, present, checksOf(log, home), home.system.timeZone),
        );
      } catch (error) {
        aside.push(refusal(one.part.name, error));
      }
    }
    return { summaries, aside };
  },

  /** Stores everything that was read, with the home it founds and the corrections chosen for it: all of it or nothing. */
  async store(home, corrections, onProgress) {
    const sources = [...held.values()].flatMap(
      ({ file, hash, part, shape, mapping, recognition, read }): NewSource[] =>
        read
          ? [
              {
                file,
                hash,
                name: part.name,
                shape,
                mapping,
                proposal: mapping && { mapping: recognition.mapping, conclusions: recognition.conclusions },
                read,
              },
            ]
          : [],
    );
    onProgress({ name: sources[0]?.name ?? '', share: 1, stage: 'storing' });
    try {
      await storeSources(home, sources, corrections);
      held.clear();
      return null;
    } catch (error) {
      return refusal(sources.map(({ name }) => name).join(', '), error);
    }
  },

  /** Looks at a file of books: the homes in it. */
  async books(file: File): Promise<{ books: readonly FoundBook[]; problems: readonly string[] }> {
    try {
      books = await lookIntoBooks(file);
      return { books: books.map(({ found }) => found), problems: [] };
    } catch (error) {
      return { books: [], problems: inWords(file.name, error) };
    }
  },

  /**
   * Stores the home of a book that was looked at, with everything in it: all of it or nothing.
   * @param place `new` beside the homes that are here, or in the place of the one it is of
   */
  async restore(index: number, place: 'new' | 'replace', damaged: 'refuse' | 'salvage'): Promise<Restored> {
    const book = books[index]!;
    try {
      return await restoreBook(book, place, damaged);
    } catch (error) {
      return { homeId: null, settings: null, problems: inWords(book.found.name, error) };
    }
  },
};

/** Reads a text; a mapping of an earlier file that does not fit it is let go, and it is read as it is recognised. */
async function readThrough(one: Held, mapping: Mapping | null, { system }: Home): Promise<ReadLog> {
  try {
    return await readPart(one.part, mapping, system);
  } catch (error) {
    const own = one.recognition.mapping;
    if (!one.isRemembered || own.columns.length === 0) throw error;
    one.mapping = own;
    return readPart(one.part, own, system);
  }
}

function summaryOf(
  id: number,
  name: string,
  { log, rows }: ReadLog,
  present: readonly Source[],
  checks: readonly Finding[],
  timeZone: string,
): ReadSummary {
  const end = log.startMs + log.count * log.stepMs;
  return {
    id,
    name,
    rows,
    startMs: log.startMs,
    endMs: end,
    stepMs: log.stepMs,
    quantities: [...log.columns].map(([quantity, { values }]) => ({
      quantity,
      share: values.reduce((known, value) => known + (Number.isNaN(value) ? 0 : 1), 0) / values.length,
    })),
    lumps: log.lumps.filter(({ leads }) => !leads).length,
    prices: pricePreview(log, timeZone),
    overlaps: present
      .filter(
        (source) =>
          source.startMs < end &&
          source.startMs + source.count * source.stepMs > log.startMs &&
          source.columns.some(({ quantity }) => log.columns.has(quantity)),
      )
      .map((source) => source.name),
    findings: log.findings,
    checks,
  };
}

/** What looks wrong in a log by itself and would be mended by a correction. */
function checksOf(log: SourceLog, { system }: Home): Finding[] {
  if (log.columns.size === 0) return [];
  const { log: alone } = mergeSources([log], system.timeZone, []);
  return checkLog(alone, configurationsOf(system), system).filter(
    ({ proposal, code }) => proposal !== undefined || code === 'implausible',
  );
}

function refusal(name: string, error: unknown): SetAside {
  return { name, kind: 'refused', problems: inWords(name, error) };
}

expose(importWorker);
