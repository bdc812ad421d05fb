import type { Dialect } from '../read/dialect.js';

/** The columns of a sample of rows, as text and as numbers. */
export interface Sample {
  readonly names: readonly string[];
  readonly units: readonly string[];
  readonly rows: number;
  readonly cells: readonly (readonly string[])[];
  /** By column; NaN where a cell holds no number. */
  readonly numbers: readonly Float64Array[];
}

/** Cuts the rows of a dialect into columns. */
export function sampleOf({ names, units, rows, decimal }: Dialect): Sample {
  const cells = names.map((_, field) => rows.map((row) => row[field] ?? ''));
  return {
    names,
    units,
    rows: rows.length,
    cells,
    numbers: cells.map((column) => Float64Array.from(column, (cell) => numberIn(cell, decimal))),
  };
}

function numberIn(cell: string, decimal: '.' | ','): number {
  const bare = cell.replace('\u2212', '-').replace(/\s*(?:[kM]?Wh?|%|V|A|Hz|°\s?[CF])$/i, '');
  const plain =
    decimal === ','
      ? bare.replace(/[.'\s](?=\d{3}(?:\D|$))/g, '').replace(',', '.')
      : bare.replace(/[,'\s](?=\d{3}(?:\D|$))/g, '');
  return /^[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?$/i.test(plain) ? Number(plain) : NaN;
}

/** Values that are known, in order of size. */
export function known(values: Float64Array): Float64Array {
  return values.filter((value) => !Number.isNaN(value)).sort();
}
