import { randomUUID } from 'node:crypto';
import { basename } from 'node:path';
import {
  InputError,
  isoOf,
  logsOfBook,
  LEFT_OUT,
  openBook,
  parseInstant,
  parseJournal,
  parseMapping,
  parseReadings,
  parseSystem,
  parseTrialFile,
  pathOfFile,
  prepare,
  readBook,
  readFile,
  readingsLog,
  trialRecords,
  type BookContents,
  type BookTrial,
  countingTrials,
  type Mapping,
  type Prepared,
  type Range,
  type System,
  type TrialFile,
} from '@long-tally/core';
import { assertFile, bytesOf, textOf, wholeOf } from './files.js';
import { UsageError } from './usage.js';

/** What the options that name a home say. */
export interface HomeValues {
  readonly book?: string | undefined;
  readonly salvage?: boolean | undefined;
  readonly system?: string | undefined;
  readonly log?: string[] | undefined;
  readonly map?: string[] | undefined;
  readonly journal?: string | undefined;
  readonly readings?: string | undefined;
  readonly trial?: string[] | undefined;
  readonly from?: string | undefined;
  readonly to?: string | undefined;
}

/** A home as the options name it, gone through once, and the range that is asked about: all of it where none is. */
export interface Home {
  readonly prepared: Prepared;
  readonly range: Range;
  /** What a book of it keeps. */
  readonly contents: BookContents;
}

/**
 * @throws UsageError when the options do not name a home
 * @throws InputError when what they name cannot be used
 */
export async function readHome(values: HomeValues, positionals: readonly string[]): Promise<Home> {
  if (positionals.length > 0) throw new UsageError(`"${positionals[0]!}" is not expected here.`);
  const from = instantOf(values.from, '--from');
  const to = instantOf(values.to, '--to');
  if (from !== null && to !== null && from >= to)
    throw new UsageError(`The range ends (${isoOf(to)}) before it begins (${isoOf(from)}).`);
  const { prepared, contents } = values.book ? await fromBook(values.book, values) : await fromFiles(values);
  const { log } = prepared;
  const range = { fromMs: from ?? log.startMs, toMs: to ?? log.startMs + log.count * log.stepMs };
  if (range.fromMs >= range.toMs)
    throw new UsageError(`The range ends (${isoOf(range.toMs)}) before it begins (${isoOf(range.fromMs)}).`);
  return { prepared, range, contents };
}

type Read = Omit<Home, 'range'>;

async function fromBook(file: string, values: HomeValues): Promise<Read> {
  for (const option of ['system', 'log', 'map', 'journal', 'readings'] as const)
    if (values[option]) throw new UsageError(`--${option} is in the book; give the one or the other.`);
  await assertFile(file);
  const damaged = values.salvage ? 'salvage' : 'refuse';
  const book = await openBook(file, await wholeOf(file), damaged);
  const logs = logsOfBook(book, await readBook(book, damaged));
  if (logs.length === 0)
    throw new InputError([
      { where: file, found: 'The book holds no log that can be read.', mend: 'Bring one that does.' },
    ]);
  const corrections = book.corrections.map(({ correction }) => correction);
  const given = await trialsOf(values);
  return {
    prepared: prepare(
      book.system,
      logs,
      corrections,
      book.journal,
      trialRecords([...countingTrials(book.trials ?? []), ...given], book.system),
    ),
    contents: {
      ...book,
      trials: [...(book.trials ?? []), ...given.map(doneTrial)],
      files: [...book.files].map(([path, bytes]) => ({ path, open: () => once(bytes) })),
    },
  };
}

async function fromFiles(values: HomeValues): Promise<Read> {
  if (!values.system) throw new UsageError('Name a book with --book, or the system file with --system.');
  if (!values.log?.length && !values.readings) throw new UsageError('Name at least one log with --log.');
  const system = parseSystem(await textOf(values.system), values.system);
  const mappings = await Promise.all(
    (values.map ?? []).map(async (file) => parseMapping(await textOf(file), file)),
  );
  const journal = values.journal ? parseJournal(await textOf(values.journal), values.journal) : [];
  const readings = values.readings ? parseReadings(await textOf(values.readings), values.readings) : [];
  const trials = await trialsOf(values);
  const { sources, logs, files } = await readAll(values.log ?? [], system, mappings);
  const byHand = readingsLog(readings);
  const all = byHand ? [...logs, byHand] : logs;
  if (all.length === 0)
    throw new InputError([
      {
        where: values.readings ?? values.system,
        found: 'No counter was read twice, so no energy follows from the readings.',
        mend: 'Add a second reading, or a log with --log.',
      },
    ]);
  return {
    prepared: prepare(system, all, [], journal, trialRecords(trials, system)),
    contents: {
      id: randomUUID(),
      files,
      sources,
      readings,
      corrections: [],
      dismissals: [],
      trials: trials.map(doneTrial),
      appliances: [],
      offers: [],
      scenarios: [],
      reportLayout: null,
      settings: null,
    },
  };
}

/** Trials that count beside the log. */
async function trialsOf({ trial = [] }: HomeValues): Promise<TrialFile[]> {
  return Promise.all(trial.map(async (file) => parseTrialFile(await textOf(file), file)));
}

function doneTrial(file: TrialFile): BookTrial {
  return { file, struck: [], state: 'done', madeAt: Date.now(), pictures: [] };
}

/** Reads every log; the problems of all files are told, not only the first. */
async function readAll(names: readonly string[], system: System, mappings: readonly Mapping[]) {
  const read = [];
  const problems = [];
  for (const [i, file] of names.entries()) {
    try {
      await assertFile(file);
      const path = pathOfFile(i, basename(file));
      const open = () => bytesOf(file);
      for (const log of await readFile(file, open, system, mappings)) read.push({ ...log, file, path, open });
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      problems.push(...error.problems);
    }
  }
  if (problems.length > 0) throw new InputError(problems);
  return {
    logs: read.map(({ log }) => log),
    sources: read.map(({ log, mapping, file, path }) => ({
      path,
      fileName: file,
      name: log.name,
      mapping,
      importedAt: Date.now(),
      removedAt: null,
      leftOut: log.findings.filter(({ code }) => code === LEFT_OUT),
    })),
    files: [...new Map(read.map(({ path, open }) => [path, { path, open }])).values()],
  };
}

function instantOf(text: string | undefined, option: string): number | null {
  if (text === undefined) return null;
  const ms = parseInstant(text);
  if (Number.isNaN(ms)) throw new UsageError(`${option}: "${text}" is no ISO 8601 instant with offset or Z.`);
  return ms;
}

async function* once(bytes: Uint8Array): AsyncGenerator<Uint8Array> {
  yield await Promise.resolve(bytes);
}
