import { cellAt, endMs, type Log, type Range } from '../series/log.js';
import type { Configuration } from '../system/configuration.js';
import { daysBetween, type Day } from '../time/days.js';
import { zoneOf } from '../time/zone.js';
import type { LedgerColumns } from './columns.js';
import { sumCells, type Cells } from './sumCells.js';
import type { Sums } from './sums.js';

/** One day, or the part of it that lies in one configuration. A cell belongs to the day in which it starts. */
export interface Entry extends Range {
  readonly day: Day;
  readonly configuration: Configuration;
  readonly sums: Sums;
}

/** A ledger kept before over the same description of the home, and what it was kept from. */
export interface Kept {
  readonly log: Log;
  readonly columns: LedgerColumns;
  readonly entries: readonly Entry[];
}

/**
 * Adds up a log by day and configuration; every later question about a range costs days, not samples.
 * @param range clips the first and last day
 * @param kept entries whose cells have not changed since are taken from it
 */
export function keepLedger(
  log: Log,
  columns: LedgerColumns,
  configurations: readonly Configuration[],
  range: Range = { fromMs: log.startMs, toMs: endMs(log) },
  kept?: Kept,
): Entry[] {
  const before = kept?.log.stepMs === log.stepMs ? kept : undefined;
  const entryAt = new Map(before?.entries.map((entry) => [entry.fromMs, entry]));
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
      const old = entryAt.get(fromMs);
      const sums =
        old?.toMs === toMs &&
        isSame(log, columns, before!, cells, (log.startMs - before!.log.startMs) / log.stepMs)
          ? old.sums
          : sumCells(log, columns, configuration, cells);
      return [{ day, configuration, fromMs, toMs, sums }];
    }),
  );
}

/** Whether cells hold what they held before, `shift` cells further on; SOC is looked at one cell beyond them too. */
function isSame(
  log: Log,
  now: LedgerColumns,
  { log: before, columns: then }: Kept,
  { from, to }: Cells,
  shift: number,
): boolean {
  const values = (of: Log, leg: 'leg1' | 'leg2' | 'leg3') => of.channels.get(leg)?.values ?? null;
  const same = (a: Values, b: Values, end: number) => {
    if (!a || !b) return a === b;
    for (let i = from; i < end; i++) {
      const x = a[i]!;
      const y = b[i + shift]!;
      if (x !== y && (x === x || y === y)) return false;
    }
    return true;
  };
  return (
    Number.isInteger(shift) &&
    same(now.known, then.known, to) &&
    same(now.solarShare, then.solarShare, to) &&
    same(now.soc, then.soc, to + 1) &&
    same(now.solar, then.solar, to) &&
    same(now.load, then.load, to) &&
    same(now.grid, then.grid, to) &&
    same(now.battery, then.battery, to) &&
    (['leg1', 'leg2', 'leg3'] as const).every((leg) => same(values(log, leg), values(before, leg), to))
  );
}

type Values = Float64Array | Float32Array | Uint8Array | null;
