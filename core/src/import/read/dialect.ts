import { readClock, readTime } from './clock.js';
import { isPeriod, isYear } from './period.js';
import type { Mapping } from './mapping.js';
import { decimalsOf, readNumber, type DecimalSign } from './number.js';
import { splitRow } from './splitRow.js';

declare const TextEncoder: new () => { encode(text: string): Uint8Array };

type Separator = Mapping['table']['separator'];

/** How a text is cut into cells, and a sample of its rows. */
export interface Dialect {
  readonly separator: Separator;
  readonly decimal: DecimalSign;
  /** A number that may be read with either sign before its decimals; empty where the rows tell. */
  readonly openNumber: string;
  /** From 1; 0 when no line names the columns. */
  readonly headerLine: number;
  readonly skipLines: number;
  readonly names: readonly string[];
  /** The unit row's cells, empty where there is none. */
  readonly units: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

/** A comma may be a decimal; the others are separators whenever they cut every line alike. */
const SEPARATORS: readonly Separator[] = ['\t', ';', '|', ','];
const JUDGED_LINES = 400;
const MOST_ROWS = 15_000;
const NUMBERS_JUDGED = 2000;
/** No time is written longer; no pattern runs on what is. */
const LONGEST_TIME = 64;
const UNIT_CELL =
  /^[[(]?\s*(?:[kM]?Wh?|[kM]?VAh?|VA|%|m?V|m?A|Ah|Hz|°?\s?[CF]|yyyy.*|dd.*|hh.*|h|s|-)?\s*[\])]?$/i;
const DATE =
  /^\p{L}{0,9}\.?,?\s*\d{1,4}\s*[-/. ]\s*(?:\d{1,2}|\p{L}{3,9})\.?\s*[-/., ]\s*\d{1,4}|^(?:\p{L}+,?\s+)?\p{L}{3,9}\.?\s+\d{1,2},?\s+\d{4}/u;

/**
 * Finds the separator, the decimal sign and the line that names the columns.
 * @param text the beginning of a file, cut at a line end unless it is the whole
 * @returns null when it is no table: no separator cuts its lines alike, or no row holds a time and a number
 */
export function dialectOf(text: string): Dialect | null {
  const bytes = new TextEncoder().encode(text.replace(/^\uFEFF/, ''));
  for (const separator of SEPARATORS) {
    const head = rowsOf(bytes, separator, JUDGED_LINES);
    // A separator at the end of each row makes a field of nothing; an empty last cell is one.
    for (const widthOf of [wholeWidth, strippedWidth]) {
      const width = usualWidth(head, widthOf);
      if (width < 2 || !withHeader(head, width, widthOf, separator)) continue;
      return withHeader(rowsOf(bytes, separator, MOST_ROWS), width, widthOf, separator);
    }
  }
  return null;
}

interface Line {
  readonly cells: readonly string[];
  /** Line of the file on which it begins, from 1. */
  readonly line: number;
}

function rowsOf(bytes: Uint8Array, separator: Separator, most: number): Line[] {
  const rows: Line[] = [];
  let line = 1;
  for (let at = 0; at < bytes.length && rows.length < most;) {
    const row = splitRow(bytes, at, bytes.length, separator.charCodeAt(0)) ?? lineAt(bytes, at);
    if (row.next - at > 2) rows.push({ cells: row.cells.map((cell) => cell.trim()), line });
    line += row.lines;
    at = row.next;
  }
  return rows;
}

/** A line with a quote that is never closed. */
function lineAt(bytes: Uint8Array, at: number) {
  const end = bytes.indexOf(10, at);
  return { cells: [''], next: end < 0 ? bytes.length : end + 1, lines: 1 };
}

/** The number of fields most rows have; 0 when fewer than three of four agree. Titles and footers are few. */
function usualWidth(rows: readonly Line[], widthOf: WidthOf): number {
  const concluded = rows.filter(({ cells }) => cells.some((cell) => cell !== '')).slice(0, JUDGED_LINES);
  const counts = new Map<number, number>();
  for (const { cells } of concluded) counts.set(widthOf(cells), (counts.get(widthOf(cells)) ?? 0) + 1);
  const [width = 0, count = 0] = [...counts].sort(([, a], [, b]) => b - a)[0] ?? [];
  return count >= 0.6 * concluded.length || count >= 20 ? width : 0;
}

type WidthOf = (cells: readonly string[]) => number;

const wholeWidth: WidthOf = (cells) => cells.length;
const strippedWidth: WidthOf = (cells) => (cells.at(-1) === '' ? cells.length - 1 : cells.length);

function withHeader(
  lines: readonly Line[],
  width: number,
  widthOf: WidthOf,
  separator: Separator,
): Dialect | null {
  const whole = lines.map(({ cells, line }) => ({
    cells: widthOf(cells) < width ? cells : cells.slice(0, Math.max(width, widthOf(cells))),
    line,
  }));
  const first = whole.findIndex(
    ({ cells }, i) => isData(cells, width) || isYearRow(cells, whole[i - 1]?.cells),
  );
  if (first < 0) return null;
  const above = whole.slice(0, first).filter(({ cells }) => cells.length >= width - 1 && cells.length > 1);
  let header = above.at(-1);
  let units: readonly string[] = [];
  if (header && above.length > 1 && isUnitRow(header.cells)) {
    units = header.cells;
    header = above.at(-2)!;
  }
  const data = whole.slice(first).filter(({ cells }) => cells.length >= width);
  const rows = data.map(({ cells }) => cells);
  const fields = Math.max(header?.cells.length ?? 0, width);
  const concluded = rows.slice(0, NUMBERS_JUDGED);
  const columns = Array.from({ length: fields }, (_, f) => concluded.map((cells) => cells[f] ?? ''));
  const decimals = decimalsOf(columns, separator);
  return {
    separator,
    decimal: decimals.sign,
    openNumber: decimals.asks ? decimals.example : '',
    headerLine: header?.line ?? 0,
    skipLines: header ? whole[first]!.line - header.line - 1 : 0,
    names: Array.from({ length: fields }, (_, f) => (header ? (header.cells[f] ?? '') : `column ${f + 1}`)),
    units: Array.from({ length: fields }, (_, f) => units[f] ?? ''),
    rows,
  };
}

/** True for a row with a time, or the parts of one, and at least one number beside it. */
function isData(cells: readonly string[], width: number): boolean {
  if (cells.length < width) return false;
  const times = cells.filter((cell) => isTime(cell) || isPeriod(cell)).length;
  const numbers = cells.filter((cell) => readNumber(cell, '.') ?? readNumber(cell, ',')).length;
  const counts = cells.some((cell) => /^(?:\d{10}|\d{13}|[34]\d{4}(?:[.,]\d{1,20})?)$/.test(cell));
  return (times > 0 && numbers > 0) || (counts && numbers > 1);
}

/** True for a row of a year and its numbers, under a header that says so. */
function isYearRow(cells: readonly string[], above: readonly string[] | undefined): boolean {
  const year = cells.findIndex(isYear);
  return year >= 0 && /year|jahr|ano|anno|ann[ée]e|leto|period/i.test(above?.[year] ?? '');
}

/** True for a cell that holds a date, with or without a clock. */
export function isTime(cell: string): boolean {
  if (cell.length > LONGEST_TIME) return false;
  if (DATE.test(cell))
    return (['ymd', 'dmy', 'mdy'] as const).some((format) => readTime(cell, format) !== null);
  return /^\d{8}(?:[T _-]?\d{4})?/.test(cell) && readTime(cell, 'ymd') !== null;
}

/** True for a cell that holds a time of day alone. */
export function isClock(cell: string): boolean {
  return (
    cell.length <= LONGEST_TIME &&
    /[:.h]/.test(cell) &&
    !/^[\d.]+$/.test(cell) &&
    !Number.isNaN(readClock(cell))
  );
}

function isUnitRow(cells: readonly string[]): boolean {
  const named = cells.filter((cell) => cell !== '');
  return named.length > 0 && named.filter((cell) => UNIT_CELL.test(cell)).length >= 0.6 * named.length;
}
