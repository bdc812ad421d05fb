import type { Dialect } from '../read/dialect.js';
import { orderOf, picked } from '../merge/rows.js';
import { readNumber } from '../read/number.js';

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
    numbers: cells.map((column) =>
      Float64Array.from(column, (cell) => readNumber(cell, decimal)?.value ?? NaN),
    ),
  };
}

/** A sample with its rows in order of time, rows without one last. */
export function byTime(sample: Sample, readings: Float64Array): Sample {
  const order = orderOf(readings.map((ms) => (Number.isNaN(ms) ? Infinity : ms)));
  if (!order) return sample;
  return {
    ...sample,
    cells: sample.cells.map((cells) => Array.from(order, (i) => cells[i]!)),
    numbers: sample.numbers.map((values) => picked(values, order)),
  };
}

/** Values that are known, in order of size. */
export function known(values: Float64Array): Float64Array {
  return values.filter((value) => !Number.isNaN(value)).sort();
}
