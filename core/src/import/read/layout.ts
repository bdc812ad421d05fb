import { InputError } from '../../model/problem.js';
import { canonicalRule, ruleOfMapped, type ColumnRule } from './columns.js';
import { isPeriodFormat, type MappedColumn, type Mapping, type TimeFormat } from './mapping.js';
import type { DecimalSign } from './number.js';

/** What each field of a row is: the time, a quantity, or nothing known; and how numbers and times are written. */
export interface Layout {
  /** Byte between cells. */
  readonly separator: number;
  readonly decimal: DecimalSign;
  readonly names: readonly string[];
  /** One field, or the date's and the clock's. */
  readonly timeFields: readonly number[];
  readonly format: TimeFormat;
  /** True when each time carries its own offset; else a reading is of a clock that the mapping names. */
  readonly zoned: boolean;
  /** By field; undefined where the field is the time or not recognised. */
  readonly rules: readonly (ColumnRule | undefined)[];
  /** Header words that are kept in the raw file only. */
  readonly ignored: readonly string[];
}

/**
 * The layout of a canonical log file, from its header row.
 * @throws InputError when there is no time column or no quantity in it
 */
export function canonicalLayout(names: readonly string[], where: string): Layout {
  const timeField = names.findIndex((name) => name.trim().toLowerCase() === 'time');
  const list = names.map((name) => `"${name.trim().slice(0, 30)}"`);
  const found = `the first row holds ${list.slice(0, 12).join(', ')}${list.length > 12 ? ', …' : ''}.`;
  if (timeField < 0) {
    const mend = 'Name the column with the start of each interval "time" (ISO 8601 with offset or Z).';
    throw new InputError([{ where, line: 1, found: `There is no time column: ${found}`, mend }]);
  }
  const seen = new Set<string>();
  const rules = names.map((name) => {
    const rule = canonicalRule(name);
    if (!rule || seen.has(rule.quantity)) return undefined;
    seen.add(rule.quantity);
    return rule;
  });
  if (seen.size === 0) {
    const mend = 'Name at least one column solar_w, load_w, grid_w, battery_w or soc_pct.';
    throw new InputError([{ where, line: 1, found: `No quantity is recognised: ${found}`, mend }]);
  }
  return {
    separator: 44,
    decimal: '.',
    names,
    timeFields: [timeField],
    format: 'ymd',
    zoned: true,
    rules,
    ignored: ignoredOf(names, [timeField], rules),
  };
}

/**
 * The layout of a file read through a mapping.
 * @param names header words of this file, whose order may differ from the file the mapping was made for
 * @throws InputError naming the columns the file lacks
 */
export function mappedLayout(mapping: Mapping, names: readonly string[], where: string): Layout {
  const fieldOf = (name: string, nth = 0) =>
    names.map((_, field) => field).filter((field) => sameName(names[field]!, name))[nth] ?? -1;
  const timeFields = mapping.time.columns.map((name) => fieldOf(name));
  const rules: (ColumnRule | undefined)[] = names.map(() => undefined);
  const missing = mapping.time.columns.filter((_, i) => timeFields[i]! < 0);
  let found = 0;
  for (const column of mapping.columns) {
    const field = fieldOf(column.column, column.nth);
    if (field < 0) continue;
    rules[field] = ruleOfMapped(column);
    found++;
  }
  if (missing.length > 0 || found === 0) {
    const lacking = missing.length > 0 ? missing : mapping.columns.map(({ column }) => column);
    throw new InputError([
      {
        where,
        line: Math.max(1, mapping.table.headerLine),
        found: `The file has no column ${lacking.map((name) => `"${name}"`).join(', ')}, which its mapping names.`,
        mend: 'Let it be recognised anew, or bring the mapping that belongs to it.',
      },
    ]);
  }
  return {
    separator: mapping.table.separator.charCodeAt(0),
    decimal: mapping.table.decimal,
    names,
    timeFields,
    // Periods are read by themselves, not as times.
    format: isPeriodFormat(mapping.time.format) ? 'ymd' : mapping.time.format,
    zoned: mapping.time.zone === 'offset' || mapping.time.format.startsWith('unix'),
    rules,
    ignored: ignoredOf(names, timeFields, rules),
  };
}

/** True when two header words name the same column, whatever their case and the spaces around them. */
export function sameName(a: string, b: string): boolean {
  return a.trim().toLowerCase() === b.trim().toLowerCase();
}

/** Names that are told apart where a header repeats one. */
export function nthOf(columns: readonly Pick<MappedColumn, 'column'>[], at: number): number {
  return columns.slice(0, at).filter(({ column }) => sameName(column, columns[at]!.column)).length;
}

function ignoredOf(
  names: readonly string[],
  timeFields: readonly number[],
  rules: readonly (ColumnRule | undefined)[],
): string[] {
  return names
    .filter((name, field) => !timeFields.includes(field) && !rules[field] && name.trim() !== '')
    .map((name) => name.trim());
}
