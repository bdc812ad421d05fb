import type { Pass } from './pass.js';
import { cellAt, endMs, type Log } from '../model/log.js';
import { firstEndingAfter, type Range } from '../model/range.js';
import type { Configuration } from '../system/configuration.js';
import { daysBetween, type Day } from '../time/days.js';
import { zoneOf } from '../time/zone.js';
import type { BusColumns } from './busColumns.js';
import { addStress, noStress, stressOf, type StressHistogram } from './stressHistogram.js';
import { sumCells } from './sumCells.js';
import type { Sums } from './sums.js';

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

/** So many entries are added up once and kept. */
const BLOCK = 32;
const blocks = new WeakMap<readonly DayEntry[], StressHistogram[]>();

/**
 * Stress of a range of days. Whole blocks of days are added up the first time that one of their ranges is asked for: a histogram
 * is some two hundred numbers, and ten years have thousands of them.
 * @param all the entries that the range was sliced from
 */
export function stressWithin(all: readonly DayEntry[], own: readonly DayEntry[]): StressHistogram {
  const total = noStress();
  if (own.length === 0) return total;
  let sums = blocks.get(all);
  if (!sums) blocks.set(all, (sums = []));
  const offset = firstEndingAfter(all, own[0]!.fromMs);
  for (let at = 0; at < own.length;) {
    const place = offset + at;
    const isBlock =
      place % BLOCK === 0 &&
      at + BLOCK <= own.length &&
      own[at] === all[place] &&
      own[at + BLOCK - 1] === all[place + BLOCK - 1];
    if (isBlock) addStress(total, (sums[place / BLOCK] ??= stressOfAll(own.slice(at, at + BLOCK))));
    else addStress(total, own[at]!.stress);
    at += isBlock ? BLOCK : 1;
  }
  return total;
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
    const first = firstEndingAfter(entries, range.fromMs);
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
