import { dateMs, offsetMsOf } from '../../time/instant.js';
import type { TimeFormat } from './mapping.js';

/** A time as written: the reading of its clock as if it were UTC, and the offset it carries, if any. */
export interface Reading {
  readonly ms: number;
  readonly offsetMs: number | null;
}

/** No time is written longer; no pattern runs on what is. */
const LONGEST = 64;
/** Days from the spreadsheet's day 0 (30 December 1899) to 1970. */
const SERIAL_EPOCH_DAYS = 25_569;

/** First letters of the months in the languages loggers are sold in; the longer ones tell June from July. */
const MONTHS: readonly (readonly string[])[] = [
  ['jan', 'ene', 'gen'],
  ['feb', 'fev', 'fév'],
  ['mar', 'mär', 'mrz'],
  ['apr', 'abr', 'avr'],
  ['may', 'mai', 'maj', 'mag'],
  ['jun', 'juin', 'giu'],
  ['jul', 'juil', 'lug'],
  ['aug', 'ago', 'aoû', 'aou', 'avg'],
  ['sep', 'set'],
  ['oct', 'okt', 'out', 'ott'],
  ['nov'],
  ['dec', 'dez', 'dic', 'déc'],
];

const CLOCK = String.raw`(\d{1,2})[:.h](\d{2})(?:[:.](\d{2})(?:[.,](\d{1,9}))?)?\s*([ap])?\.?(?:m\.?)?`;
const OFFSET = String.raw`(Z|UTC|GMT|[+-]\d{2}:?\d{2}|[+-]\d{2})?`;
const DATE_AND_CLOCK = new RegExp(
  String.raw`^(?:\p{L}{2,}\.?,?\s+)?(\d{1,4})\s*[-/. ]\s*(\d{1,2}|\p{L}{3,9})\.?\s*[-/., ]\s*(\d{1,4})(?:[T,;\s]+${CLOCK})?\s*${OFFSET}$`,
  'iu',
);
const MONTH_FIRST = new RegExp(
  String.raw`^(?:\p{L}{2,}\.?,?\s+)?(\p{L}{3,9})\.?\s+(\d{1,2}),?\s+(\d{4})(?:[T,;\s]+${CLOCK})?\s*${OFFSET}$`,
  'iu',
);
const COMPACT = new RegExp(
  String.raw`^(\d{4})(\d{2})(\d{2})(?:[T _-]?(\d{2}):?(\d{2})(?::?(\d{2}))?)?\s*${OFFSET}$`,
  'i',
);
const CLOCK_ONLY = new RegExp(`^${CLOCK}$`, 'i');

/**
 * Reads a date, with or without a clock, in the order given.
 * @returns null when the text is no such time, or names a day or minute that does not exist
 * @example readTime('30/06/2024 1:05 pm', 'dmy') // { ms: Date.UTC(2024, 5, 30, 13, 5), offsetMs: null }
 */
export function readTime(text: string, format: TimeFormat): Reading | null {
  const plain = text.trim();
  if (plain.length > LONGEST) return null;
  if (format === 'unix-s' || format === 'unix-ms' || format === 'serial') return counted(plain, format);
  const compact = format === 'ymd' ? COMPACT.exec(plain) : null;
  if (compact) {
    const [, y, m, d, hour = '0', minute = '0', second = '0', offset] = compact;
    return reading(+y!, +m!, +d!, [+hour, +minute, +second, 0], offset);
  }
  const named = format === 'mdy' ? MONTH_FIRST.exec(plain) : null;
  if (named) {
    const [, month, day, year, hour, minute, second, fraction, half, offset] = named;
    const clock = hour === undefined ? [0, 0, 0, 0] : clockOf(hour, minute!, second, fraction, half);
    return clock && reading(+year!, monthOf(month!), +day!, clock, offset);
  }
  const match = DATE_AND_CLOCK.exec(plain);
  if (!match) return null;
  const [, a, b, c, hour, minute, second, fraction, half, offset] = match;
  const month = monthOf(b!);
  if (Number.isNaN(month)) {
    if (format === 'mdy' && !/^\d+$/.test(b!)) return null;
  }
  const parts =
    format === 'ymd' ? [a!, b!, c!] : format === 'dmy' || /^\p{L}/u.test(b!) ? [c!, b!, a!] : [c!, a!, b!];
  const [yearText, monthText, dayText] = parts as [string, string, string];
  if (format === 'ymd' ? a!.length !== 4 : yearText.length === 3 || yearText.length === 1) return null;
  const clock = hour === undefined ? [0, 0, 0, 0] : clockOf(hour, minute!, second, fraction, half);
  if (!clock) return null;
  const year = yearText.length === 2 ? 2000 + +yearText : +yearText;
  return reading(year, monthOf(monthText), +dayText, clock, offset);
}

/** Ms since midnight of a time of day; NaN when the text is none. */
export function readClock(text: string): number {
  if (text.length > LONGEST) return NaN;
  const match = CLOCK_ONLY.exec(text.trim());
  if (!match) {
    // A spreadsheet holds a time of day as a share of the day.
    const share = /^0?[.,]\d+$|^0$/.test(text.trim()) ? Number(text.replace(',', '.')) : NaN;
    return share < 1 ? Math.round(share * 86_400) * 1000 : NaN;
  }
  const [, hour, minute, second, fraction, half] = match;
  const clock = clockOf(hour!, minute!, second, fraction, half);
  return clock ? ((clock[0]! * 60 + clock[1]!) * 60 + clock[2]!) * 1000 + clock[3]! : NaN;
}

function counted(text: string, format: 'unix-s' | 'unix-ms' | 'serial'): Reading | null {
  if (!/^\d+(?:[.,]\d+)?$/.test(text)) return null;
  const value = Number(text.replace(',', '.'));
  // A spreadsheet's day holds no more than about a tenth of a second.
  if (format === 'serial')
    return { ms: Math.round((value - SERIAL_EPOCH_DAYS) * 86_400) * 1000, offsetMs: null };
  return { ms: format === 'unix-s' ? Math.round(value * 1000) : value, offsetMs: 0 };
}

function clockOf(
  hour: string,
  minute: string,
  second: string | undefined,
  fraction: string | undefined,
  half: string | undefined,
): number[] | null {
  let h = +hour;
  if (half) {
    if (h < 1 || h > 12) return null;
    h = (h % 12) + (half.toLowerCase() === 'p' ? 12 : 0);
  }
  const s = +(second ?? 0);
  // 24:00 closes a day; any later reading does not exist.
  if (h > 24 || +minute > 59 || s > 59 || (h === 24 && (+minute > 0 || s > 0))) return null;
  return [h, +minute, s, Math.floor(+`0.${fraction ?? 0}` * 1000)];
}

/** Number of a month, written as one or by name; NaN when it is none. */
export function monthOf(text: string): number {
  if (/^\d+$/.test(text)) return +text;
  const word = text.toLowerCase().slice(0, 4);
  return MONTHS.findIndex((names) => names.some((name) => word.startsWith(name))) + 1 || NaN;
}

function reading(
  year: number,
  month: number,
  day: number,
  [h, m, s, ms]: readonly number[],
  offset: string | undefined,
): Reading | null {
  const date = dateMs(year, month, day);
  const offsetMs = offset ? offsetMsOf(offset) : null;
  if (Number.isNaN(date) || Number.isNaN(offsetMs)) return null;
  return { ms: date + ((h! * 60 + m!) * 60 + s!) * 1000 + ms!, offsetMs };
}
