import type { Recognition } from '@long-tally/core';

/** What files that are read alike have in common: their columns, in order, and what stands between the cells. */
export function shapeOf({ mapping, preview }: Recognition): string {
  return [
    mapping.table.separator,
    mapping.table.decimal,
    ...preview.names.map((name) => name.toLowerCase()),
  ].join('\u001f');
}
