import { jsonOf } from '../../model/validation.js';
import { InputError } from '../../model/problem.js';

/** No home's log has more. */
export const MOST_COLUMNS = 500;

/**
 * Rows of a JSON file as CSV: a list of objects or of lists, at the top or under one key.
 * @throws InputError when there is no such list in it
 */
export function csvOfJson(where: string, text: string): string {
  const mend = 'Bring a list of rows, each an object with a time and the quantities.';
  const rows = rowsIn(jsonOf(text, where, mend));
  if (!rows) throw new InputError([{ where, found: 'The JSON holds no list of rows.', mend }]);
  if (rows.every((row) => Array.isArray(row))) return rows.map((row) => csvRow(row as unknown[])).join('\n');
  const objects = rows.filter(
    (row): row is Record<string, unknown> => typeof row === 'object' && row !== null,
  );
  const keys = new Set<string>();
  for (const row of objects) {
    for (const key of Object.keys(row)) keys.add(key);
    if (keys.size > MOST_COLUMNS) throw tooManyColumns(where, keys.size);
  }
  const names = [...keys];
  return [csvRow(names), ...objects.map((row) => csvRow(names.map((key) => row[key])))].join('\n');
}

/** Refuses a table of more columns than any home has. */
export function tooManyColumns(where: string, count: number): InputError {
  const found = `The table has ${count} columns; at most ${MOST_COLUMNS} are read.`;
  return new InputError([{ where, found, mend: 'Bring the columns of the home alone.' }]);
}

function rowsIn(json: unknown): unknown[] | null {
  if (Array.isArray(json))
    return json.length > 0 && json.every((row) => typeof row === 'object') ? json : null;
  if (typeof json !== 'object' || json === null) return null;
  return (
    Object.values(json)
      .map(rowsIn)
      .find((rows) => rows !== null) ?? null
  );
}

/** One row of CSV; a nested value stands as its JSON. */
export function csvRow(cells: readonly unknown[]): string {
  return cells.map(csvCell).join(',');
}

function csvCell(cell: unknown): string {
  if (cell === null || cell === undefined) return '';
  if (cell instanceof Date) return cell.toISOString().slice(0, 19).replace('T', ' ');
  const text = typeof cell === 'string' ? cell : JSON.stringify(cell);
  return /[",\n\r]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}
