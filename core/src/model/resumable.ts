/** What a scan of the first cells of a column came to. */
export interface Before<T> {
  readonly cells: number;
  readonly result: T;
}

/**
 * A scan that goes on where it stopped: of a column that grew only the new cells are gone through. It rests on the cells of
 * a buffer never changing once they are in a log, and on a column that grows going on in its buffer.
 * @returns a function of the column, of a text that holds all that the scan reads beside it, and of the scan, which
 *   is given what it came to on a shorter column, undefined where there is none
 */
export function resumable<T>() {
  const last = new WeakMap<ArrayBufferLike, Before<T> & { readonly by: string }>();
  return (values: Float64Array, by: string, scan: (before: Before<T> | undefined) => T): T => {
    if (values.byteOffset !== 0) return scan(undefined);
    const before = last.get(values.buffer);
    const isPart = before?.by === by && before.cells <= values.length;
    const result = scan(isPart ? before : undefined);
    last.set(values.buffer, { by, cells: values.length, result });
    return result;
  };
}
