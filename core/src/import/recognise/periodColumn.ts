import { isYear, isYearless, isPeriod, readPeriods, type Period } from '../read/period.js';
import { isTime } from '../read/dialect.js';
import type { PeriodFormat } from '../read/mapping.js';
import type { System } from '../../system/schema.js';
import type { Sample } from './sample.js';
import type { TimeColumn } from './timeColumn.js';
import { wordsOf } from './words.js';

const START_WORDS = ['from', 'start', 'begin', 'von', 'inicio', 'inizio', 'de', 'od'];
const END_WORDS = ['to', 'end', 'until', 'till', 'bis', 'fim', 'fin', 'fine', 'a', 'do'];
const YEAR_WORDS = ['year', 'jahr', 'ano', 'anno', 'annee', 'leto', 'period', 'time', 'date'];
/** Shorter than this, two times in a row are the interval of a log. */
const LEAST_MS = 20 * 3_600_000;
/** A statement of a few months often ends with a row of their sum. */
const MOSTLY = 0.7;
const FORMATS: readonly PeriodFormat[] = ['period-ymd', 'period-dmy', 'period-mdy'];

/** Finds the column that names the months, years or ranges of a statement, or the two of first and last day; null for a log. */
export function periodColumnOf(sample: Sample, system: System): TimeColumn | null {
  const fields = sample.names.map((_, field) => field);
  const share = (field: number, test: (cell: string) => boolean) => {
    const cells = sample.cells[field]!.filter((cell) => cell !== '');
    return cells.length === 0 ? 0 : cells.filter(test).length / cells.length;
  };
  const has = (field: number, words: readonly string[]) =>
    wordsOf(sample.names[field]!).some((word) => words.includes(word));
  const one = fields.find(
    (field) => share(field, isPeriod) > MOSTLY || (has(field, YEAR_WORDS) && share(field, isYear) > MOSTLY),
  );
  if (one !== undefined) return columnOf(sample, [one], system);
  const dated = fields.filter((field) => share(field, isTime) > 0.9);
  const [start, end] = [
    dated.find((field) => has(field, START_WORDS)),
    dated.find((field) => has(field, END_WORDS)),
  ];
  return start !== undefined && end !== undefined && start !== end
    ? columnOf(sample, [start, end], system)
    : null;
}

function columnOf(sample: Sample, fields: readonly number[], system: System): TimeColumn | null {
  const [field, endField] = fields as [number, number?];
  const rows = sample.cells[field]!.map(
    (cell, i) => [cell, endField === undefined ? undefined : sample.cells[endField]![i]!] as const,
  );
  const isOpen = rows.some(([text, end]) => end === undefined && isYearless(text));
  const described = Number(system.configurations?.[0]?.from.slice(0, 4));
  const year = described >= 1990 ? described : 2000;
  const tried = FORMATS.map((format) => readPeriods(rows, format, year)).map((periods, i) => ({
    format: FORMATS[i]!,
    periods,
    read: periods.filter((period) => period !== null).length,
    uneven: unevenOf(periods),
  }));
  const best = tried.sort((a, b) => b.read - a.read || a.uneven - b.uneven)[0]!;
  const known = best.periods.filter((period) => period !== null);
  const lengths = known.map(({ fromMs, untilMs }) => untilMs - fromMs).sort((a, b) => a - b);
  if (known.length < MOSTLY * rows.length || lengths[lengths.length >> 1]! < LEAST_MS) return null;
  const [first] = known as [Period];
  const date = (ms: number) =>
    new Intl.DateTimeFormat('en-GB', { dateStyle: 'long', timeZone: 'UTC' }).format(ms);
  return {
    fields,
    format: best.format,
    zoned: false,
    readings: Float64Array.from(best.periods, (period) => period?.fromMs ?? NaN),
    untilMs: Float64Array.from(best.periods, (period) => period?.untilMs ?? NaN),
    ...(isOpen ? { year } : {}),
    conclusion: {
      about: 'time.format',
      says: `${fields.map((one) => `"${sample.names[one]!}"`).join(' with ')}: the period of each row`,
      evidence: [
        `the first row is from ${date(first.fromMs)} up to and with ${date(first.untilMs - 86_400_000)}`,
        ...(isOpen ? ['no year is written'] : []),
      ],
      confidence: isOpen ? 0.4 : 0.95,
      alternatives: isOpen
        ? [1, 2, 3, 4].map((more) => ({
            says: `the first row is of ${year + more}`,
            set: { 'time.year': year + more },
          }))
        : [],
      asks: isOpen,
    },
  };
}

/** How far periods are from following each other without a gap or an overlap: what a wrong order of day and month does. */
function unevenOf(periods: readonly (Period | null)[]): number {
  const known = periods.filter((period) => period !== null).sort((a, b) => a.fromMs - b.fromMs);
  return known.filter((period, i) => i > 0 && period.fromMs !== known[i - 1]!.untilMs).length;
}
