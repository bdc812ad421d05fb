/** A line that can be put in order: its name, and a value by column; null or absent where it is not known. */
export interface Sortable {
  readonly name: string;
  readonly values: Readonly<Record<string, number | null | undefined>>;
}

/** Lines by a column, those without a value last whichever way; by name where the column is none. */
export function sortedBy<T extends Sortable>(
  rows: readonly T[],
  column: string | null,
  isDescending: boolean,
): T[] {
  const way = isDescending ? -1 : 1;
  return [...rows].sort((a, b) => {
    if (column === null) return way * a.name.localeCompare(b.name);
    const [x, y] = [a.values[column] ?? null, b.values[column] ?? null];
    if (x === null || y === null)
      return (x === null ? 1 : 0) - (y === null ? 1 : 0) || a.name.localeCompare(b.name);
    return way * (x - y) || a.name.localeCompare(b.name);
  });
}
