/** Room behind a column, as a share of its length: ten years have room for some months more. */
const ROOM = 1 / 16;

type Cells = Float64Array | Float32Array | Uint8Array;

interface Kind<T extends Cells> {
  readonly BYTES_PER_ELEMENT: number;
  new (buffer: ArrayBuffer, byteOffset: number, length: number): T;
}

/** Elements that are given out of a buffer with room. */
const taken = new WeakMap<ArrayBufferLike, number>();

/** A column of zeros with room behind it, for {@link appended}. */
export function withRoom<T extends Cells>(kind: Kind<T>, length: number): T {
  const buffer = new ArrayBuffer(Math.ceil(length * (1 + ROOM)) * kind.BYTES_PER_ELEMENT);
  taken.set(buffer, length);
  return new kind(buffer, 0, length);
}

/**
 * The cells of a column up to `cut`, then others. They are put into the room behind the column where it has any and the
 * cells from `cut` on stay what they are, since copying ten years takes longer than going through a month; else all is
 * copied. The column itself never changes: the room is given out once, and its view ends before it.
 */
export function appended<T extends Cells>(kind: Kind<T>, before: T, cut: number, after: T): T {
  const length = cut + after.length;
  const overlap = before.length - cut;
  const fits =
    taken.get(before.buffer) === before.length &&
    length * kind.BYTES_PER_ELEMENT <= before.buffer.byteLength &&
    isSame(before.subarray(cut), after.subarray(0, overlap));
  if (fits) {
    taken.set(before.buffer, length);
    const all = new kind(before.buffer as ArrayBuffer, 0, length);
    all.set(after.subarray(overlap), before.length);
    return all;
  }
  const all = withRoom(kind, length);
  all.set(before.subarray(0, cut));
  all.set(after, cut);
  return all;
}

function isSame(a: Cells, b: Cells): boolean {
  return a.length === b.length && a.every((value, i) => Object.is(value, b[i]));
}
