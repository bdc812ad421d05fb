import { interpret } from './merge/interpret.js';
import { placeOnGrid } from './merge/placeOnGrid.js';
import { InputError, type Problem } from './problem.js';
import { recognise, recogniseCanonical, type Recognition } from './recognise/recognise.js';
import type { SourceLog } from './series/log.js';
import type { System } from './system/schema.js';
import { dialectOf } from './read/dialect.js';
import { findingsOfReading } from './read/findings.js';
import { canonicalLayout, mappedLayout, sameName } from './read/layout.js';
import type { Mapping } from './read/mapping.js';
import { readRows, type Plan } from './read/readRows.js';
import { refuseStrangers } from './read/sniff.js';
import { splitRow } from './read/splitRow.js';
import { unpack, type Open, type Part } from './read/unpack.js';

declare const TextEncoder: new () => { encode(text: string): Uint8Array };
declare const TextDecoder: new (label: string) => { decode(bytes: Uint8Array): string };

/** So much of a text is looked at to recognise it. */
const SAMPLE_BYTES = 2 << 20;

/** No home's log has more. */
const MOST_COLUMNS = 500;

/** One text of a file: how it is read. `mapping` is null for a canonical log, which needs none. */
export interface Survey {
  readonly part: Part;
  readonly mapping: Mapping | null;
  readonly recognition: Recognition;
}

/** A log as read, and how many rows it took. */
export interface ReadLog {
  readonly log: SourceLog;
  readonly rows: number;
}

/**
 * Looks at a file: what texts are in it and how each is to be read.
 * @param open its bytes; throwing from there is how a door cancels
 * @throws InputError when there is no table in it, or no time, or nothing known
 */
export async function surveyFile(name: string, open: Open, system: System): Promise<Survey[]> {
  return surveyParts(name, await unpack(name, open), system);
}

async function surveyParts(name: string, parts: readonly Part[], system: System): Promise<Survey[]> {
  const surveys: Survey[] = [];
  const refusals: InputError[] = [];
  for (const part of parts) {
    try {
      surveys.push(await surveyPart(part, system));
    } catch (error) {
      // Of an archive what is no log is passed over, as long as something is one.
      if (!(error instanceof InputError)) throw error;
      refusals.push(error);
    }
  }
  if (surveys.length === 0)
    throw (
      refusals[0] ??
      new InputError([
        {
          where: name,
          found: 'There is no table in the file.',
          mend: 'Bring a log with a row for each interval.',
        },
      ])
    );
  return surveys;
}

async function surveyPart(part: Part, system: System): Promise<Survey> {
  const bytes = await sampleBytes(part.open);
  refuseStrangers(bytes, part.name);
  const text = new TextDecoder('utf-8').decode(bytes);
  const { name: where } = part;
  const head = headOf(bytes);
  const canonical = recogniseCanonical(head.rows, head.line);
  if (canonical) return { part, mapping: null, recognition: canonical };
  const dialect = dialectOf(text);
  if (!dialect) throw nothingRead(where, text);
  if (dialect.names.length > MOST_COLUMNS) {
    const found = `The table has ${dialect.names.length} columns; at most ${MOST_COLUMNS} are read.`;
    throw new InputError([{ where, found, mend: 'Bring the columns of the home alone.' }]);
  }
  const recognition = recognise(dialect, system);
  if ('lacks' in recognition) {
    const list = recognition.names.map((name) => `"${name.slice(0, 30)}"`);
    const names = `the columns are ${list.slice(0, 12).join(', ')}${list.length > 12 ? ', …' : ''}.`;
    throw new InputError([
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

async function sampleBytes(open: Open): Promise<Uint8Array> {
  const chunks: Uint8Array[] = [];
  let size = 0;
  for await (const chunk of open()) {
    chunks.push(chunk);
    size += chunk.length;
    if (size >= SAMPLE_BYTES) break;
  }
  const bytes = new Uint8Array(Math.min(size, SAMPLE_BYTES));
  let at = 0;
  for (const chunk of chunks) {
    const part = chunk.subarray(0, bytes.length - at);
    bytes.set(part, at);
    at += part.length;
  }
  // The last line may be cut in two; of a file that is all one line it is all there is.
  const cut = size > SAMPLE_BYTES ? bytes.lastIndexOf(10) + 1 : bytes.length;
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
  const { table, scanner, layout } = await readRows(part.name, part.open(), planOf(mapping, part.name));
  const time = mapping?.time ?? { columns: ['time'], format: 'ymd', zone: 'offset', marks: 'start' };
  const { table: rows, lumps, findings } = interpret(table, { time }, system.timeZone);
  const log = placeOnGrid(rows, lumps);
  // A wall clock that is put back makes the time go backwards once a year without a row out of order.
  const years = Math.ceil((log.count * log.stepMs) / (300 * 86_400_000));
  const putBack = findings.some(({ code }) => code === 'clock-repeats') && scanner.backwards.count <= years;
  const met = findingsOfReading(part.name, scanner, layout.ignored);
  return {
    log: {
      ...log,
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
): Promise<ReadLog[]> {
  const logs: ReadLog[] = [];
  const others: Part[] = [];
  const parts = await unpack(name, open);
  for (const part of parts) {
    const mapping = await fittingMapping(part, mappings);
    if (mapping) logs.push(await readPart(part, mapping, system));
    else others.push(part);
  }
  if (others.length === 0 && parts.length > 0) return logs;
  const surveys = await surveyParts(name, others, system);
  const questions = surveys.flatMap(questionsOf);
  if (questions.length > 0) throw new InputError(questions);
  for (const { part, mapping } of surveys) logs.push(await readPart(part, mapping, system));
  return logs;
}

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
