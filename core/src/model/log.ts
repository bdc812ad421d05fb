import type { Finding } from './finding.js';
import type { Flow, Quantity } from './quantity.js';
import type { Range } from './range.js';

/** One quantity on the grid. Missing is NaN. */
export interface Column {
  readonly values: Float64Array;
  /** Last digit the file writes, in the column's unit: 1 for whole watts, 0.01 for whole per cent of SOC. */
  readonly resolution: number;
  /** Of a power that was made from counters. */
  readonly counter?: Counter;
  /** True of a state noted now and then, of which there is no course. */
  readonly isNoted?: true;
  /** What codes of the column stand for, where the file writes words. */
  readonly texts?: Texts;
}

/** Words by the code that stands for them. */
export type Texts = Readonly<Record<number, string>>;

/** The last digit of the counters a power was made from: it counts at the ends of a range, not in every step. */
export interface Counter {
  readonly digitWh: number;
  /** True where they start anew each day, so that each day ends with a digit of its own. */
  readonly isDaily: boolean;
}

/** A regular time grid: cell i runs from `startMs + i * stepMs` for `stepMs`. */
export interface Grid {
  readonly startMs: number;
  readonly stepMs: number;
  readonly count: number;
}

/** Energy that went one way between two instants, its shape unknown: a day's total, a counter read before and after a gap. */
export interface UnshapedEnergy extends Range {
  readonly flow: Flow;
  readonly wh: number;
  /** Name of the file. */
  readonly source: string;
  /** True for a utility meter's: it leads the totals, whatever finer log gives the course. */
  readonly leads?: true;
}

/** An unshaped energy less what was measured within it: the energy of the time for which there is no course. */
export interface SettledEnergy extends UnshapedEnergy {
  /** Time within it that no channel covers, in s. */
  readonly unknownS: number;
}

/** What one file said, on its own grid. */
export interface SourceLog extends Grid {
  readonly name: string;
  readonly lumps: readonly UnshapedEnergy[];
  /** What was met while reading it. */
  readonly findings: readonly Finding[];
  readonly columns: ReadonlyMap<Quantity, Column>;
  /** Line of the file that holds the first cell, where each line holds the cell after the one before it. */
  readonly firstLine?: number;
}

/** Where a channel's value comes from. `known` is a value that needs no meter, as the grid of a home without one. */
export type Origin = 'logged' | 'derived' | 'known';

export interface Channel extends Column {
  readonly origin: Origin;
  /** True where a utility meter leads the totals of all of it. */
  readonly isByMeter?: true;
  /** 1 where the value was bridged across a short gap. */
  readonly bridged: Uint8Array;
  /** Names of the files the channel was taken from, or of the channels it was derived from. */
  readonly sources: readonly string[];
}

/** A stretch in which the source that leads a quantity is silent and another speaks for it. */
export interface Fill extends Range {
  readonly quantity: Quantity;
  readonly source: string;
}

/** All sources of a home on one grid. Immutable; every book reads it. */
export interface Log extends Grid {
  readonly zone: string;
  readonly channels: ReadonlyMap<Quantity, Channel>;
  /** Energies known beside the channels, in order of time. */
  readonly lumps: readonly SettledEnergy[];
  /** Gaps of one source that another fills, in order of time. */
  readonly fills: readonly Fill[];
}

/** End of a grid: the first instant it no longer covers. */
export function endMs(grid: Grid): number {
  return grid.startMs + grid.count * grid.stepMs;
}

/** First cell that starts at or after an instant, within the grid. */
export function cellAt(grid: Grid, ms: number): number {
  return Math.min(grid.count, Math.max(0, Math.ceil((ms - grid.startMs) / grid.stepMs)));
}
