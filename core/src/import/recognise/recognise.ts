import { readTime } from '../read/clock.js';
import type { Dialect } from '../read/dialect.js';
import { canonicalQuantity, canonicalUnit } from '../read/columns.js';
import { nthOf } from '../read/layout.js';
import type { MappedColumn, Mapping } from '../read/mapping.js';
import { isTotals } from '../read/totals.js';
import { isPower, type Flow } from '../../model/quantity.js';
import type { System } from '../../system/schema.js';
import { settleSigns } from './balance.js';
import { marksConclusion, zoneConclusion } from './clock.js';
import { guessColumns } from './columns.js';
import type { Guess } from './guess.js';
import { nameStringsWithoutTotal } from './strings.js';
import type { Conclusion } from './conclusion.js';
import { byTime, sampleOf } from './sample.js';
import { periodColumnOf } from './periodColumn.js';
import { timeColumnOf, type TimeColumn } from './timeColumn.js';
import { orderOf, picked } from '../merge/rows.js';

/** How a file is to be read, with the evidence for every part of it. */
export interface Recognition {
  readonly mapping: Mapping;
  readonly conclusions: readonly Conclusion[];
  /** Columns that stand for nothing known and are left in the file. */
  readonly ignored: readonly string[];
  /** Some of the first rows, as text, under their names. */
  readonly preview: { readonly names: readonly string[]; readonly rows: readonly (readonly string[])[] };
}

/** Why a sample cannot be read at all. */
export interface NotRecognised {
  readonly lacks: 'time' | 'quantity';
  readonly names: readonly string[];
  /** What is known of it, for its owner to say the rest: no column stands for anything yet. */
  readonly open: Recognition;
}

/** Rows shown of a file: spread over its first day or so, since its first rows are often of a night. */
const PREVIEW_ROWS = 4;
const PREVIEW_SPAN = 240;

function previewOf(rows: readonly (readonly string[])[]): (readonly string[])[] {
  const step = Math.max(1, Math.floor(Math.min(rows.length, PREVIEW_SPAN) / PREVIEW_ROWS));
  return rows.filter((_, i) => i % step === 0).slice(0, PREVIEW_ROWS);
}

/**
 * A canonical log whose times carry their offset: nothing of it has to be found out.
 * @param lines its first rows as cells, the header row first
 * @param headerLine line on which that stands
 * @returns null when the header is not one of a canonical log, or its times are of some clock
 */
export function recogniseCanonical(
  lines: readonly (readonly string[])[],
  headerLine: number,
): Recognition | null {
  const [names = [], ...rows] = lines;
  const timeField = names.findIndex((name) => name.trim().toLowerCase() === 'time');
  const columns = canonicalColumns(names, timeField < 0 ? [] : [timeField]);
  if (!columns) return null;
  const readings = rows.flatMap((row) => readTime(row[timeField] ?? '', 'ymd') ?? []);
  if (readings.filter(({ offsetMs }) => offsetMs === null).length > 0.5 * readings.length) return null;
  const sure = { confidence: 1, alternatives: [], asks: false };
  const clock = 'each time is the start of its interval and carries its own offset from UTC';
  return {
    mapping: {
      schema: 'long-tally/mapping@1',
      table: { separator: ',', decimal: '.', headerLine, skipLines: 0 },
      time: { columns: [names[timeField]!], format: 'ymd', zone: 'offset', marks: 'start' },
      columns,
    },
    conclusions: [
      { about: 'time.zone', says: clock, evidence: [`its name "${names[timeField]!}"`], ...sure },
      ...columns.map(({ column, quantity }) => ({
        about: `column:${column}`,
        says: `${quantity}, as in a canonical log`,
        evidence: [`its name "${column}"`],
        ...sure,
      })),
    ],
    ignored: names.filter((name, field) => field !== timeField && !canonicalQuantity(name)),
    preview: { names, rows: previewOf(rows) },
  };
}

/**
 * A file of energies without their course, as a home of totals is saved: nothing of it has to be found out.
 * @param lines its first rows as cells, the header row first
 * @returns null when the header is not one of such a file
 */
export function recogniseTotals(
  lines: readonly (readonly string[])[],
  headerLine: number,
): Recognition | null {
  const [names = [], ...rows] = lines;
  if (!isTotals(names)) return null;
  const flows = names.filter((name) => /_kwh$/i.test(name.trim()));
  const says = 'each line holds the energies of a stretch, from its time until its end';
  return {
    mapping: {
      schema: 'long-tally/mapping@1',
      table: { separator: ',', decimal: '.', headerLine, skipLines: 0 },
      time: { columns: ['time'], format: 'ymd', zone: 'offset', marks: 'start' },
      columns: flows.map((column) => ({
        column,
        quantity: column.trim().toLowerCase().replace(/_kwh$/, '') as Flow,
        unit: 'kWh',
        sign: 1,
        kind: 'energy',
      })),
    },
    conclusions: [
      { about: 'time.zone', says, evidence: ['its names'], confidence: 1, alternatives: [], asks: false },
    ],
    ignored: [],
    preview: { names, rows: previewOf(rows) },
  };
}

/**
 * Proposes how the rows of a sample are to be read. What the data leave open is asked, never settled in silence.
 * @param system what is known of the home: sizes for magnitudes, place for the sun, zone for the clock
 */
export function recognise(dialect: Dialect, system: System): Recognition | NotRecognised {
  const asWritten = sampleOf(dialect);
  const found = periodColumnOf(asWritten, system) ?? timeColumnOf(asWritten);
  if (!found) return { lacks: 'time', names: dialect.names, open: openRecognition(dialect, null, system) };
  // Whatever order the file has, its rows are judged in that of time.
  const sample = byTime(asWritten, found.readings);
  const order = orderOf(found.readings.map((ms) => (Number.isNaN(ms) ? Infinity : ms)));
  const sorted = (values: Float64Array) => (order ? picked(values, order) : values);
  const time: TimeColumn = {
    ...found,
    readings: sorted(found.readings),
    ...(found.untilMs ? { untilMs: sorted(found.untilMs) } : {}),
  };
  const canonical = canonicalColumns(sample.names, time.fields);
  const guesses = canonical ? [] : guessColumns(sample, time, system);
  if (!canonical && guesses.length === 0)
    return { lacks: 'quantity', names: dialect.names, open: openRecognition(dialect, time, system) };
  if (!canonical) {
    settleSigns(guesses, sample, time);
    nameStringsWithoutTotal(guesses);
  }
  const { zone, conclusion: zoneSays } = zoneConclusion(time, sample, guesses, system);
  const { marks, conclusion: marksSays } =
    canonical || time.untilMs
      ? { marks: 'start' as const, conclusion: null }
      : marksConclusion(time, sample, guesses);
  const columns = canonical ?? guesses.map(mapped);
  const taken = new Set([
    ...time.fields.map((field) => dialect.names[field]!),
    ...columns.map(({ column }) => column),
  ]);
  return {
    mapping: {
      schema: 'long-tally/mapping@1',
      table: tableOf(dialect),
      time: {
        columns: time.fields.map((field) => dialect.names[field]!),
        format: time.format,
        zone,
        marks,
        ...(time.year === undefined ? {} : { year: time.year }),
      },
      columns: columns.map((column, i) => {
        const nth = nthOf(columns, i);
        return nth > 0 ? { ...column, nth } : column;
      }),
    },
    conclusions: [
      tableConclusion(dialect),
      time.conclusion,
      zoneSays,
      ...(marksSays ? [marksSays] : []),
      ...(canonical ? canonical.map(canonicalConclusion) : guesses.map(conclusionOf)),
    ],
    ignored: dialect.names.filter((name) => name !== '' && !taken.has(name)),
    preview: { names: dialect.names, rows: previewOf(dialect.rows) },
  };
}

function tableOf({ separator, decimal, headerLine, skipLines }: Dialect): Mapping['table'] {
  return { separator, decimal, headerLine, skipLines };
}

/** A table of which neither column nor, without `time`, the time is known: everything is asked. */
function openRecognition(dialect: Dialect, time: TimeColumn | null, system: System): Recognition {
  const asked = (about: string, says: string, evidence: string): Conclusion => ({
    about,
    says,
    evidence: [evidence],
    confidence: 0,
    alternatives: [],
    asks: true,
  });
  const { names } = dialect;
  return {
    mapping: {
      schema: 'long-tally/mapping@1',
      table: tableOf(dialect),
      time: {
        columns: time ? time.fields.map((field) => names[field]!) : [names[0]!],
        format: time?.format ?? 'ymd',
        zone: time?.zoned ? 'offset' : system.timeZone,
        marks: 'start',
      },
      columns: [],
    },
    conclusions: [
      tableConclusion(dialect),
      time?.conclusion ??
        asked('time.columns', 'in the first column', 'no column holds dates or times that are known'),
      asked(
        'columns',
        'nothing',
        'no column has a name or values that are known: say what at least one stands for',
      ),
    ],
    ignored: names,
    preview: { names, rows: previewOf(dialect.rows) },
  };
}

/** The columns of a canonical log file, or null when its time or all its quantities bear other names. */
function canonicalColumns(names: readonly string[], timeFields: readonly number[]): MappedColumn[] | null {
  if (timeFields.length !== 1 || names[timeFields[0]!]!.trim().toLowerCase() !== 'time') return null;
  const columns = names.flatMap((column): MappedColumn[] => {
    const quantity = canonicalQuantity(column);
    return quantity
      ? [
          {
            column,
            quantity,
            unit: canonicalUnit(quantity),
            sign: 1,
            kind: isPower(quantity) ? 'power' : 'state',
          },
        ]
      : [];
  });
  return columns.length > 0 ? columns : null;
}

function canonicalConclusion({ column, quantity }: MappedColumn): Conclusion {
  return {
    about: `column:${column}`,
    says: `${quantity}, as in a canonical log`,
    evidence: [`its name "${column}"`],
    confidence: 1,
    alternatives: [],
    asks: false,
  };
}

function mapped({ name, role, unit, kind, sign, sample }: Guess): MappedColumn {
  return {
    column: name,
    quantity: role,
    unit,
    sign,
    kind,
    ...(sample === 'instant' && kind === 'power' ? { sample } : {}),
  };
}

function conclusionOf({
  name,
  role,
  unit,
  kind,
  sign,
  evidence,
  confidence,
  alternatives,
  asks,
}: Guess): Conclusion {
  return {
    about: `column:${name}`,
    says: [role, kind === 'state' ? '' : kind, `in ${unit}`, sign === -1 ? 'sign reversed' : '']
      .filter(Boolean)
      .join(', '),
    evidence,
    confidence,
    alternatives,
    asks,
  };
}

function tableConclusion({
  separator,
  decimal,
  openNumber,
  headerLine,
  skipLines,
  rows,
}: Dialect): Conclusion {
  const sign = { ',': 'commas', ';': 'semicolons', '\t': 'tabs', '|': 'bars' }[separator];
  const head = headerLine === 0 ? 'no line names the columns' : `line ${headerLine} names the columns`;
  return {
    about: 'table',
    says: `cells between ${sign}, decimal ${decimal === ',' ? 'comma' : 'point'}; ${head}${skipLines > 0 ? `, ${skipLines} more follow before the rows` : ''}`,
    evidence: [
      `${rows.length} rows looked at have the same number of cells`,
      ...(openNumber === '' ? [] : [`"${openNumber}" can be read with either sign before its decimals`]),
    ],
    confidence: openNumber === '' ? 0.98 : 0.5,
    alternatives:
      openNumber === ''
        ? []
        : [
            {
              says: decimal === ',' ? 'a decimal point' : 'a decimal comma',
              set: { 'table.decimal': decimal === ',' ? '.' : ',' },
            },
          ],
    asks: openNumber !== '',
  };
}
