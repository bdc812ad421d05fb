/** Stretches of cells that hold, as [first, end). */
export function runs<T>(cells: ArrayLike<T>, holds: (cell: T) => boolean): (readonly [number, number])[] {
  const found: (readonly [number, number])[] = [];
  let from = -1;
  for (let i = 0; i <= cells.length; i++) {
    const inRun = i < cells.length && holds(cells[i]!);
    if (inRun && from < 0) from = i;
    if (!inRun && from >= 0) {
      found.push([from, i]);
      from = -1;
    }
  }
  return found;
}
