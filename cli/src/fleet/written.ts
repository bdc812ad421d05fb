import { csvOf, type Field } from '@long-tally/core';
import { COLUMNS, type FleetRow } from './row.js';

/** How a fleet is written, by the ending of the file it goes to. */
export type FleetFormat = 'csv' | 'json' | 'parquet';

/** Rows as a table of values: `home`, `problem`, then a column for every figure. */
export async function writtenFleet(
  rows: readonly FleetRow[],
  format: FleetFormat,
): Promise<string | Uint8Array> {
  if (format === 'json')
    return `${JSON.stringify(
      rows.map(({ home, problem, figures }) => ({ home, problem, ...figures })),
      null,
      1,
    )}\n`;
  if (format === 'csv') {
    const fields: Field[] = ['home', 'problem', ...COLUMNS.map(({ key }) => key)].map((name) => ({
      name,
      type: 'string',
      description: name,
    }));
    return csvOf({
      fields,
      rows: rows.map(({ home, problem, figures }) => [
        home,
        problem,
        ...COLUMNS.map(({ key }) => figures[key] ?? null),
      ]),
    });
  }
  const { parquetWriteBuffer } = await import('hyparquet-writer');
  const bytes = parquetWriteBuffer({
    columnData: [
      { name: 'home', data: rows.map(({ home }) => home), type: 'STRING' },
      { name: 'problem', data: rows.map(({ problem }) => problem), type: 'STRING' },
      ...COLUMNS.map(({ key, isDate }) => ({
        name: key,
        data: rows.map(({ figures }) => figures[key] ?? null),
        type: isDate ? ('STRING' as const) : ('DOUBLE' as const),
      })),
    ],
  });
  return new Uint8Array(bytes);
}
