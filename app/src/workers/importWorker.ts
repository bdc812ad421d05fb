import {
  InputError,
  problemText,
  readPart,
  surveyFile,
  type Finding,
  type Mapping,
  type Part,
  type Quantity,
  type ReadLog,
  type Recognition,
} from '@long-tally/core';
import { expose } from 'comlink';
import type { Home, Source } from '../db/database.js';
import { rememberedMapping } from '../db/mappings.js';
import { sameSource, sourcesOf, storeSources, type NewSource } from '../db/sources.js';
import { shapeOf } from './shape.js';

/** A text found in the chosen files, and how it would be read. */
export interface Found {
  readonly id: number;
  readonly name: string;
  /** Files of one shape are read alike. */
  readonly shape: string;
  /** Null for a canonical log, which needs no mapping. */
  readonly mapping: Mapping | null;
  readonly recognition: Recognition;
  /** True when the mapping was used before for a file of this shape. */
  readonly isRemembered: boolean;
}

/** A file that cannot be used, or need not be. */
export interface SetAside {
  readonly name: string;
  readonly kind: 'refused' | 'known';
  readonly problems: readonly string[];
}

/** What was read of a text and would be imported. */
export interface ReadSummary {
  readonly id: number;
  readonly name: string;
  readonly rows: number;
  readonly startMs: number;
  readonly endMs: number;
  readonly stepMs: number;
  readonly quantities: readonly { readonly quantity: Quantity; readonly share: number }[];
  /** Energies known without their course, how many. */
  readonly lumps: number;
  readonly overlaps: readonly string[];
  readonly findings: readonly Finding[];
}

export interface ImportProgress {
  readonly name: string;
  readonly share: number;
  readonly stage: 'looking' | 'reading' | 'storing';
}

type OnProgress = (progress: ImportProgress) => void;

interface Held {
  readonly file: File;
  readonly part: Part;
  readonly shape: string;
  mapping: Mapping | null;
  read: ReadLog | null;
}

class Cancelled extends Error {}
/** `cancelled` is set by {@link importWorker.cancel} while an import waits for its next bytes; then this worker is done. */
const state: { cancelled: boolean; onProgress: OnProgress; stage: ImportProgress['stage'] } = {
  cancelled: false,
  onProgress: () => undefined,
  stage: 'looking',
};
const isCancelled = () => state.cancelled;
const held = new Map<number, Held>();

async function* bytesOf(file: File): AsyncGenerator<Uint8Array> {
  const reader = file.stream().getReader();
  let done = 0;
  try {
    for (;;) {
      const chunk = await reader.read();
      if (isCancelled()) throw new Cancelled();
      if (chunk.done) return;
      yield chunk.value;
      done += chunk.value.length;
      state.onProgress({ name: file.name, share: done / Math.max(1, file.size), stage: state.stage });
    }
  } finally {
    await reader.cancel();
  }
}

const importWorker = {
  /** Looks at files: what is in them and how each would be read; null when cancelled. Nothing is stored. */
  async look(home: Home, files: readonly File[], onProgress: OnProgress) {
    Object.assign(state, { onProgress, stage: 'looking' });
    const found: Found[] = [];
    const aside: SetAside[] = [];
    for (const file of files) {
      try {
        if (await sameSource(home.id, file)) {
          aside.push({ name: file.name, kind: 'known', problems: [] });
          continue;
        }
        for (const { part, mapping, recognition } of await surveyFile(
          file.name,
          () => bytesOf(file),
          home.system,
        )) {
          const shape = shapeOf(recognition);
          const remembered = mapping ? await rememberedMapping(shape) : null;
          const id = held.size;
          held.set(id, { file, part, shape, mapping: remembered ?? mapping, read: null });
          found.push({
            id,
            name: part.name,
            shape,
            mapping: remembered ?? mapping,
            recognition,
            isRemembered: remembered !== null,
          });
        }
      } catch (error) {
        if (error instanceof Cancelled) return null;
        aside.push(refusal(file.name, error));
      }
    }
    return { found, aside };
  },

  /** Reads texts whole, each through the mapping given for it; null when cancelled. Nothing is stored. */
  async read(
    home: Home,
    choices: readonly { readonly id: number; readonly mapping: Mapping | null }[],
    onProgress: OnProgress,
  ) {
    Object.assign(state, { onProgress, stage: 'reading' });
    const present = (await sourcesOf(home.id)).filter(({ removedAt }) => removedAt === null);
    const summaries: ReadSummary[] = [];
    const aside: SetAside[] = [];
    for (const { id, mapping } of choices) {
      const one = held.get(id)!;
      one.mapping = mapping;
      one.read = null;
      try {
        one.read = await readPart(one.part, mapping, home.system);
        summaries.push(summaryOf(id, one.part.name, one.read, present));
      } catch (error) {
        if (error instanceof Cancelled) return null;
        aside.push(refusal(one.part.name, error));
      }
    }
    return { summaries, aside };
  },

  /** Stores everything that was read, with the home it founds: all of it or nothing. */
  async store(home: Home, onProgress: OnProgress): Promise<SetAside | null> {
    const sources = [...held.values()].flatMap(({ file, part, shape, mapping, read }): NewSource[] =>
      read ? [{ file, name: part.name, shape, mapping, read }] : [],
    );
    onProgress({ name: sources[0]?.name ?? '', share: 1, stage: 'storing' });
    try {
      await storeSources(home, sources);
      held.clear();
      return null;
    } catch (error) {
      return refusal(sources.map(({ name }) => name).join(', '), error);
    }
  },

  cancel(): void {
    state.cancelled = true;
  },
};

export type ImportWorker = typeof importWorker;

function summaryOf(
  id: number,
  name: string,
  { log, rows }: ReadLog,
  present: readonly Source[],
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
    overlaps: present
      .filter(
        (source) =>
          source.startMs < end &&
          source.startMs + source.count * source.stepMs > log.startMs &&
          source.columns.some(({ quantity }) => log.columns.has(quantity)),
      )
      .map((source) => source.name),
    findings: log.findings,
  };
}

function refusal(name: string, error: unknown): SetAside {
  if (error instanceof InputError)
    return { name, kind: 'refused', problems: error.problems.map(problemText) };
  const text = String(error);
  if ((error as Error).name === 'QuotaExceededError' || /quota/i.test(text)) {
    const full = `${name}: The browser’s storage is full. Nothing of this was stored and nothing was lost; remove a source you no longer need, or free space on the disk.`;
    return { name, kind: 'refused', problems: [full] };
  }
  return {
    name,
    kind: 'refused',
    problems: [
      `${name}: It could not be stored (${(error as Error).message}). Nothing stored before has changed.`,
    ],
  };
}

expose(importWorker);
