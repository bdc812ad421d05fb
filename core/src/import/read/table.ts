import { withRoom } from '../../model/growable.js';
import type { Counter, Texts } from '../../model/log.js';
import type { Quantity } from '../../model/quantity.js';
import type { ColumnRule } from './columns.js';

/** A column as it stands in a file, in W, Wh or the unit of its state; missing as NaN. */
export interface RawColumn {
  readonly rule: ColumnRule;
  readonly values: Float64Array;
  readonly resolution: number;
  readonly texts?: Texts;
}

/** Rows in the order of the file. */
export interface RawTable {
  readonly name: string;
  readonly rows: number;
  /** Epoch ms where the layout is zoned, else readings of a clock as if it were UTC. */
  readonly timeMs: Float64Array;
  readonly columns: readonly RawColumn[];
}

/** A column of one quantity: powers in W as means over the row's interval, states at its start. */
export interface TableColumn {
  readonly quantity: Quantity;
  readonly values: Float64Array;
  readonly resolution: number;
  readonly counter?: Counter;
  readonly texts?: Texts;
}

/** Rows whose `timeMs` is the start of each row's interval, epoch ms, in order of time. */
export interface Table {
  readonly name: string;
  readonly timeMs: Float64Array;
  readonly columns: readonly TableColumn[];
}

/** More values than a year of seconds in nine columns cannot be held beside what is made of them. */
export const MOST_VALUES = 300_000_000;
/** Rows of a block; columns grow by blocks, so that no row is copied until their number is known. */
export const BLOCK_ROWS = 65_536;

/** Blocks put together to one array of the final length; the blocks are let go. */
export function joined(blocks: Float64Array[], rows: number): Float64Array {
  const values = withRoom(Float64Array, rows);
  for (let at = 0; at < rows; at += BLOCK_ROWS) {
    const block = blocks.shift()!;
    values.set(rows - at < BLOCK_ROWS ? block.subarray(0, rows - at) : block, at);
  }
  return values;
}
