import { dateMs } from '../../time/instant.js';
import { monthOf, readTime } from './clock.js';
import type { PeriodFormat } from './mapping.js';

/** A period as written: readings of a clock as if it were UTC, `untilMs` the first instant behind it. */
export interface Period {
  readonly fromMs: number;
  readonly untilMs: number;
  /** True where the end is a date that was written out: whether that day still belongs to it, its neighbours tell. */
  readonly hasLastDay: boolean;
}

const DAY_MS = 86_400_000;
/** No period is written longer; no pattern runs on what is. */
const LONGEST = 80;
const YEAR = /^(?:19|20)\d\d$/;
const MONTH_FIRST = /^(\p{L}{3,9}|\d{1,2})\.?\s*[-/. ,]?\s*['’]?((?:19|20)\d\d|\d\d)$/u;
const YEAR_FIRST = /^((?:19|20)\d\d)\s*[-/. ]?\s*(\p{L}{3,9}|\d{1,2})\.?$/u;
/** Between the two dates of a range: a dash with room around it, a long dash, or a word. */
const BETWEEN = /\s+(?:-|to|until|till|through|thru|bis|a|al|até|do)\s+|\s*[–—]\s*|\s*\.\.\s*/iu;
/** A day and a month without a year. */
const DAY_MONTH = /^(?:(\d{1,2})\.?\s*(\p{L}{3,9})|(\p{L}{3,9})\.?\s*(\d{1,2}))\.?$/u;

/** True of a text that names a month or a range of dates. */
export function isPeriod(text: string): boolean {
  const plain = text.trim();
  if (plain.length > LONGEST) return false;
  return (
    monthIn(plain) !== null ||
    (['ymd', 'dmy', 'mdy'] as const).some((order) => rangeIn(plain, order, 2000) !== null)
  );
}

/** True of a text that is a year and nothing else. */
export function isYear(text: string): boolean {
  return YEAR.test(text.trim());
}

/**
 * Reads a period: a year, a month, a range of dates in one text, or its first and last day in two.
 * @param end text of the last day, where it has a column of its own
 * @param year of a range that names none
 * @returns null when the text is no period
 * @example readPeriod('Feb-23', undefined, 'period-dmy', 2023) // 1 February to 1 March 2023
 */
export function readPeriod(
  text: string,
  end: string | undefined,
  format: PeriodFormat,
  year: number,
): Period | null {
  const order = format.slice('period-'.length) as 'ymd' | 'dmy' | 'mdy';
  const plain = text.trim();
  if (plain.length > LONGEST) return null;
  if (end !== undefined) return pair(plain, end.trim(), order, year);
  if (isYear(plain)) {
    return { fromMs: dateMs(+plain, 1, 1), untilMs: dateMs(+plain + 1, 1, 1), hasLastDay: false };
  }
  return monthIn(plain) ?? rangeIn(plain, order, year);
}

function monthIn(text: string): Period | null {
  const [, month, year] = MONTH_FIRST.exec(text) ?? [];
  const [, yearBefore, monthAfter] = month === undefined ? (YEAR_FIRST.exec(text) ?? []) : [];
  const number = monthOf(month ?? monthAfter ?? '');
  const written = year ?? yearBefore;
  if (written === undefined || !(number >= 1 && number <= 12)) return null;
  // Two numbers of two digits are a day and a month as well as a month and a year.
  if (month !== undefined && /^\d+$/.test(month) && written.length === 2) return null;
  const y = written.length === 2 ? 2000 + +written : +written;
  const next = number === 12 ? dateMs(y + 1, 1, 1) : dateMs(y, number + 1, 1);
  return { fromMs: dateMs(y, number, 1), untilMs: next, hasLastDay: false };
}

function rangeIn(text: string, order: 'ymd' | 'dmy' | 'mdy', year: number): Period | null {
  const parts = text.split(BETWEEN);
  return parts.length === 2 ? pair(parts[0]!.trim(), parts[1]!.trim(), order, year) : null;
}

/** First and last day; one that names no year takes the other's, and a winter that begins in the year before is one. */
function pair(first: string, last: string, order: 'ymd' | 'dmy' | 'mdy', year: number): Period | null {
  const whole = [first, last].map((text) => (readTime(text, 'ymd') ?? readTime(text, order))?.ms ?? null);
  const lastYear = whole[1] === null ? NaN : new Date(whole[1]!).getUTCFullYear();
  const firstYear = whole[0] === null ? NaN : new Date(whole[0]!).getUTCFullYear();
  let fromMs = whole[0] ?? dayIn(first, Number.isNaN(lastYear) ? year : lastYear);
  let untilMs = whole[1] ?? dayIn(last, Number.isNaN(firstYear) ? year : firstYear);
  if (whole[0] === null && fromMs > untilMs) {
    if (whole[1] === null) untilMs = dayIn(last, year + 1);
    else fromMs = dayIn(first, lastYear - 1);
  }
  const hasLastDay = untilMs % DAY_MS === 0 && !/\d[:.h]\d\d/.test(last.replace(/^\S+/, ''));
  const period = { fromMs, untilMs: hasLastDay ? untilMs + DAY_MS : untilMs, hasLastDay };
  return period.fromMs < period.untilMs ? period : null;
}

function dayIn(text: string, year: number): number {
  const [, day, month, monthBefore, dayAfter] = DAY_MONTH.exec(text) ?? [];
  return dateMs(year, monthOf(month ?? monthBefore ?? ''), +(day ?? dayAfter ?? NaN));
}

/**
 * Periods in order of their rows. Where most begin on the day the one before ends, the last day written is not theirs; a
 * list of ranges without years goes on into the next year where its months begin anew.
 * @param rows text, and text of the end where it has a column of its own
 * @param year of the first row, where rows name none
 */
export function readPeriods(
  rows: readonly (readonly [text: string, end: string | undefined])[],
  format: PeriodFormat,
  year: number,
): (Period | null)[] {
  let own = year;
  let lastMs = -Infinity;
  const read = rows.map(([text, end]) => {
    const period = readPeriod(text, end, format, own);
    if (!period || !isYearless(text)) return period;
    if (period.fromMs >= lastMs) {
      lastMs = period.fromMs;
      return period;
    }
    const next = readPeriod(text, end, format, ++own);
    lastMs = next?.fromMs ?? lastMs;
    return next;
  });
  const dated = read.flatMap((one) => (one?.hasLastDay ? [one] : []));
  const begins = new Set(dated.map(({ fromMs }) => fromMs));
  const meets = dated.filter(
    ({ fromMs, untilMs }) => untilMs - DAY_MS > fromMs && begins.has(untilMs - DAY_MS),
  ).length;
  const follows = dated.filter(({ untilMs }) => begins.has(untilMs)).length;
  if (meets <= follows) return read;
  return read.map((one) => (one?.hasLastDay ? { ...one, untilMs: one.untilMs - DAY_MS } : one));
}

/** True of a range whose text names no year. */
export function isYearless(text: string): boolean {
  const parts = text.trim().split(BETWEEN);
  return parts.length === 2 && parts.every((part) => DAY_MONTH.test(part.trim()));
}
