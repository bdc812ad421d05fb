import type { Finding } from '../check/finding.js';
import type { RawColumn } from '../read/table.js';
import { FLOWS, type Flow } from '../series/log.js';

/** Rows in order of time, each instant once. */
export interface Rows {
  readonly timeMs: Float64Array;
  readonly columns: readonly RawColumn[];
}

/** Means over the rows, W, with their last digit. */
export interface Course {
  readonly values: Float64Array;
  readonly resolution: number;
}

/** Tells a finding of the file that is being read. */
export type Say = (code: string, severity: Finding['severity'], message: string, atMs?: number) => void;

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

/** A count of events in words. */
export function times(count: number): string {
  return count === 1 ? 'once' : `${count} times`;
}
