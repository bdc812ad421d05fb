import type { Pass } from './pass.js';
import { cellAt, endMs, type Log } from '../model/log.js';
import type { Range } from '../model/range.js';
import type { Configuration } from '../system/configuration.js';
import { daysBetween, type Day } from '../time/days.js';
import { zoneOf } from '../time/zone.js';
import type { BusColumns } from './busColumns.js';
import { stressOf, type StressHistogram } from './stressHistogram.js';
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

/** Sums and stress by day; a day that a range cuts is added up again, the others are taken as they are. */
export const dayEntriesPass: Pass<readonly DayEntry[]> = {
  scan: ({ log, columns, configurations }) => dayEntries(log, columns, configurations),
  slice: (entries, range, { log, columns }) =>
    entries
      .filter(({ fromMs, toMs }) => fromMs < range.toMs && toMs > range.fromMs)
      .flatMap((entry) => {
        const fromMs = Math.max(entry.fromMs, range.fromMs);
        const toMs = Math.min(entry.toMs, range.toMs);
        const whole = fromMs === entry.fromMs && toMs === entry.toMs;
        return whole ? [entry] : dayEntries(log, columns, [entry.configuration], { fromMs, toMs });
      }),
  join: (before, after, { cutMs }) => [
    ...before.filter(({ toMs }) => toMs <= cutMs),
    ...after.filter(({ fromMs }) => fromMs >= cutMs),
  ],
};
