import { InputError } from '../../model/problem.js';
import type { Layout } from './layout.js';
import { scannerFor, type Scanner } from './scanner.js';
import { refuseStrangers } from './sniff.js';
import { splitRow } from './splitRow.js';
import { MOST_VALUES, type RawTable } from './table.js';

const LF = 10;
const UTF8_MARK = [0xef, 0xbb, 0xbf];
/** A row of a log is some hundred bytes; a longer stretch without a line end is not a table. */
const LONGEST_LINE = 1 << 20;
/** A quote that stays open for longer was never meant as one. */
const LONGEST_QUOTE = 1 << 16;

/** Where the rows of a text begin and how they are laid out. */
export interface Plan {
  /** Line that names the columns, from 1; 0 when none does; null: the first that is not blank. */
  readonly headerLine: number | null;
  /** Lines between the names and the first row. */
  readonly skipLines: number;
  readonly separator: number;
  readonly layoutOf: (names: readonly string[]) => Layout;
}

/** What stands in a file before it is put on a grid. */
export interface ReadRows {
  readonly table: RawTable;
  readonly scanner: Scanner;
  readonly layout: Layout;
}

/**
 * Reads the rows of a text as its bytes come in.
 * @param name file name, for messages
 * @param chunks UTF-8; throwing from this iterable is how a door cancels
 * @throws InputError when nothing in it can be used
 */
export async function readRows(
  name: string,
  chunks: AsyncIterable<Uint8Array>,
  plan: Plan,
): Promise<ReadRows> {
  const reader = rowReader(name, plan);
  let rest: Uint8Array = new Uint8Array(0);
  let first = true;
  for await (const chunk of chunks) {
    if (chunk.length === 0) continue;
    if (first) refuseStrangers(chunk, name);
    first = false;
    const bytes = concatenate(rest, chunk);
    const read = reader.take(bytes, bytes.lastIndexOf(LF) + 1);
    if (bytes.length - read > LONGEST_LINE) {
      const found = 'There is no line end within the first million characters of a row.';
      throw new InputError([{ where: name, found, mend: 'Bring the log as CSV text with one row a line.' }]);
    }
    rest = bytes.slice(read);
  }
  if (first) refuseStrangers(rest, name);
  reader.takeLast(concatenate(rest, new Uint8Array([LF])));
  return reader.finish();
}

/** Takes bytes row by row: what stands above the names is passed over, all below them is data. */
function rowReader(name: string, { headerLine, skipLines, separator, layoutOf }: Plan) {
  const state: { layout: Layout | null; scanner: Scanner | null; line: number; skip: number } = {
    layout: null,
    scanner: null,
    line: 1,
    skip: skipLines,
  };

  /** Passes over what is not data at the head; returns where it came to, or null when more bytes are needed. */
  function takeHead(bytes: Uint8Array, from: number, end: number): number | null {
    let at = from;
    while (at < end) {
      if (state.layout ? state.skip > 0 : headerLine !== null && state.line < headerLine) {
        at = bytes.indexOf(LF, at) + 1;
        state.line++;
        if (state.layout) state.skip--;
        continue;
      }
      if (state.layout) {
        state.scanner = scannerFor(state.layout, state.line);
        return at;
      }
      const row = splitRow(bytes, at, end, separator);
      if (!row) return null;
      const isBlank = row.cells.every((cell) => cell.trim() === '');
      if (headerLine === 0 && !isBlank) {
        state.layout = layoutOf(row.cells.map((_, field) => `column ${field + 1}`));
        continue;
      }
      at = row.next;
      state.line += row.lines;
      if (!isBlank) state.layout = layoutOf(row.cells);
    }
    return null;
  }

  /** Reads whole rows up to `end`, which is behind a line end; returns how far it came. */
  function take(bytes: Uint8Array, end: number): number {
    let at = state.line === 1 && UTF8_MARK.every((byte, i) => bytes[i] === byte) ? 3 : 0;
    if (!state.scanner) {
      // The head is short: it is gone through again when more of it has come.
      const before = { ...state };
      const head = takeHead(bytes, at, end);
      if (head === null) {
        if (end === bytes.length && bytes.length > LONGEST_LINE) return end;
        Object.assign(state, before);
        return 0;
      }
      at = head;
    }
    const scanner = state.scanner!;
    if (at >= end) return at;
    at += scanner.scan(bytes.subarray(at, end), end - at);
    const values = scanner.rows() * (1 + state.layout!.rules.filter(Boolean).length);
    if (values > MOST_VALUES) {
      const found = `The log holds more than ${MOST_VALUES / 1e6} million values.`;
      throw new InputError([{ where: name, found, mend: 'Bring it in parts, or with a longer step.' }]);
    }
    while (end - at > LONGEST_QUOTE) at = skipOpenQuote(scanner, bytes, at, end);
    return at;
  }

  return {
    take,
    /** Takes the end of the file, in which a quote can no longer be closed. */
    takeLast(bytes: Uint8Array): void {
      let at = take(bytes, bytes.length);
      while (state.scanner && at < bytes.length) at = skipOpenQuote(state.scanner, bytes, at, bytes.length);
      if (!state.scanner) takeHead(bytes, 0, bytes.length);
    },
    finish(): ReadRows {
      const { scanner, layout } = state;
      if (!scanner || !layout || scanner.rows() === 0) throw nothingRead(name, scanner, layout !== null);
      return { table: scanner.finish(name), scanner, layout };
    },
  };
}

/** Gives up the line of a quote that is never closed, and goes on behind it. */
function skipOpenQuote(scanner: Scanner, bytes: Uint8Array, from: number, end: number): number {
  scanner.skipLine('a quote that is never closed');
  const next = bytes.indexOf(LF, from) + 1;
  return next + scanner.scan(bytes.subarray(next, end), end - next);
}

function nothingRead(where: string, scanner: Scanner | null, named: boolean): InputError {
  const faults = scanner ? [...scanner.faults.values()] : [];
  if (faults.length === 0) {
    const found = named ? 'There is a header row but no row of data.' : 'There is no header row.';
    return new InputError([{ where, found, mend: 'Download the log again, for a range that has data.' }]);
  }
  return new InputError(
    faults.map(({ kind, line, column, sample, count }) => ({
      where,
      line,
      column,
      found: `No row can be used; ${count} of them like this: ${sample}.`,
      mend:
        kind === 'no-offset'
          ? 'Write each time with its UTC offset or Z, for example 2024-06-30T12:00:00+12:00.'
          : 'Write each time in ISO 8601 with offset or Z, and as many fields in each row as the header has.',
    })),
  );
}

function concatenate(a: Uint8Array, b: Uint8Array): Uint8Array {
  if (a.length === 0) return b;
  const both = new Uint8Array(a.length + b.length);
  both.set(a);
  both.set(b, a.length);
  return both;
}
