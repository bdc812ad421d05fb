import type { Finding } from '../../model/finding.js';
import type { Counter, UnshapedEnergy } from '../../model/log.js';
import type { RawColumn, Table } from '../read/table.js';
import type { NotedState } from './sparseStates.js';
import { between, FLOWS, type Flow } from '../../model/quantity.js';

/** Rows in order of time. */
export interface Rows {
  readonly timeMs: Float64Array;
  readonly columns: readonly RawColumn[];
}

/** A file's rows as the log's quantities, and energies whose shape is not known. */
export interface Interpreted {
  readonly table: Table;
  readonly lumps: readonly UnshapedEnergy[];
  /** States noted now and then, of rows too far apart for a course. */
  readonly states?: readonly NotedState[];
  readonly findings: readonly Finding[];
}

/** Means over the rows, W, with their last digit. */
export interface Course {
  readonly values: Float64Array;
  readonly resolution: number;
  readonly counter?: Counter;
}

/** Tells a finding of the file that is being read. */
export type Say = (code: string, severity: Finding['severity'], message: string, atMs?: number) => void;

/** The order of rows by time, rows of one instant as the file has them; null when they stand in it already. */
export function orderOf(timeMs: Float64Array): Uint32Array | null {
  let ordered = true;
  for (let i = 1; i < timeMs.length && ordered; i++) ordered = timeMs[i]! >= timeMs[i - 1]!;
  if (ordered) return null;
  return new Uint32Array(timeMs.length).map((_, i) => i).sort((a, b) => timeMs[a]! - timeMs[b]!);
}

/** Values in another order. */
export function picked(values: Float64Array, order: Uint32Array): Float64Array {
  return Float64Array.from(order, (i) => values[i]!);
}

/** Rows in order of time; the same arrays where they stand in it already. */
export function inOrder(timeMs: Float64Array, columns: readonly RawColumn[]): Rows {
  const order = orderOf(timeMs);
  if (!order) return { timeMs, columns };
  return {
    timeMs: picked(timeMs, order),
    columns: columns.map((column) => ({ ...column, values: picked(column.values, order) })),
  };
}

/** Rows in order of time with those of one instant put together: to the mean of what they know, of codes the highest. */
export function eachOnce(rows: Rows): { rows: Rows; doubled: number } {
  const { timeMs, columns } = rows;
  const firsts: number[] = [];
  for (let i = 0; i < timeMs.length; i++) if (i === 0 || timeMs[i] !== timeMs[i - 1]) firsts.push(i);
  const doubled = timeMs.length - firsts.length;
  if (doubled === 0) return { rows, doubled };
  const highestFrom = (values: Float64Array, from: number, to: number) => {
    let most = NaN;
    for (let i = from; i < to; i++) if (!Number.isNaN(values[i]!) && !(values[i]! <= most)) most = values[i]!;
    return most;
  };
  const meanFrom = (values: Float64Array, from: number, to: number) => {
    let sum = 0;
    let known = 0;
    for (let i = from; i < to; i++) {
      if (Number.isNaN(values[i]!)) continue;
      sum += values[i]!;
      known++;
    }
    return known > 0 ? sum / known : NaN;
  };
  const once = columns.map((column) => {
    const { values, rule } = column;
    const of = between(rule.quantity) === 'hold' ? highestFrom : meanFrom;
    return {
      ...column,
      values: Float64Array.from(firsts, (from, k) => of(values, from, firsts[k + 1] ?? values.length)),
    };
  });
  return { rows: { timeMs: Float64Array.from(firsts, (i) => timeMs[i]!), columns: once }, doubled };
}

/** What is said of rows that bear the time of another. */
export function doubledText(count: number): string {
  return `${count} ${count === 1 ? 'row bears' : 'rows bear'} the time of another row; their values are merged to the mean.`;
}

/** Tells findings of one source into a list. */
export function sayer(source: string, findings: Finding[]): Say {
  return (code, severity, message, atMs) =>
    findings.push({ code, severity, fromMs: atMs ?? null, toMs: atMs ?? null, message, source, kWh: null });
}

/** True for one direction of a flow. */
export function isFlow(role: string): role is Flow {
  return (FLOWS as readonly string[]).includes(role);
}

/** True for a kind of column that only rises. */
export function isCounter(kind: string): boolean {
  return kind === 'counter' || kind === 'daily-counter';
}
