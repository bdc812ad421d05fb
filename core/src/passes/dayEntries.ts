import type { Pass } from './pass.js';
import { cellAt, endMs, type Log } from '../model/log.js';
import { firstReached, type Range } from '../model/range.js';
import type { Configuration } from '../system/configuration.js';
import { daysBetween, type Day } from '../time/days.js';
import { zoneOf } from '../time/zone.js';
import type { BusColumns } from './busColumns.js';
import { addStress, noStress, stressOf, type StressHistogram } from './stressHistogram.js';
import { sumCells } from './sumCells.js';
import { addSums, noSums, type Sums } from './sums.js';

/** One day, or the part of it that lies in one configuration. A cell belongs to the day in which it starts. */
export interface DayEntry extends Range {
  readonly day: Day;
  readonly configuration: Configuration;
  readonly sums: Sums;
  readonly stress: StressHistogram;
}

/**
 * Adds up a log by day and configuration; every later question about a range costs days, not samples.
 * @param range clips the first and last day
 */
export function dayEntries(
  log: Log,
  columns: BusColumns,
  configurations: readonly Configuration[],
  range: Range = { fromMs: log.startMs, toMs: endMs(log) },
): DayEntry[] {
  return daysBetween(zoneOf(log.zone), range.fromMs, range.toMs).flatMap((day) =>
    configurations.flatMap((configuration) => {
      const fromMs = Math.max(day.fromMs, configuration.fromMs, range.fromMs);
      const toMs = Math.min(day.toMs, configuration.toMs, range.toMs);
      if (fromMs >= toMs) return [];
      const cells = {
        from: cellAt(log, fromMs),
        to: cellAt(log, toMs),
        end: cellAt(log, configuration.toMs),
      };
      const sums = sumCells(log, columns, configuration, cells);
      const stress = stressOf(log, columns, configuration, cells, day.fromMs);
      return [{ day, configuration, fromMs, toMs, sums, stress }];
    }),
  );
}

/** The share of a range that lies in one configuration. */
export interface Part {
  readonly configuration: Configuration;
  readonly sums: Sums;
}

/** So many entries are added up once and kept. */
const BLOCK = 32;
const stressOfBlocks = new WeakMap<readonly DayEntry[], StressHistogram[]>();
const partsOfBlocks = new WeakMap<readonly DayEntry[], Part[][]>();

/**
 * Stress of a range of days.
 * @param all the entries that the range was sliced from
 */
export function stressWithin(all: readonly DayEntry[], own: readonly DayEntry[]): StressHistogram {
  const total = noStress();
  for (const stress of inBlocks(stressOfBlocks, all, own, stressOfAll)) addStress(total, stress);
  return total;
}

/**
 * Sums of a range of days by configuration, in the order in which they come.
 * @param all the entries that the range was sliced from
 */
export function partsWithin(all: readonly DayEntry[], own: readonly DayEntry[]): Part[] {
  return partsOf(inBlocks(partsOfBlocks, all, own, partsOf).flat());
}

function partsOf(pieces: readonly Part[]): Part[] {
  const parts: Part[] = [];
  for (const { configuration, sums } of pieces) {
    let part = parts.find((known) => known.configuration === configuration);
    if (!part) parts.push((part = { configuration, sums: noSums() }));
    addSums(part.sums, sums);
  }
  return parts;
}

/**
 * What entries add up to, piece by piece: whole blocks of days are added up the first time that one of their ranges is asked
 * for and kept, since a day is some hundreds of numbers and ten years have thousands of them.
 */
function inBlocks<T>(
  kept: WeakMap<readonly DayEntry[], T[]>,
  all: readonly DayEntry[],
  own: readonly DayEntry[],
  sumOf: (entries: readonly DayEntry[]) => T,
): T[] {
  if (own.length === 0) return [];
  let sums = kept.get(all);
  if (!sums) kept.set(all, (sums = []));
  const offset = firstReached(all, ({ toMs }) => toMs > own[0]!.fromMs);
  const pieces: T[] = [];
  for (let at = 0; at < own.length;) {
    const place = offset + at;
    const isBlock =
      place % BLOCK === 0 &&
      at + BLOCK <= own.length &&
      own[at] === all[place] &&
      own[at + BLOCK - 1] === all[place + BLOCK - 1];
    const end = isBlock ? at + BLOCK : at + 1;
    const piece = own.slice(at, end);
    pieces.push(isBlock ? (sums[place / BLOCK] ??= sumOf(piece)) : sumOf(piece));
    at = end;
  }
  return pieces;
}

function stressOfAll(entries: readonly DayEntry[]): StressHistogram {
  const total = noStress();
  for (const { stress } of entries) addStress(total, stress);
  return total;
}

/** Sums and stress by day; a day that a range cuts is added up again, the others are taken as they are. */
export const dayEntriesPass: Pass<readonly DayEntry[]> = {
  scan: ({ log, columns, configurations }) => dayEntries(log, columns, configurations),
  slice: (entries, range, { log, columns }) => {
    const first = firstReached(entries, ({ toMs }) => toMs > range.fromMs);
    const own: DayEntry[] = [];
    for (let at = first; at < entries.length && entries[at]!.fromMs < range.toMs; at++) {
      const entry = entries[at]!;
      const fromMs = Math.max(entry.fromMs, range.fromMs);
      const toMs = Math.min(entry.toMs, range.toMs);
      const isWhole = fromMs === entry.fromMs && toMs === entry.toMs;
      if (isWhole) own.push(entry);
      else own.push(...dayEntries(log, columns, [entry.configuration], { fromMs, toMs }));
    }
    return own;
  },
  join: (before, after, { cutMs }) => [
    ...before.filter(({ toMs }) => toMs <= cutMs),
    ...after.filter(({ fromMs }) => fromMs >= cutMs),
  ],
};
