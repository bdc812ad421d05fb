import { readClock, readTime } from '../read/clock.js';
import { isClock, isTime } from '../read/dialect.js';
import type { PeriodFormat, TimeFormat } from '../read/mapping.js';
import type { Conclusion } from './conclusion.js';
import { known, type Sample } from './sample.js';
import { wordsOf } from './words.js';

/** Where the time stands and how it is written. */
export interface TimeColumn {
  readonly fields: readonly number[];
  readonly format: TimeFormat | PeriodFormat;
  /** True when every time carries its offset. */
  readonly zoned: boolean;
  /** Readings of the sample, as if they were UTC; with offsets, instants. NaN where a row has none. */
  readonly readings: Float64Array;
  /** Of a statement whose rows name their period: the end of each, as its beginning in `readings`. */
  readonly untilMs?: Float64Array;
  /** Year of its first row, where its periods name none. */
  readonly year?: number;
  readonly conclusion: Conclusion;
}

const TIME_WORDS = [
  'time',
  'date',
  'datetime',
  'timestamp',
  'zeit',
  'datum',
  'data',
  'hora',
  'uhrzeit',
  'zeitstempel',
  'fecha',
  'ora',
  'cas',
  'start',
  'from',
  'end',
  'until',
  'period',
  'interval',
];
const LOOKED_AT = 3000;
const FEW_ROWS = 20;
const DAY_MS = 86_400_000;

/** Finds the column of the time, or the date's and the clock's. Null when the rows have none. */
export function timeColumnOf(sample: Sample): TimeColumn | null {
  const share = (field: number, test: (cell: string) => boolean) => {
    const cells = sample.cells[field]!.slice(0, LOOKED_AT).filter((cell) => cell !== '');
    return cells.length === 0 ? 0 : cells.filter(test).length / cells.length;
  };
  const named = (field: number) =>
    wordsOf(sample.names[field]!).some((word) => TIME_WORDS.includes(word)) ? 0.5 : 0;
  const isEnd = (field: number) => (/\b(end|until|to|bis|fim|fine)\b/i.test(sample.names[field]!) ? -0.1 : 0);
  const fields = sample.names.map((_, field) => field);
  const dated = fields
    .map((field) => ({ field, score: share(field, isTime) + named(field) + isEnd(field) - field * 0.001 }))
    .filter(({ field }) => share(field, isTime) > 0.9)
    .sort((a, b) => b.score - a.score);
  if (dated.length > 0) {
    const { field } = dated[0]!;
    const hasClock = sample.cells[field]!.slice(0, LOOKED_AT).some(
      (cell) =>
        /\d{1,2}[:.h]\d{2}|T\d{4}|\d{8}\s?\d{4}/.test(cell.replace(/^\S+\s*/, ' ')) || /T\d/.test(cell),
    );
    const clock = hasClock
      ? undefined
      : fields.find(
          (other) =>
            other !== field &&
            share(other, (cell) => isClock(cell) || isDayShare(cell, sample.names[other]!)) > 0.9,
        );
    return written(sample, clock === undefined ? [field] : [field, clock]);
  }
  const counting = fields
    .map((field) => ({ field, format: countFormat(sample.numbers[field]!) }))
    .filter((entry): entry is { field: number; format: TimeFormat } => entry.format !== null)
    .sort((a, b) => named(b.field) - named(a.field) || a.field - b.field)[0];
  return counting ? counted(sample, counting.field, counting.format) : null;
}

function isDayShare(cell: string, name: string): boolean {
  return /^0?[.,]\d{3,}$|^0$/.test(cell) && wordsOf(name).some((word) => TIME_WORDS.includes(word));
}

/** Seconds or milliseconds since 1970, or days of a spreadsheet; null for numbers that do not run as a clock does. */
function countFormat(values: Float64Array): TimeFormat | null {
  const seen = values.slice(0, LOOKED_AT).filter((value) => !Number.isNaN(value));
  if (seen.length < 2) return null;
  const within = (low: number, high: number) => seen.every((value) => value >= low && value <= high);
  if (new Set(seen).size < 0.4 * seen.length) return null;
  if (within(946e6, 2.53e9)) return 'unix-s';
  if (within(946e9, 2.53e12)) return 'unix-ms';
  return within(36_526, 54_789) && runsAsClock(seen) ? 'serial' : null;
}

/** True when numbers go one way only, or lie at even distances once they are sorted. */
function runsAsClock(values: Float64Array): boolean {
  const apart = values.filter((value, i) => value !== values[i - 1]);
  let turningPoints = 0;
  for (let i = 2; i < apart.length; i++)
    if (Math.sign(apart[i]! - apart[i - 1]!) !== Math.sign(apart[1]! - apart[0]!)) turningPoints++;
  if (turningPoints <= 0.02 * apart.length) return true;
  const sorted = Float64Array.from(new Set(values)).sort();
  const distances = sorted
    .slice(1)
    .map((value, i) => value - sorted[i]!)
    .sort();
  const usual = distances[distances.length >> 1]!;
  const even = distances.filter((distance) => Math.abs(distance - usual) < 0.05 * usual).length;
  return usual > 0 && even > 0.5 * distances.length;
}

function counted(sample: Sample, field: number, format: TimeFormat): TimeColumn {
  const readings = Float64Array.from(sample.cells[field]!, (cell) => readTime(cell, format)?.ms ?? NaN);
  const what = {
    'unix-s': 'seconds since 1970',
    'unix-ms': 'milliseconds since 1970',
    serial: 'days of a spreadsheet',
  }[format as 'serial'];
  const first = new Date(readings.find((ms) => !Number.isNaN(ms))!)
    .toISOString()
    .slice(0, 16)
    .replace('T', ' ');
  return {
    fields: [field],
    format,
    zoned: format !== 'serial',
    readings,
    conclusion: {
      about: 'time.format',
      says: `"${sample.names[field]!}" counts ${what}`,
      evidence: [
        `read so, the first row lies at ${first}${format === 'serial' ? '' : ' UTC'} and the rows run evenly`,
      ],
      confidence: 0.98,
      alternatives: [],
      asks: false,
    },
  };
}

const ORDERS = ['ymd', 'dmy', 'mdy'] as const;
const ORDER_WORDS = { ymd: 'year, month, day', dmy: 'day, month, year', mdy: 'month, day, year' } as const;

/** The order of day and month is what lets the rows of the whole sample run on without leaps. */
function written(sample: Sample, fields: readonly number[]): TimeColumn {
  const [dateField, clockField] = fields as [number, number?];
  const cells = sample.cells[dateField]!;
  // Dates with points between their parts are written day first wherever they are written so.
  const hasPoints = cells.some((cell) => /^\d{1,2}\.\d{1,2}\./.test(cell));
  const tried = ORDERS.filter((format) => format !== 'mdy' || !hasPoints)
    .map((format) => {
      const readings = new Float64Array(cells.length).fill(NaN);
      let zoned = 0;
      let read = 0;
      cells.forEach((cell, i) => {
        const reading = readTime(cell, format);
        const clockMs = clockField === undefined ? 0 : readClock(sample.cells[clockField]![i]!);
        if (!reading || Number.isNaN(clockMs)) return;
        read++;
        if (reading.offsetMs !== null) zoned++;
        readings[i] = reading.ms + clockMs - (reading.offsetMs ?? 0);
      });
      return { format, readings, read, zoned: zoned > 0.5 * read, leaps: leapsOf(readings) };
    })
    .filter(({ read }) => read > 0);
  const most = Math.max(...tried.map(({ read }) => read));
  const possible = tried.filter(({ read }) => read >= 0.98 * most).sort((a, b) => a.leaps - b.leaps);
  const best = possible[0]!;
  const rival = possible[1];
  const distinct = rival !== undefined && !same(best.readings, rival.readings);
  // Many even rows are decided by one leap; a few rows of any distance are not.
  const asks =
    distinct && (most < FEW_ROWS ? rival.leaps < best.leaps + 3 : rival.leaps <= 1.2 * best.leaps + 0.5);
  const dateAt = (format: TimeFormat) => {
    const { ms } = readTime(
      cells.find((cell) => readTime(cell, format) !== null)!,
      format,
    )!;
    return new Intl.DateTimeFormat('en-GB', { dateStyle: 'long', timeZone: 'UTC' }).format(ms);
  };
  const evidence = !distinct
    ? [`only this order reads all ${most} rows looked at`]
    : asks
      ? [`"${cells[0]!}" can be ${dateAt(best.format)} or ${dateAt(rival.format)}: the rows do not tell`]
      : [
          `read so, the rows run on evenly; as ${ORDER_WORDS[rival.format]} they would leap ${rival.leaps} times`,
        ];
  return {
    fields,
    format: best.format,
    zoned: best.zoned,
    readings: best.readings,
    conclusion: {
      about: 'time.format',
      says: `${fields.map((field) => `"${sample.names[field]!}"`).join(' with ')}: ${ORDER_WORDS[best.format]}`,
      evidence,
      confidence: asks ? 0.5 : distinct ? 0.95 : 0.99,
      alternatives: possible
        .slice(1)
        .filter((other) => !same(best.readings, other.readings))
        .map(({ format }) => ({
          says: `${ORDER_WORDS[format]}: the first row is of ${dateAt(format)}`,
          set: { 'time.format': format },
        })),
      asks,
    },
  };
}

/** How often neighbours in time lie more than two days apart: what a wrong order of day and month makes of a new day. */
function leapsOf(readings: Float64Array): number {
  const known = readings.filter((ms) => !Number.isNaN(ms)).sort();
  const distances = known
    .slice(1)
    .map((ms, i) => ms - known[i]!)
    .sort();
  // Daily and monthly rows leap by their own step; a wrong order makes their steps uneven.
  const usual = distances[Math.floor(distances.length / 2)] ?? 0;
  const allowed = Math.max(2 * DAY_MS, 1.2 * usual);
  return distances.filter((distance) => distance > allowed || (usual >= DAY_MS && distance < 0.8 * usual))
    .length;
}

function same(a: Float64Array, b: Float64Array): boolean {
  return a.every((value, i) => value === b[i] || (Number.isNaN(value) && Number.isNaN(b[i]!)));
}

/** The usual distance between the rows of a sample, ms. */
export function stepOf(readings: Float64Array): number {
  const sorted = known(readings);
  const distances = sorted.slice(1).map((ms, i) => ms - sorted[i]!);
  const positive = known(distances.filter((distance) => distance > 0));
  return positive.length === 0 ? 3_600_000 : positive[Math.floor(positive.length / 2)]!;
}
