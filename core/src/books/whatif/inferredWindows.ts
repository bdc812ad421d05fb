import { cellAt } from '../../model/log.js';
import { flowColumns } from '../../passes/busColumns.js';
import type { RangeData } from '../../passes/rangeData.js';
import { quantile } from '../../statistics/quantile.js';
import { offsetAt, zoneOf } from '../../time/zone.js';

/** A window of the day in which the battery is charged from the grid. */
export interface ModelWindow {
  readonly start: string;
  readonly end: string;
  readonly toSoc: number;
  readonly months: readonly number[] | null;
}

const SLOT_MINUTES = 30;
const QUARTER_MS = 900_000;
const SLOTS = 1440 / SLOT_MINUTES;
/** A battery that charges with more than this share of its rating, beside what the sun leaves, is charged from the grid. */
const CHARGES = 0.05;
const LEAST_W = 100;
/** Of the days of a month so many must charge in a slot for it to be a window. */
const OFTEN = 0.4;
const LEAST_DAYS = 5;

/**
 * Windows in which a log shows the battery being charged from the grid, month by month, where none are described: slots of
 * half an hour that charge on two days of five and more, up to the charge at which they usually end.
 */
export function inferredWindows(data: RangeData): ModelWindow[] {
  const { log, range } = data;
  const { solar, load, grid, battery, soc } = flowColumns(log);
  const rated =
    data.parts.at(-1)!.configuration.maxChargeW ?? (data.parts.at(-1)!.configuration.nameplateWh ?? 0) / 2;
  if (!load || !grid || !battery || !soc || rated === 0) return [];
  const zone = zoneOf(log.zone);
  const charged = Array.from({ length: 12 * SLOTS }, () => new Map<number, number>());
  const days = Array.from({ length: 12 }, () => new Set<number>());
  const end = cellAt(log, range.toMs);
  const leastW = Math.max(LEAST_W, CHARGES * rated);
  // Calendar and clock are asked once for each quarter of an hour: no zone is offset by less.
  const perQuarter = Math.max(1, Math.floor(QUARTER_MS / log.stepMs));
  for (let from = cellAt(log, range.fromMs); from < end; from += perQuarter) {
    const ms = log.startMs + from * log.stepMs;
    const localMs = ms + offsetAt(zone, ms);
    const local = new Date(localMs);
    const [month, day] = [local.getUTCMonth(), Math.floor(localMs / 86_400_000)];
    const slot = Math.floor((local.getUTCHours() * 60 + local.getUTCMinutes()) / SLOT_MINUTES);
    days[month]!.add(day);
    const own = charged[month * SLOTS + slot]!;
    for (let i = from; i < Math.min(end, from + perQuarter); i++) {
      const spare = Math.max(0, (solar ? solar[i]! : 0) - load[i]!);
      const fromGrid = -battery[i]! - spare;
      if (!(fromGrid > leastW && grid[i]! > fromGrid / 2)) continue;
      const after = soc[Math.min(log.count - 1, i + 1)]!;
      own.set(day, Math.max(own.get(day) ?? 0, after === after ? after : 0));
    }
  }
  const windows: ModelWindow[] = [];
  for (let month = 0; month < 12; month++) {
    const count = days[month]!.size;
    if (count < LEAST_DAYS) continue;
    const isOn = (slot: number) => charged[month * SLOTS + ((slot + SLOTS) % SLOTS)]!.size >= OFTEN * count;
    for (let slot = 0; slot < SLOTS; slot++) {
      if (!isOn(slot) || isOn(slot - 1)) continue;
      let end = slot + 1;
      while (end < slot + SLOTS && isOn(end)) end++;
      const ends = Float64Array.from(charged[month * SLOTS + ((end - 1) % SLOTS)]!.values()).sort();
      windows.push({
        start: clock(slot),
        end: clock(end % SLOTS),
        toSoc: quantile(ends, 0.5),
        months: [month + 1],
      });
    }
  }
  return windows;
}

function clock(slot: number): string {
  const minute = slot * SLOT_MINUTES;
  return `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`;
}
