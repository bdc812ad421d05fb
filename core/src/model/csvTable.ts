export type Cell = string | number | boolean | null;

/** A column of a table, as a Table Schema describes it. */
export interface Field {
  readonly name: string;
  readonly type: 'string' | 'number' | 'integer' | 'boolean' | 'date' | 'datetime';
  readonly description: string;
}

/** Rows under described columns. */
export interface CsvTable {
  readonly fields: readonly Field[];
  readonly rows: Iterable<readonly Cell[]>;
}

/** A table as CSV; what is not known is an empty cell. */
export function csvOf({ fields, rows }: CsvTable): string {
  return [fields.map(({ name }) => name), ...rows].map(csvLine).join('');
}

/** One line of CSV. */
export function csvLine(cells: readonly Cell[]): string {
  return `${cells.map((cell) => (typeof cell === 'string' ? quoted(cell) : cell === null ? '' : String(cell))).join(',')}\n`;
}

/**
 * A text cell that no spreadsheet takes for a formula: one that begins with = + - @ or a control character is led by an
 * apostrophe and quoted; one with a comma, quote or line end is quoted.
 * @source OWASP, "CSV Injection"; RFC 4180, section 2
 */
export function quoted(text: string): string {
  const safe = /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
  return safe !== text || /[",\n\r]/.test(text) ? `"${safe.replaceAll('"', '""')}"` : text;
}
