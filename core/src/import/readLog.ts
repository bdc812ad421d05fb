import type { Finding } from '../model/finding.js';
import { interpret } from './merge/interpret.js';
import { placeOnGrid } from './merge/placeOnGrid.js';
import { InputError, type Problem } from '../model/problem.js';
import { recognise, recogniseCanonical, recogniseTotals, type Recognition } from './recognise/recognise.js';
import type { SourceLog } from '../model/log.js';
import type { System } from '../system/schema.js';
import { dialectOf } from './read/dialect.js';
import { MOST_COLUMNS, tooManyColumns } from './read/jsonRows.js';
import { findingsOfReading } from './read/findings.js';
import { canonicalLayout, mappedLayout, sameName } from './read/layout.js';
import { isPeriodFormat, type Mapping } from './read/mapping.js';
import { readStatement } from './read/statement.js';
import { readRows, type Plan } from './read/readRows.js';
import { refuseStrangers } from './read/sniff.js';
import { splitRow } from './read/splitRow.js';
import { isTotals, readTotals } from './read/totals.js';
import { refused, unpack, type LeftOut, type Open, type Part } from './read/unpack.js';

declare const TextEncoder: new () => { encode(text: string): Uint8Array };
declare const TextDecoder: new (label: string) => { decode(bytes: Uint8Array): string };

/** So much of a text is looked at to recognise it. */
const SAMPLE_BYTES = 2 << 20;
/** A file of totals is short, and read whole. */
const MOST_TOTALS = 100 << 20;

/** One text of a file: how it is read. `mapping` is null for a canonical log, which needs none. */
export interface Survey {
  readonly part: Part;
  readonly mapping: Mapping | null;
  readonly recognition: Recognition;
  /** Why it cannot be read as it is; its owner may still say what its columns are. */
  readonly refusal?: InputError;
}

/** A log as read, and how many rows it took. */
export interface ReadLog {
  readonly log: SourceLog;
  readonly rows: number;
}

/** A log with the mapping it was read through; null for a canonical log. */
export interface FileLog extends ReadLog {
  readonly mapping: Mapping | null;
}

/** What is in a file: the texts that can be read, each with how, and everything else with why it is left out. */
export interface FileSurvey {
  readonly surveys: readonly Survey[];
  readonly leftOut: readonly LeftOut[];
}

/**
 * Looks at a file: what texts are in it and how each is to be read.
 * @param open its bytes; throwing from there is how a door cancels
 * @throws InputError when there is no table in it
 */
export async function surveyFile(name: string, open: Open, system: System): Promise<FileSurvey> {
  const { parts, leftOut } = await unpack(name, open);
  return surveyParts(name, parts, leftOut, system);
}

async function surveyParts(
  where: string,
  parts: readonly Part[],
  packed: readonly LeftOut[],
  system: System,
): Promise<FileSurvey> {
  const surveys: Survey[] = [];
  const leftOut = [...packed];
  for (const part of parts) {
    try {
      const survey = await surveyPart(part, system);
      // Of several files in one only those that are understood are logs.
      if (survey.refusal && part.name !== where) throw survey.refusal;
      surveys.push(survey);
    } catch (error) {
      // Of an archive what is no log is told and passed over, as long as something is one.
      if (!(error instanceof InputError) || part.name === where) throw error;
      leftOut.push(refused(part.name, error));
    }
  }
  if (surveys.length > 0) return { surveys, leftOut };
  const told = leftOut.slice(0, 5).map(({ name, why }) => ({
    where: name,
    found: `This is no log. ${why}`,
    mend: 'Bring a log with a row for each interval.',
  }));
  const found = 'There is no table in the file.';
  throw new InputError(
    told.length > 0 ? told : [{ where, found, mend: 'Bring a log with a row for each interval.' }],
  );
}

async function surveyPart(part: Part, system: System): Promise<Survey> {
  const bytes = await sampleBytes(part.open);
  refuseStrangers(bytes, part.name);
  const text = new TextDecoder('utf-8').decode(bytes);
  const { name: where } = part;
  const head = headOf(bytes);
  const width = head.rows[0]?.length ?? 0;
  if (width > MOST_COLUMNS) throw tooManyColumns(where, width);
  const canonical = recogniseCanonical(head.rows, head.line) ?? recogniseTotals(head.rows, head.line);
  if (canonical) return { part, mapping: null, recognition: canonical };
  const dialect = dialectOf(text);
  if (!dialect) throw nothingRead(where, text);
  if (dialect.names.length > MOST_COLUMNS) throw tooManyColumns(where, dialect.names.length);
  const recognition = recognise(dialect, system);
  if ('lacks' in recognition) {
    const list = recognition.names.map((name) => `"${name.slice(0, 30)}"`);
    const names = `the columns are ${list.slice(0, 12).join(', ')}${list.length > 12 ? ', …' : ''}.`;
    const refusal = new InputError([
      recognition.lacks === 'time'
        ? {
            where,
            line: Math.max(1, dialect.headerLine),
            found: `There is no time column: ${names}`,
            mend: 'Each row needs the date and time of its interval, best in a column named "time".',
          }
        : {
            where,
            line: Math.max(1, dialect.headerLine),
            found: `No quantity is recognised: ${names}`,
            mend: 'Name at least one column solar_w, load_w, grid_w, battery_w or soc_pct, or bring a mapping.',
          },
    ]);
    return { part, mapping: recognition.open.mapping, recognition: recognition.open, refusal };
  }
  return { part, mapping: recognition.mapping, recognition };
}

const HEAD_ROWS = 200;

/** The first rows between commas, from the first line that is not blank. */
function headOf(bytes: Uint8Array): { rows: string[][]; line: number } {
  const rows: string[][] = [];
  let line = 0;
  let at = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : 0;
  while (at < bytes.length && rows.length < HEAD_ROWS) {
    const row = splitRow(bytes, at, bytes.length);
    if (!row) break;
    const isBlank = row.cells.every((cell) => cell.trim() === '');
    if (rows.length === 0) line += 1;
    if (!isBlank) rows.push([...row.cells]);
    at = row.next;
  }
  return { rows, line: Math.max(1, line) };
}

/** The first bytes of a text, up to so many. */
async function bytesIn(open: Open, most: number): Promise<Uint8Array> {
  const chunks: Uint8Array[] = [];
  let size = 0;
  for await (const chunk of open()) {
    chunks.push(chunk);
    size += chunk.length;
    if (size >= most) break;
  }
  const bytes = new Uint8Array(Math.min(size, most));
  let at = 0;
  for (const chunk of chunks) {
    const part = chunk.subarray(0, bytes.length - at);
    bytes.set(part, at);
    at += part.length;
  }
  return bytes;
}

async function sampleBytes(open: Open): Promise<Uint8Array> {
  const bytes = await bytesIn(open, SAMPLE_BYTES);
  // The last line may be cut in two; of a file that is all one line it is all there is.
  const cut = bytes.length < SAMPLE_BYTES ? bytes.length : bytes.lastIndexOf(10) + 1;
  return bytes.subarray(0, cut || bytes.length);
}

/** What is wrong with a text in which no table is found, told as the reading of its rows would. */
function nothingRead(where: string, text: string): InputError {
  const lines = text.split(/\r?\n/).filter((line) => line.trim() !== '');
  if (lines.length > 0 && lines.every((line) => line.length > 1_000_000))
    return new InputError([
      {
        where,
        found: 'There is no line end within the first million characters of a row.',
        mend: 'Bring the log as CSV text with one row a line.',
      },
    ]);
  if (lines.length === 1) {
    return new InputError([
      {
        where,
        found: 'There is a header row but no row of data.',
        mend: 'Download the log again, for a range that has data.',
      },
    ]);
  }
  const found = `No row holds a time and a number beside it; the first lines are ${lines
    .slice(0, 3)
    .map((line) => `"${line.slice(0, 60)}"`)
    .join(', ')}.`;
  return new InputError([
    {
      where,
      line: 1,
      found,
      mend: 'Bring a table with a row for each interval: a time, and quantities as plain numbers.',
    },
  ]);
}

/**
 * Reads one text of a file whole.
 * @param mapping how it is read; null for a canonical log
 * @throws InputError when nothing in it can be used
 */
export async function readPart(part: Part, mapping: Mapping | null, system: System): Promise<ReadLog> {
  if (!mapping && isTotals(headOf(await bytesIn(part.open, SAMPLE_BYTES)).rows[0] ?? []))
    return readTotals(part.name, await bytesIn(part.open, MOST_TOTALS));
  if (mapping && isPeriodFormat(mapping.time.format))
    return readStatement(part.name, await bytesIn(part.open, MOST_TOTALS), mapping, system.timeZone);
  const { table, scanner, layout } = await readRows(part.name, part.open(), planOf(mapping, part.name));
  const time = mapping?.time ?? { columns: ['time'], format: 'ymd', zone: 'offset', marks: 'start' };
  const { table: rows, lumps, states, findings } = interpret(table, { time }, system.timeZone);
  const log = placeOnGrid(rows, lumps, states);
  // A wall clock that is put back makes the time go backwards once a year without a row out of order.
  const years = Math.ceil((log.count * log.stepMs) / (300 * 86_400_000));
  const putBack = findings.some(({ code }) => code === 'clock-repeats') && scanner.backwards.count <= years;
  const met = findingsOfReading(part.name, scanner, layout.ignored);
  const firstLine = scanner.firstLine();
  return {
    log: {
      ...log,
      ...(firstLine !== undefined && table.rows === log.count && scanner.backwards.count === 0
        ? { firstLine }
        : {}),
      findings: [
        ...met.filter(({ code }) => !putBack || code !== 'unordered-rows'),
        ...findings,
        ...log.findings,
      ],
    },
    rows: table.rows,
  };
}

function planOf(mapping: Mapping | null, name: string): Plan {
  if (!mapping)
    return {
      headerLine: null,
      skipLines: 0,
      separator: 44,
      layoutOf: (names) => canonicalLayout(names, name),
    };
  const { headerLine, skipLines, separator } = mapping.table;
  return {
    headerLine,
    skipLines,
    separator: separator.charCodeAt(0),
    layoutOf: (names) => mappedLayout(mapping, names, name),
  };
}

/**
 * Reads a file without anyone to ask: every text in it through the first mapping that fits it, else as it is recognised.
 * @param mappings one fits when the text names its time and at least one of its columns where the mapping says
 * @throws InputError when something in it stays open that only its owner can answer, or nothing can be used
 */
export async function readFile(
  name: string,
  open: Open,
  system: System,
  mappings: readonly Mapping[] = [],
): Promise<FileLog[]> {
  const logs: FileLog[] = [];
  const others: Part[] = [];
  const { parts, leftOut: packed } = await unpack(name, open);
  for (const part of parts) {
    const mapping = await fittingMapping(part, mappings);
    if (mapping) logs.push({ ...(await readPart(part, mapping, system)), mapping });
    else others.push(part);
  }
  if (logs.length > 0 && others.length === 0) return toldOf(logs, packed);
  const { surveys, leftOut } = await surveyParts(name, others, packed, system);
  for (const { refusal } of surveys) if (refusal) throw refusal;
  const questions = surveys.flatMap(questionsOf);
  if (questions.length > 0) throw new InputError(questions);
  for (const { part, mapping } of surveys) logs.push({ ...(await readPart(part, mapping, system)), mapping });
  return toldOf(logs, leftOut);
}

/** Logs of one file, the first with what was left out of it among its findings. */
function toldOf([first, ...others]: readonly FileLog[], leftOut: readonly LeftOut[]): FileLog[] {
  const { log } = first!;
  return [
    { ...first!, log: { ...log, findings: [...leftOut.map(leftOutFinding), ...log.findings] } },
    ...others,
  ];
}

/** What is told of a file within a file that is not read. */
export function leftOutFinding({ name, why, isLog }: LeftOut): Finding {
  return {
    code: LEFT_OUT,
    severity: isLog ? 'warning' : 'note',
    fromMs: null,
    toMs: null,
    message: `${name} is not read: ${why}`,
    source: name,
    kWh: null,
  };
}

/** Code of the findings that {@link leftOutFinding} gives. */
export const LEFT_OUT = 'left-out';

/** What of a text stays open, as problems that say how to answer them. */
function questionsOf({ part, recognition }: Survey): Problem[] {
  return recognition.conclusions
    .filter(({ asks }) => asks)
    .map(({ about, says, evidence }) => ({
      where: part.name,
      found: `${about.replace('column:', 'Column ')} may be ${says}, but ${evidence.at(-1)!}.`,
      mend: 'Run "tally detect" on the file, answer in the mapping it prints, and give that with --map.',
    }));
}

/** The first mapping whose time and at least one of whose columns a text names; a text without names is told by its first cell. */
async function fittingMapping(part: Part, mappings: readonly Mapping[]): Promise<Mapping | undefined> {
  if (mappings.length === 0) return undefined;
  const text = new TextDecoder('utf-8').decode(await sampleBytes(part.open));
  const lines = text.replace(/^\uFEFF/, '').split(/\r?\n/);
  return mappings.find(({ table, time, columns }) => {
    if (table.headerLine === 0) return /^\W*\d/.test(lines[0]!);
    const line = new TextEncoder().encode(lines[table.headerLine - 1] ?? '');
    const names = splitRow(line, 0, line.length, table.separator.charCodeAt(0))?.cells ?? [];
    const has = (column: string) => names.some((name) => sameName(name, column));
    return time.columns.every(has) && columns.some(({ column }) => has(column));
  });
}
