/** Cells of a block: some hours of a log by the minute. */
export const BLOCK_CELLS = 256;

/** Cells [from, to) of a column. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
}

/** Of each block of a column its least and its most known value, ∞ and −∞ where it has none, and how many are known. */
interface Blocks {
  readonly least: Float64Array;
  readonly most: Float64Array;
  readonly known: Uint16Array;
}

/** Whole blocks by the buffer they lie in: its cells never change, and a column that grows goes on in the same buffer. */
const gathered = new WeakMap<ArrayBufferLike, Blocks & { whole: number }>();

/** The blocks of a column, each gone through once, also where the column grows. */
function blocksOf(values: Float64Array): Blocks {
  const isAtStart = values.byteOffset === 0;
  const cells = isAtStart ? values.buffer.byteLength / Float64Array.BYTES_PER_ELEMENT : values.length;
  const room = Math.ceil(cells / BLOCK_CELLS);
  const own = (isAtStart && gathered.get(values.buffer)) || {
    least: new Float64Array(room),
    most: new Float64Array(room),
    known: new Uint16Array(room),
    whole: 0,
  };
  if (isAtStart) gathered.set(values.buffer, own);
  const whole = Math.floor(values.length / BLOCK_CELLS);
  for (let block = own.whole; block < whole; block++) gather(values, block, own);
  own.whole = Math.max(own.whole, whole);
  const all = Math.ceil(values.length / BLOCK_CELLS);
  const blocks = {
    least: own.least.slice(0, all),
    most: own.most.slice(0, all),
    known: own.known.slice(0, all),
  };
  // The last block is cut where the column ends, though another column may go on in the buffer.
  if (all > whole) gather(values, whole, blocks);
  return blocks;
}

function gather(values: Float64Array, block: number, into: Blocks): void {
  const to = Math.min(values.length, (block + 1) * BLOCK_CELLS);
  let [least, most, known] = [Infinity, -Infinity, 0];
  for (let i = block * BLOCK_CELLS; i < to; i++) {
    const value = values[i]!;
    if (value !== value) continue;
    known++;
    if (value < least) least = value;
    if (value > most) most = value;
  }
  into.least[block] = least;
  into.most[block] = most;
  into.known[block] = known;
}

/** How many cells of a column hold a value. */
export function knownCells(values: Float64Array): number {
  return blocksOf(values).known.reduce((sum, known) => sum + known, 0);
}

/** Stretches of a column outside of which every cell holds a value. */
export function stretchesLacking(values: Float64Array): Stretch[] {
  const { known } = blocksOf(values);
  return stretchesWhere(values, (block, from, to) => known[block]! < to - from);
}

/** The largest size of a column's values; 0 without any. */
export function largestSize(values: Float64Array): number {
  const { least, most } = blocksOf(values);
  let size = 0;
  for (let block = 0; block < least.length; block++) size = Math.max(size, most[block]!, -least[block]!);
  return size;
}

/** The most value of a column that lies below a limit; 0 where it has none above zero. */
export function mostBelow(values: Float64Array, limit: number): number {
  const { most } = blocksOf(values);
  let top = 0;
  for (let block = 0; block < most.length; block++) {
    if (!(most[block]! > top)) continue;
    if (most[block]! < limit) top = most[block]!;
    else
      for (const value of values.subarray(block * BLOCK_CELLS, (block + 1) * BLOCK_CELLS))
        if (value > top && value < limit) top = value;
  }
  return top;
}

/**
 * Stretches of a column outside of which every known value lies from `least` to `most`: who looks for rare values need not
 * go through the rest.
 */
export function stretchesBeyond(values: Float64Array, least: number, most: number): Stretch[] {
  const blocks = blocksOf(values);
  return stretchesWhere(values, (block) => blocks.least[block]! < least || blocks.most[block]! > most);
}

/** Neighbouring blocks that are asked for, as stretches. */
function stretchesWhere(
  values: Float64Array,
  isAskedFor: (block: number, from: number, to: number) => boolean,
): Stretch[] {
  const stretches: { from: number; to: number }[] = [];
  for (let from = 0; from < values.length; from += BLOCK_CELLS) {
    const to = Math.min(values.length, from + BLOCK_CELLS);
    if (!isAskedFor(from / BLOCK_CELLS, from, to)) continue;
    const last = stretches.at(-1);
    if (last?.to === from) last.to = to;
    else stretches.push({ from, to });
  }
  return stretches;
}
