import { z } from 'zod';
import { parseJson } from '../../model/validation.js';
import { INSTANT_QUANTITIES, POWER_QUANTITIES, type Flow, type Quantity } from '../../model/quantity.js';
import { offsetMsOf } from '../../time/instant.js';
import { isZone } from '../../time/zone.js';

/** One direction of a flow that a log holds as one, as a file may write it; a battery's on either of its sides. */
export const ONE_WAY = ['import', 'export', 'charge', 'discharge', 'chargeDc', 'dischargeDc'] as const;

/** What a column of a file can stand for: a quantity of the log, or one direction of a flow. */
export type Role = Quantity | Flow | (typeof ONE_WAY)[number];

/** Power, the energy of each interval, a counter that only rises, one that starts anew each day, or a state. */
export const KINDS = ['power', 'energy', 'counter', 'daily-counter', 'state'] as const;
export type Kind = (typeof KINDS)[number];

export const UNITS = [
  'W',
  'kW',
  'MW',
  'Wh',
  'kWh',
  'MWh',
  '%',
  'share',
  'V',
  'A',
  'Hz',
  '°C',
  '°F',
  '1/0',
  'mm',
  'W/m²',
  'money',
  'money/kWh',
  'cents/kWh',
  'code',
] as const;
export type FileUnit = (typeof UNITS)[number];

/** Order of a date's parts, or the count it is given as. `ymd` holds ISO 8601. */
const TIME_FORMATS = ['ymd', 'dmy', 'mdy', 'unix-s', 'unix-ms', 'serial'] as const;
export type TimeFormat = (typeof TIME_FORMATS)[number];

/** Rows that name a period: a year, a month or a range of dates, in one column, or its first and last day in two. */
const PERIOD_FORMATS = ['period-ymd', 'period-dmy', 'period-mdy'] as const;
export type PeriodFormat = (typeof PERIOD_FORMATS)[number];

/** True of a format of periods. */
export function isPeriodFormat(format: TimeFormat | PeriodFormat): format is PeriodFormat {
  return (PERIOD_FORMATS as readonly string[]).includes(format);
}

const ROLES: readonly string[] = [...POWER_QUANTITIES, ...INSTANT_QUANTITIES, ...ONE_WAY];

const role = z.string().refine((text) => ROLES.includes(text) || /^(?:load|solar):.+/.test(text), {
  error: `this quantity is not known; write one of ${ROLES.join(', ')} load:NAME or solar:NAME`,
}) as unknown as z.ZodType<Role>;

const isFixed = (text: string) => /^[+-]\d\d:\d\d$/.test(text) && !Number.isNaN(offsetMsOf(text));
const zone = z.string().refine((text) => text === 'offset' || isFixed(text) || isZone(text), {
  error: 'write "offset" when each time carries its own, a fixed one such as "+01:00", or an IANA zone',
});

const column = z.looseObject({
  /** Header word as it stands in the file. */
  column: z.string(),
  /** Place among columns of the same name, from 0. */
  nth: z.number().int().min(0).optional(),
  quantity: role,
  unit: z.enum(UNITS),
  sign: z.union([z.literal(1), z.literal(-1)]),
  kind: z.enum(KINDS),
  /** A power may be the mean over the interval or the value at its instant. */
  sample: z.enum(['mean', 'instant']).optional(),
});

/** How a file that is no canonical log is read, `long-tally/mapping@1`. */
export const mappingSchema = z.looseObject({
  schema: z.literal('long-tally/mapping@1'),
  table: z.looseObject({
    separator: z.enum([',', ';', '\t', '|']),
    decimal: z.enum(['.', ',']),
    /** Line that names the columns, from 1; 0 when none does: then they are called `column 1`, `column 2` … */
    headerLine: z.number().int().min(0),
    /** Lines between the names and the first row, as a row of units. */
    skipLines: z.number().int().min(0),
  }),
  time: z.looseObject({
    /** One column, or the date's and the clock's; of periods the first day's and the last day's. */
    columns: z.array(z.string()).min(1).max(2),
    format: z.enum([...TIME_FORMATS, ...PERIOD_FORMATS]),
    /** Year of the first row, where periods name none. */
    year: z.number().int().min(1990).max(2100).optional(),
    zone,
    marks: z.enum(['start', 'end']),
  }),
  columns: z.array(column).min(1),
});

export type Mapping = z.infer<typeof mappingSchema>;
export type MappedColumn = Mapping['columns'][number];

/**
 * A mapping from the text of its file.
 * @throws InputError naming each key that is wrong
 */
export function parseMapping(text: string, where: string): Mapping {
  const what = 'a mapping, schema long-tally/mapping@1, as "tally detect" prints it';
  return parseJson(mappingSchema, text, where, what);
}

/** JSON Schema of the mapping file, generated from the Zod schema that is its single source. */
export function mappingJsonSchema(): object {
  return z.toJSONSchema(mappingSchema, { io: 'input', unrepresentable: 'any' });
}
