import { jsonOf } from '../model/validation.js';
import { leftOutFinding, readPart, type FileLog } from '../import/readLog.js';
import { readingsLog, type Reading } from '../import/merge/readings.js';
import { parseReadings } from '../import/merge/readingsFile.js';
import { InputError, problemText, type Problem } from '../model/problem.js';
import { filesOf, type ArchiveFile } from '../import/read/archive.js';
import { parseMapping } from '../import/read/mapping.js';
import { unpack } from '../import/read/unpack.js';
import type { SourceLog } from '../model/log.js';
import { parseJournal, type JournalNote } from '../system/journal.js';
import { parseSystem } from '../system/parse.js';
import type { System } from '../system/schema.js';
import type { Finding } from '../model/finding.js';
import type { Offer } from '../books/money/offers.js';
import { parseReportLayout, type ReportLayout } from '../system/reportLayout.js';
import { parseSettings, type Settings } from '../system/settings.js';
import { parseScenario, type ScenarioFile } from '../books/whatif/scenarioFile.js';
import { parseAppliances, type Appliance } from '../books/trial/combinations.js';
import { parseTrialFile } from '../books/trial/trialFile.js';
import {
  parseCorrections,
  parseOffers,
  parseSources,
  parseTrials,
  type BookCorrection,
  type BookSource,
  type BookTrial,
} from './documents.js';
import { BOOK_VERSION, checksumOf, MANIFEST } from './zipFile.js';

declare const TextDecoder: new (label: string) => { decode(bytes: Uint8Array): string };

/** What a book of a home holds, its files as they came. */
export interface OpenedBook {
  /** The home's own mark; empty where the book does not tell it. */
  readonly id: string;
  readonly system: System;
  readonly journal: readonly JournalNote[];
  readonly readings: readonly Reading[];
  readonly corrections: readonly BookCorrection[];
  readonly dismissals: readonly string[];
  readonly sources: readonly BookSource[];
  /** Null for a book that was saved before books held them. */
  readonly trials: readonly BookTrial[] | null;
  readonly appliances: readonly Appliance[];
  readonly offers: readonly Offer[];
  readonly scenarios: readonly ScenarioFile[];
  readonly reportLayout: ReportLayout | null;
  readonly settings: Settings | null;
  /** Files and pictures by their path in the book. */
  readonly files: ReadonlyMap<string, Uint8Array>;
  /** What of it is missing or damaged, where what is whole was saved all the same. */
  readonly lost: readonly Problem[];
}

/** A book holds its log twice, once as it came; ten years by the minute are some hundred MB each. */
const MOST_UNPACKED = 4e9;

/** True for an archive that is a book, or several books. */
async function isBook(where: string, bytes: Uint8Array): Promise<boolean> {
  if (bytes[0] !== 0x50 || bytes[1] !== 0x4b) return false;
  const files = await filesOf(where, bytes, { left: MOST_UNPACKED });
  const names = new Set(files.map(({ name }) => name));
  return names.has('system.json') && names.has(MANIFEST);
}

/**
 * The books in a file: the one it is, or those that it holds.
 * @returns each with its name and its bytes
 * @throws InputError when it is damaged or holds none
 */
export async function booksIn(
  where: string,
  bytes: Uint8Array,
): Promise<{ readonly name: string; readonly bytes: Uint8Array }[]> {
  const refuse = (found: string) =>
    new InputError([{ where, found, mend: 'Bring a book that Long Tally has saved.' }]);
  if (bytes[0] !== 0x50 || bytes[1] !== 0x4b) throw refuse('This is no book: a book is a .zip file.');
  if (await isBook(where, bytes)) return [{ name: where, bytes }];
  const books: { name: string; bytes: Uint8Array }[] = [];
  for (const file of await filesOf(where, bytes, { left: MOST_UNPACKED })) {
    if (!file.name.endsWith('.zip')) continue;
    const inner = await file.bytes();
    const name = `${where} › ${file.name}`;
    if (await isBook(name, inner)) books.push({ name, bytes: inner });
  }
  if (books.length === 0) throw refuse('This archive holds no book: it has no system.json with a manifest.');
  return books;
}

/**
 * Opens a book, holding every member against the manifest.
 * @param damaged `refuse` what is not whole, or `salvage` what is
 * @throws InputError naming each member that is missing, altered or cannot be read
 */
export async function openBook(
  where: string,
  bytes: Uint8Array,
  damaged: 'refuse' | 'salvage' = 'refuse',
): Promise<OpenedBook> {
  const { members, lost } = await checkedMembers(where, bytes);
  const utf8 = new TextDecoder('utf-8');
  const textOf = (path: string) => {
    const found = members.get(path);
    return found ? utf8.decode(found) : null;
  };
  const tried = <T>(path: string, read: (text: string) => T, without: T): T => {
    const text = textOf(path);
    if (text === null) return without;
    try {
      return read(text);
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      lost.push(...error.problems);
      return without;
    }
  };
  const at = (path: string) => `${where} › ${path}`;
  const description = tried(
    'datapackage.json',
    (text) => jsonOf(text, at('datapackage.json'), 'Take another copy of the book.'),
    null,
  ) as { id?: unknown; 'long-tally'?: unknown } | null;
  const version = description?.['long-tally'];
  // Told before anything else: what a later version keeps elsewhere would only seem to be missing.
  if (typeof version === 'string' && version !== BOOK_VERSION)
    throw new InputError([
      {
        where,
        found: `This book is of another version of Long Tally (${version}); this one reads ${BOOK_VERSION}.`,
        mend: 'Open it with the version that saved it, or a later one; here nothing has changed.',
      },
    ]);
  const system = tried<System | null>('system.json', (text) => parseSystem(text, at('system.json')), null);
  const journal = tried('journal.json', (text) => parseJournal(text, at('journal.json')), []);
  const readings = tried('readings.csv', (text) => parseReadings(text, at('readings.csv')), []);
  const { corrections, dismissals } = tried(
    'corrections.json',
    (text) => parseCorrections(text, at('corrections.json')),
    { schema: 'long-tally/corrections@1', corrections: [], dismissals: [] },
  );
  const listed = tried('sources.json', (text) => parseSources(text, at('sources.json')), []);
  const sources = listed.flatMap(({ mapping, ...source }): BookSource[] => {
    if (!members.has(source.path)) return [];
    if (mapping === null) return [{ ...source, mapping: null }];
    const read = tried(mapping, (text) => parseMapping(text, at(mapping)), null);
    return read ? [{ ...source, mapping: read }] : [];
  });
  const run = tried('trials.json', (text) => parseTrials(text, at('trials.json')), null);
  const trials =
    run?.flatMap(({ path, pictures, ...trial }): BookTrial[] => {
      const file = tried(path, (text) => parseTrialFile(text, at(path)), null);
      return file ? [{ ...trial, file, pictures: pictures.filter((one) => members.has(one.path)) }] : [];
    }) ?? null;
  const appliances = tried('appliances.json', (text) => parseAppliances(text, at('appliances.json')), []);
  const offers = tried('offers.json', (text) => parseOffers(text, at('offers.json')), []);
  const reportLayout = tried<ReportLayout | null>(
    'report-layout.json',
    (text) => parseReportLayout(text, at('report-layout.json')),
    null,
  );
  const settings = tried<Settings | null>(
    'settings.json',
    (text) => parseSettings(text, at('settings.json')),
    null,
  );
  const scenarios = [...members.keys()]
    .filter((path) => /^scenarios\/[^/]+\.json$/.test(path))
    .sort()
    .flatMap((path) => tried(path, (text) => [parseScenario(text, at(path))], []));
  if (!system)
    throw new InputError(
      lost.length > 0
        ? lost
        : [{ where, found: 'The book has no system.json.', mend: 'Bring a book that Long Tally has saved.' }],
    );
  if (lost.length > 0 && damaged === 'refuse') throw new InputError(lost);
  const id = typeof description?.id === 'string' ? description.id : '';
  const files = new Map([...members].filter(([path]) => /^(sources|attachments)\//.test(path)));
  return {
    id,
    system,
    journal,
    readings,
    corrections,
    dismissals,
    sources,
    trials,
    appliances,
    offers,
    scenarios,
    reportLayout,
    settings,
    files,
    lost,
  };
}

/** The members of a book that are as the manifest has them; every other is a problem. */
async function checkedMembers(
  where: string,
  bytes: Uint8Array,
): Promise<{ members: Map<string, Uint8Array>; lost: Problem[] }> {
  const mend =
    'Take another copy of the book; with --salvage, or "save what is whole", the rest of it is read.';
  const lost: Problem[] = [];
  const members = new Map<string, Uint8Array>();
  const files = new Map<string, ArchiveFile>(
    (await filesOf(where, bytes, { left: MOST_UNPACKED })).map((file) => [file.name, file]),
  );
  const manifest = files.get(MANIFEST);
  if (!manifest)
    throw new InputError([
      { where, found: `There is no ${MANIFEST} in it.`, mend: 'Bring a book that Long Tally has saved.' },
    ]);
  const sums = new Map<string, string>();
  const unpacked = async (file: ArchiveFile) => {
    try {
      return await file.bytes();
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      lost.push({ where: `${where} › ${file.name}`, found: error.problems[0]!.found, mend });
      return null;
    }
  };
  const list = await unpacked(manifest);
  for (const line of new TextDecoder('utf-8').decode(list ?? new Uint8Array(0)).split('\n')) {
    const match = /^([0-9a-f]{64}) [ *](.+)$/.exec(line);
    if (match) sums.set(match[2]!, match[1]!);
  }
  for (const [path, sum] of sums) {
    const file = files.get(path);
    if (!file) {
      lost.push({ where: `${where} › ${path}`, found: 'This member is missing.', mend });
      continue;
    }
    const contents = await unpacked(file);
    if (!contents) continue;
    if (checksumOf(contents) === sum) {
      // What can be computed again is checked, and let go.
      if (isNeeded(path)) members.set(path, contents);
    } else
      lost.push({
        where: `${where} › ${path}`,
        found: 'This member is not what it was when the book was saved.',
        mend,
      });
  }
  for (const path of files.keys())
    if (!sums.has(path) && path !== MANIFEST && !path.endsWith('/'))
      lost.push({ where: `${where} › ${path}`, found: 'The manifest does not know this member.', mend });
  return { members, lost };
}

function isNeeded(path: string): boolean {
  return (
    /^((sources|mappings|trials|attachments|scenarios)\/|readings\.csv$|[a-z-]+\.json$)/.test(path) &&
    path !== 'report.json'
  );
}

/** What a book's files give again, read as they were before: the sources that count, in their order. */
export interface BookLogs {
  /** By the place of the source in the book. */
  readonly logs: readonly (FileLog | null)[];
  readonly lost: readonly Problem[];
}

/**
 * Reads the files of a book through the mappings they were read through.
 * @throws InputError when one of them cannot be read, unless what is whole is salvaged
 */
export async function readBook(
  { sources, files, system, lost: before }: OpenedBook,
  damaged: 'refuse' | 'salvage' = 'refuse',
): Promise<BookLogs> {
  const lost: Problem[] = [...before];
  const logs: (FileLog | null)[] = [];
  for (const { path, fileName, name, mapping, leftOut } of sources) {
    try {
      const bytes = files.get(path)!;
      const { parts } = await unpack(fileName, () => once(bytes));
      const part = parts.find((one) => one.name === name);
      if (!part)
        throw new InputError([
          { where: fileName, found: `It holds no "${name}".`, mend: 'Take another copy of the book.' },
        ]);
      const read = await readPart(part, mapping, system);
      logs.push({
        ...read,
        mapping,
        log: { ...read.log, findings: [...leftOut, ...read.log.findings] },
      });
    } catch (error) {
      if (!(error instanceof InputError) || damaged === 'refuse') throw error;
      lost.push(...error.problems);
      logs.push(null);
    }
  }
  return { logs, lost };
}

/** The logs of a book that count in its figures, readings typed by hand among them, and what is told of those that are lost. */
export function logsOfBook({ sources, readings }: OpenedBook, { logs, lost }: BookLogs): SourceLog[] {
  const counting = logs.flatMap((read, i) => (read && sources[i]!.removedAt === null ? [read.log] : []));
  const byHand = readingsLog(readings);
  const all = byHand ? [...counting, byHand] : counting;
  const told: Finding[] = lost.map((problem) =>
    leftOutFinding({
      name: problem.where,
      why: problemText({ ...problem, where: '' }).replace(/^: /, ''),
      isLog: true,
    }),
  );
  const [first, ...others] = all;
  return first && told.length > 0 ? [{ ...first, findings: [...told, ...first.findings] }, ...others] : all;
}

async function* once(bytes: Uint8Array): AsyncGenerator<Uint8Array> {
  yield await Promise.resolve(bytes);
}
