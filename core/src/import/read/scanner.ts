import { dateMs, MOST_OFFSET_MINUTES } from '../../time/instant.js';
import { EARLIEST_MS, LATEST_MS } from '../../time/zone.js';
import { readClock, readTime } from './clock.js';
import { codeOf } from './faultText.js';
import { note, type Faults } from './faults.js';
import type { Layout } from './layout.js';
import { readNumber } from './number.js';
import { splitRow } from './splitRow.js';
import { BLOCK_ROWS, joined, type RawTable } from './table.js';

const LF = 10;
const CR = 13;
const QUOTE = 34;
const PLUS = 43;
const MINUS = 45;
const COLON = 58;
const DOT = 46;
const SLASH = 47;
const SPACE = 32;
const LETTER_T = 84;
const POWERS_OF_TEN = Array.from({ length: 23 }, (_, n) => 10 ** n);

/** Reads rows of a known header straight from bytes into typed columns. */
export interface Scanner {
  /**
   * Reads all whole rows of a buffer.
   * @param end position after the last line feed in the buffer
   * @returns position after the last row read; less than `end` only inside an unclosed quote
   */
  scan(bytes: Uint8Array, end: number): number;
  /** Takes one line for unreadable, as when a quote in it is never closed. */
  skipLine(sample: string): void;
  finish(name: string): RawTable;
  readonly faults: Faults;
  /** Rows whose time lies before the row above: how many, and the first line. */
  readonly backwards: { count: number; line: number };
  /** Line of the first row after the header, where every line after it is a row; undefined otherwise. */
  readonly firstLine: () => number | undefined;
  readonly rows: () => number;
}

/**
 * A scanner for one file.
 *
 * Plain rows (fixed ISO time, unquoted numbers of up to 15 digits) are read digit by digit, which is exact: an integer
 * below 2^53 divided by a power of ten up to 10^22 is correctly rounded. Every other row is split as text.
 * @param firstLine line number of the first row after the header
 */
export function scannerFor(layout: Layout, firstLine: number): Scanner {
  const { names, timeFields, format, zoned, rules, separator } = layout;
  const [timeField, clockField = -1] = timeFields as [number, number?];
  const isIsoInstant = zoned && format === 'ymd' && clockField < 0;
  const counts = format === 'unix-s' ? 1000 : format === 'unix-ms' ? 1 : 0;
  // Where the year, month and day stand among a date's groups of digits.
  const [yearAt, monthAt, dayAt] = format === 'dmy' ? [2, 1, 0] : format === 'mdy' ? [2, 0, 1] : [0, 1, 2];
  const groups = new Int32Array(6);
  const widths = new Int32Array(6);
  const { decimal } = layout;
  const dot = decimal.charCodeAt(0) - 48;
  const fields = names.length;
  const isRead = rules.map((rule) => rule !== undefined);
  const lowest = Float64Array.from(rules, (rule) => rule?.low ?? 0);
  const highest = Float64Array.from(rules, (rule) => rule?.high ?? 0);
  const scales = Float64Array.from(rules, (rule) => rule?.scale ?? 1);
  const shifts = Float64Array.from(rules, (rule) => rule?.shift ?? 0);
  const decimals = new Int32Array(fields);
  const faults: Faults = new Map();
  const texts: (Record<number, string> | undefined)[] = [];
  const backwards = { count: 0, line: 0 };
  const full: Float64Array[][] = names.map(() => []);
  const isKept = rules.map((rule, field) => rule !== undefined || field === timeField);
  const newBlocks = () => isKept.map((kept) => new Float64Array(kept ? BLOCK_ROWS : 0));
  let blocks = newBlocks();
  let at = 0;
  let rows = 0;
  let lastLine = 0;
  let line = firstLine;
  let lastTime = -Infinity;
  let dayKey = -1;
  let dayMs = 0;
  let timeEnd = 0;

  /** Epoch ms of a fixed-width ISO time at p, or NaN; `timeEnd` is set past it. */
  function fastTime(bytes: Uint8Array, p: number): number {
    if (bytes[p + 4] !== MINUS || bytes[p + 7] !== MINUS || (bytes[p + 10]! | 0x20) !== 0x74) return NaN;
    if (bytes[p + 13] !== COLON || bytes[p + 16] !== COLON) return NaN;
    const [year, month, day] = [
      two(bytes, p) * 100 + two(bytes, p + 2),
      two(bytes, p + 5),
      two(bytes, p + 8),
    ];
    const key = (year * 100 + month) * 100 + day;
    if (key !== dayKey) {
      // A new date goes the careful way once; the rows of the day then only add their clock.
      const ms = dateMs(year, month, day);
      if (Number.isNaN(ms)) return NaN;
      dayKey = key;
      dayMs = ms;
    }
    const hour = two(bytes, p + 11);
    const minute = two(bytes, p + 14);
    const second = two(bytes, p + 17);
    if (hour < 0 || hour > 23 || minute < 0 || minute > 59 || second < 0 || second > 59) return NaN;
    const ms = dayMs + (hour * 3600 + minute * 60 + second) * 1000;
    const sign = bytes[p + 19]!;
    if ((sign | 0x20) === 0x7a) {
      timeEnd = p + 20;
      return ms;
    }
    if ((sign !== MINUS && sign !== PLUS) || bytes[p + 22] !== COLON) return NaN;
    const minutes = two(bytes, p + 23);
    const offsetMinutes = two(bytes, p + 20) * 60 + minutes;
    if (minutes < 0 || minutes > 59 || offsetMinutes < 0 || offsetMinutes > MOST_OFFSET_MINUTES) return NaN;
    timeEnd = p + 25;
    return sign === MINUS ? ms + offsetMinutes * 60_000 : ms - offsetMinutes * 60_000;
  }

  /**
   * Reads a date and clock, or one of the two, written in groups of digits; `timeEnd` is set past it.
   * @param part 0 for a date with or without a clock, 3 for a clock alone
   * @returns ms, or NaN when it is written in another way: then its text is read
   */
  function groupedTime(bytes: Uint8Array, from: number, part: 0 | 3): number {
    let p = from;
    let g: number = part;
    groups.fill(0);
    for (; g < 6; g++) {
      const first = p;
      let value = 0;
      let digit = bytes[p]! - 48;
      while (digit >= 0 && digit <= 9) {
        value = value * 10 + digit;
        digit = bytes[++p]! - 48;
      }
      widths[g] = p - first;
      if (p === first) return NaN;
      groups[g] = value;
      const byte = bytes[p]!;
      if (byte === separator || byte === LF || byte === CR) break;
      const isBetween =
        g < 2
          ? byte === SLASH || byte === MINUS || byte === DOT
          : g === 2
            ? byte === SPACE || byte === LETTER_T
            : byte === COLON;
      if (!isBetween) return NaN;
      p++;
    }
    if (g === 6 || g === 0 || g === 1 || g === 3) return NaN;
    timeEnd = p;
    if (groups[3]! > 23 || groups[4]! > 59 || groups[5]! > 59) return NaN;
    const clockMs = ((groups[3]! * 60 + groups[4]!) * 60 + groups[5]!) * 1000;
    if (part === 3) return clockMs;
    const [year, month, day] = [groups[yearAt]!, groups[monthAt]!, groups[dayAt]!];
    if (widths[yearAt] !== 4 || widths[monthAt]! > 2 || widths[dayAt]! > 2) return NaN;
    const key = (year * 100 + month) * 100 + day;
    if (key !== dayKey) {
      const ms = dateMs(year, month, day);
      if (Number.isNaN(ms)) return NaN;
      dayKey = key;
      dayMs = ms;
    }
    return dayMs + clockMs;
  }

  /** Reads seconds or milliseconds since 1970. */
  function countedTime(bytes: Uint8Array, from: number): number {
    let p = from;
    let value = 0;
    let digit = bytes[p]! - 48;
    while (digit >= 0 && digit <= 9) {
      value = value * 10 + digit;
      digit = bytes[++p]! - 48;
    }
    timeEnd = p;
    return p - from < 9 || p - from > 14 ? NaN : value * counts;
  }

  /** The time of a plain row's time field, or NaN. */
  function plainTime(bytes: Uint8Array, p: number): number {
    if (isIsoInstant) return fastTime(bytes, p);
    if (counts > 0) return countedTime(bytes, p);
    return zoned || format === 'serial' ? NaN : groupedTime(bytes, p, 0);
  }

  /** Closes the row whose values stand at the end of the blocks. */
  function keep(timeMs: number): void {
    if (timeMs < lastTime && backwards.count++ === 0) backwards.line = line;
    lastTime = timeMs;
    blocks[timeField]![at] = timeMs;
    rows++;
    lastLine = line;
    if (++at < BLOCK_ROWS) return;
    full.forEach((list, f) => list.push(blocks[f]!));
    blocks = newBlocks();
    at = 0;
  }

  function takeText(given: readonly string[]): void {
    if (given.length === 1 && given[0]!.trim() === '') return;
    // A separator at the end of each row makes a field of nothing.
    const cells = given.length === fields + 1 && given[fields]!.trim() === '' ? given.slice(0, -1) : given;
    if (cells.length !== fields) {
      note(faults, 'ragged-row', line, 'the whole row', `${cells.length} fields instead of ${fields}`);
      return;
    }
    const timeMs = timeOf(cells);
    if (Number.isNaN(timeMs)) return;
    if (timeMs < EARLIEST_MS || timeMs >= LATEST_MS) {
      note(faults, 'implausible-time', line, names[timeField]!, cells[timeField]!);
    } else {
      for (let f = 0; f < fields; f++)
        if (isRead[f]) blocks[f]![at] = (numberOf(cells[f]!.trim(), f) + shifts[f]!) * scales[f]!;
      keep(timeMs);
    }
  }

  /** The time of a row of text; NaN when there is none, which is noted. */
  function timeOf(cells: readonly string[]): number {
    const text = cells[timeField]!;
    const reading = readTime(text, format);
    const clockMs = clockField < 0 ? 0 : readClock(cells[clockField]!);
    if (!reading || Number.isNaN(clockMs)) {
      const field = reading ? clockField : timeField;
      note(faults, 'unreadable-time', line, names[field]!, cells[field]!);
      return NaN;
    }
    const { ms, offsetMs } = reading;
    if (zoned && offsetMs === null) {
      note(faults, 'no-offset', line, names[timeField]!, text);
      return NaN;
    }
    return ms + clockMs - (zoned ? offsetMs! : 0);
  }

  function numberOf(cell: string, f: number): number {
    if (cell === '') return NaN;
    const number = readNumber(cell, decimal);
    if (number) {
      const { value } = number;
      if (value >= lowest[f]! && value <= highest[f]!) {
        decimals[f] = Math.max(decimals[f]!, number.decimals);
        return value;
      }
      note(faults, 'beyond-range', line, names[f]!, `${cell} ${rules[f]!.unit}`);
      return NaN;
    }
    if (rules[f]!.quantity === 'fault') return codeOf(cell, (texts[f] ??= {}));
    note(faults, 'not-a-number', line, names[f]!, cell);
    return NaN;
  }

  /** Reads the plain row at p; returns the position after it, or -1 when it is not plain, or not right. */
  function plainRow(bytes: Uint8Array, from: number): number {
    let p = from;
    let timeMs = NaN;
    let clockMs = 0;
    for (let f = 0; f < fields; f++) {
      if (f === timeField) {
        timeMs = plainTime(bytes, p);
        if (!(timeMs >= EARLIEST_MS && timeMs < LATEST_MS)) return -1;
        p = timeEnd;
      } else if (f === clockField) {
        clockMs = groupedTime(bytes, p, 3);
        if (Number.isNaN(clockMs)) return -1;
        p = timeEnd;
      } else if (isRead[f]) {
        const negative = bytes[p] === MINUS;
        if (negative) p++;
        const first = p;
        let value = 0;
        let digit = bytes[p]! - 48;
        while (digit >= 0 && digit <= 9) {
          value = value * 10 + digit;
          digit = bytes[++p]! - 48;
        }
        let digits = p - first;
        if (digit === dot) {
          const point = p;
          digit = bytes[++p]! - 48;
          while (digit >= 0 && digit <= 9) {
            value = value * 10 + digit;
            digit = bytes[++p]! - 48;
          }
          const places = p - point - 1;
          digits += places;
          if (digits > 15) return -1;
          value /= POWERS_OF_TEN[places]!;
          if (places > decimals[f]!) decimals[f] = places;
        }
        if (digits === 0) {
          if (p > from && bytes[p - 1] !== separator) return -1;
          value = NaN;
        } else {
          if (negative) value = -value;
          if (digits > 15 || value < lowest[f]! || value > highest[f]!) return -1;
        }
        blocks[f]![at] = (value + shifts[f]!) * scales[f]!;
      } else {
        let byte = bytes[p]!;
        while (byte !== separator && byte !== LF && byte !== CR) {
          if (byte === QUOTE) return -1;
          byte = bytes[++p]!;
        }
      }
      if (f < fields - 1 && bytes[p++] !== separator) return -1;
    }
    if (bytes[p] === CR) p++;
    if (bytes[p] !== LF) return -1;
    keep(timeMs + clockMs);
    return p + 1;
  }

  return {
    faults,
    backwards,
    firstLine: () => (lastLine - firstLine === rows - 1 ? firstLine : undefined),
    rows: () => rows,
    scan(bytes, end) {
      let p = 0;
      while (p < end) {
        if (bytes[p] === LF) {
          p++;
          line++;
          continue;
        }
        const plain = plainRow(bytes, p);
        if (plain > 0) {
          p = plain;
          line++;
          continue;
        }
        const split = splitRow(bytes, p, end, separator);
        if (!split) return p;
        takeText(split.cells);
        line += split.lines;
        p = split.next;
      }
      return p;
    },
    skipLine(sample) {
      note(faults, 'ragged-row', line, 'the whole row', sample);
      line++;
    },
    finish(name) {
      full.forEach((list, f) => list.push(blocks[f]!));
      const resolution = (f: number) => Math.abs(scales[f]!) / POWERS_OF_TEN[Math.min(decimals[f]!, 22)]!;
      return {
        name,
        rows,
        timeMs: joined(full[timeField]!, rows),
        columns: rules.flatMap((rule, f) => {
          if (!rule) return [];
          const column = { rule, values: joined(full[f]!, rows), resolution: resolution(f) };
          return [texts[f] ? { ...column, texts: texts[f] } : column];
        }),
      };
    },
  };
}

/** Two decimal digits at p; negative or above 99 where they are none. */
function two(bytes: Uint8Array, p: number): number {
  const tens = bytes[p]! - 48;
  const ones = bytes[p + 1]! - 48;
  return tens < 0 || tens > 9 || ones < 0 || ones > 9 ? -1e9 : tens * 10 + ones;
}
