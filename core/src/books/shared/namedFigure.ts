import type { FigureEntry, Unit } from '../../model/figure.js';

/** A figure of a book that is made by its key: all of its entry but key and cost. */
export type NamedFigure = Omit<FigureEntry, 'key' | 'cost'>;

const PRACTICE = 'Common practice, no published source.';

/** Makes entries of a book, whose methods are named after it. */
export function namedFigures(book: string) {
  return (
    key: string,
    unit: Unit,
    label: string,
    meaning: string,
    formula: string,
    source = PRACTICE,
  ): NamedFigure => ({ unit, label, meaning, method: { id: `${book}.${key}`, formula, source } });
}
