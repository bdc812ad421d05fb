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
export interface Entry extends Range {
  readonly day: Day;
  readonly configuration: Configuration;
  readonly sums: Sums;
  readonly strain: StressHistogram;
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
): Entry[] {
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
      const strain = stressOf(log, columns, configuration, cells, day.fromMs);
      return [{ day, configuration, fromMs, toMs, sums, strain }];
    }),
  );
}
