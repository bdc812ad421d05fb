import { cellAt } from '../../model/log.js';
import { flowColumns } from '../../passes/busColumns.js';
import type { RangeData } from '../../passes/rangeData.js';
import { median } from '../../statistics/median.js';
import { isWithin } from '../../system/tariffs.js';
import { offsetAt, zoneOf } from '../../time/zone.js';
import { keptIn } from './loggedReserves.js';

/** A window of the day in which the battery is charged from the grid. */
export interface ModelWindow {
  readonly start: string;
  readonly end: string;
  readonly toSoc: number;
  readonly months: readonly number[] | null;
  /** Power at which the battery is charged from the grid, W; null for all that it takes. */
  readonly chargeW: number | null;
}

/**
 * A time in which the log shows the battery charged from the grid, or kept while the home bought: before a storm, or on a
 * night that nothing regular explains.
 */
export interface DatedCharge {
  readonly fromMs: number;
  readonly toMs: number;
  readonly toSoc: number;
  /** 0 where it was only kept. */
  readonly chargeW: number;
}

/** How a log shows the battery being charged from the grid. */
export interface GridCharging {
  readonly windows: readonly ModelWindow[];
  readonly dated: readonly DatedCharge[];
}

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
const SLOT_MINUTES = 30;
const SLOTS = 1440 / SLOT_MINUTES;
/** A battery that charges with more than this share of its rating, beside what the sun leaves, is charged from the grid. */
const CHARGES = 0.05;
const LEAST_W = 100;
/** A battery is kept if it holds so much more than its reserve, for so long, while the home buys. */
const KEPT_SOC = 0.04;
const LEAST_KEPT_MS = HOUR_MS;
/** A pause shorter than this does not end a charge; what adds less than this to the charge is none. */
const PAUSE_MS = HOUR_MS;
const LEAST_SOC = 0.02;
const LONGEST_MS = 12 * HOUR_MS;
/** Of the days of a month so many must charge in a slot for it to be a window, */
const OFTEN = 0.4;
const LEAST_DAYS = 5;
/** and so many of those on which the charge was below the target. */
const REGULAR = 0.85;
const BELOW = 0.05;

/**
 * Charges from the grid in a log: windows that are kept to month by month, up to the charge at which they usually end and at
 * the power at which they usually charge, and apart from them each charge by itself.
 */
export function gridCharging(data: RangeData): GridCharging {
  const charges = loggedCharges(data);
  const windows = regularWindows(data, charges);
  const zone = zoneOf(data.log.zone);
  const isRegular = ({ fromMs, toMs }: DatedCharge) => {
    const local = new Date((fromMs + toMs) / 2 + offsetAt(zone, fromMs));
    const minute = local.getUTCHours() * 60 + local.getUTCMinutes();
    return windows.some((one) => one.months!.includes(local.getUTCMonth() + 1) && isWithin(minute, one));
  };
  return { windows, dated: charges.filter((one) => !isRegular(one)) };
}

/** Every time in which the battery was charged from the grid or kept, one after the other. */
function loggedCharges({ log, range, parts }: RangeData): DatedCharge[] {
  const columns = flowColumns(log);
  const { solar, load, grid, battery, soc } = columns;
  const { maxChargeW, nameplateWh, reserve } = parts.at(-1)!.configuration;
  const ratedW = maxChargeW ?? (nameplateWh ?? 0) / 2;
  if (!load || !grid || !battery || !soc || ratedW === 0) return [];
  const leastW = Math.max(LEAST_W, CHARGES * ratedW);
  const fromGridAt = (i: number) => -battery[i]! - Math.max(0, (solar ? solar[i]! : 0) - load[i]!);
  const isCharged = (i: number) => {
    const watts = fromGridAt(i);
    return watts > leastW && grid[i]! > watts / 2;
  };
  const isKept = keptIn(columns)!;
  const keptFrom = (i: number) => reserve !== null && soc[i]! > reserve + KEPT_SOC && isKept(i);
  const [first, end] = [cellAt(log, range.fromMs), cellAt(log, range.toMs)];
  const pause = Math.max(1, Math.round(PAUSE_MS / log.stepMs));
  const longest = Math.max(1, Math.round(LONGEST_MS / log.stepMs));
  const charges: DatedCharge[] = [];
  for (let from = first; from < end; from++) {
    if (!isCharged(from) && !keptFrom(from)) continue;
    let [last, highest] = [from - 1, soc[from]!];
    const powers: number[] = [];
    for (let i = from; i < Math.min(end, from + longest) && i - last <= pause; i++) {
      if (!isCharged(i)) continue;
      last = i;
      powers.push(fromGridAt(i));
      const after = soc[Math.min(log.count - 1, i + 1)]!;
      if (after > highest) highest = after;
    }
    let to = last + 1;
    while (to < Math.min(end, from + longest) && isKept(to)) to++;
    if (highest - soc[from]! >= LEAST_SOC || (to - from) * log.stepMs >= LEAST_KEPT_MS)
      charges.push({
        fromMs: log.startMs + from * log.stepMs,
        toMs: log.startMs + to * log.stepMs,
        toSoc: highest,
        chargeW: powers.length > 0 ? median(Float64Array.from(powers)) : 0,
      });
    from = Math.max(from, to - 1);
  }
  return charges;
}

/** Slots of half an hour in which a month charges on two days of five and more, and whenever the charge is below the target. */
function regularWindows({ log, range }: RangeData, charges: readonly DatedCharge[]): ModelWindow[] {
  const zone = zoneOf(log.zone);
  const soc = log.channels.get('soc')?.values;
  const days = Array.from({ length: 12 }, () => new Set<number>());
  for (let ms = range.fromMs; ms < range.toMs; ms += DAY_MS) {
    const localMs = ms + offsetAt(zone, ms) + DAY_MS / 2;
    days[new Date(localMs).getUTCMonth()]!.add(Math.floor(localMs / DAY_MS));
  }
  const charged = Array.from({ length: 12 * SLOTS }, () => new Map<number, DatedCharge>());
  for (const one of charges.filter(({ chargeW }) => chargeW > 0))
    for (let ms = one.fromMs; ms < one.toMs; ms += SLOT_MINUTES * 60_000) {
      const localMs = ms + offsetAt(zone, ms);
      const local = new Date(localMs);
      const slot = Math.floor((local.getUTCHours() * 60 + local.getUTCMinutes()) / SLOT_MINUTES);
      charged[local.getUTCMonth() * SLOTS + slot]!.set(Math.floor(localMs / DAY_MS), one);
    }
  const windows: ModelWindow[] = [];
  for (let month = 0; month < 12; month++) {
    const count = days[month]!.size;
    if (count < LEAST_DAYS) continue;
    const at = (slot: number) => charged[month * SLOTS + ((slot + SLOTS) % SLOTS)]!;
    const isOn = (slot: number) => at(slot).size >= OFTEN * count;
    for (let slot = 0; slot < SLOTS; slot++) {
      if (!isOn(slot) || isOn(slot - 1)) continue;
      let end = slot + 1;
      while (end < slot + SLOTS && isOn(end)) end++;
      const own = Array.from({ length: end - slot }, (_, k) => [...at(slot + k).values()]).flat();
      const toSoc = median(Float64Array.from(at(end - 1).values(), (one) => one.toSoc));
      // A rule charges on every day that begins it below its target; somebody's choice does not.
      const begun = [...days[month]!].filter((day) => {
        const localMs = day * DAY_MS + slot * SLOT_MINUTES * 60_000;
        const cell = cellAt(log, localMs - offsetAt(zone, localMs));
        return soc !== undefined && soc[cell]! < toSoc - BELOW;
      });
      const kept = begun.filter((day) =>
        Array.from({ length: end - slot }, (_, k) => at(slot + k)).some(
          (slotDays) => slotDays.has(day) || slotDays.has(day + 1),
        ),
      );
      if (kept.length < REGULAR * begun.length) continue;
      windows.push({
        start: clock(slot),
        end: clock(end % SLOTS),
        toSoc,
        months: [month + 1],
        chargeW: median(Float64Array.from(own, ({ chargeW }) => chargeW)),
      });
    }
  }
  return windows;
}

function clock(slot: number): string {
  const minute = slot * SLOT_MINUTES;
  return `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`;
}
