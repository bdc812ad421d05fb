import { dayNumberOfDate, dayOf } from '../time/days.js';
import { zoneOf, type Zone } from '../time/zone.js';
import type { System } from './schema.js';

export type Tariff = NonNullable<System['tariffs']>[number];
type Rate = NonNullable<Tariff['import']>[number];
/** When a rate or a demand charge applies. */
type When = Pick<Rate, 'days' | 'months' | 'dayClass' | 'start' | 'end'>;

const DAY_MS = 86_400_000;
/** A day's rates are kept by so many minutes. */
export const SLOT_MINUTES = 5;
export const SLOTS_A_DAY = 1440 / SLOT_MINUTES;
/** 1 January 1970 was a Thursday. */
const WEEK = ['thu', 'fri', 'sat', 'sun', 'mon', 'tue', 'wed'] as const;
const MEAN_DAYS = 52 * 7;

/** A tariff with the instant at which it begins: midnight where the home is. */
export interface BegunTariff {
  readonly fromMs: number;
  readonly tariff: Tariff;
}

/** The tariffs of a home in the order in which they begin. */
export function tariffsInOrder({ tariffs }: Pick<System, 'tariffs'>, zone: Zone): BegunTariff[] {
  return (tariffs ?? [])
    .map((tariff) => ({ fromMs: dayOf(zone, dayNumberOfDate(tariff.from)).fromMs, tariff }))
    .sort((one, other) => one.fromMs - other.fromMs);
}

/** The tariff that holds at an instant: the last one begun, before all of them the first; undefined without one. */
export function tariffAt(tariffs: readonly BegunTariff[], ms: number): Tariff | undefined {
  return (tariffs.findLast(({ fromMs }) => fromMs <= ms) ?? tariffs[0])?.tariff;
}

/**
 * Whether a rate or a demand charge applies on a local day, whatever the time: by weekday, month and announced class.
 * @param day number of the local calendar day
 */
export function appliesOn({ days, months, dayClass }: When, { dayClasses }: Tariff, day: number): boolean {
  if (days && !days.includes(WEEK[((day % 7) + 7) % 7]!)) return false;
  const date = new Date(day * DAY_MS);
  if (months && !months.includes(date.getUTCMonth() + 1)) return false;
  return dayClass === undefined || (dayClasses?.[dayClass] ?? []).includes(date.toISOString().slice(0, 10));
}

/** Whether a minute of the day lies in a window; one that ends before it begins goes over midnight. */
export function isWithin(minute: number, { start, end }: Pick<When, 'start' | 'end'>): boolean {
  if (start === undefined || end === undefined) return true;
  const [from, to] = [minuteOf(start), minuteOf(end)];
  return from < to ? minute >= from && minute < to : minute >= from || minute < to;
}

/** Minutes after midnight of a time of day, `23:30`. */
export function minuteOf(clock: string): number {
  return Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3));
}

/**
 * Rates of a local day by slots of five minutes, without blocks; later entries override earlier ones where they apply.
 * @param day number of the local calendar day
 * @returns a currency amount a kWh for each slot, NaN where no rate holds
 */
export function ratesOfDay(tariff: Tariff, flow: 'import' | 'export', day: number): Float64Array {
  const slots = new Float64Array(SLOTS_A_DAY).fill(NaN);
  for (const rate of tariff[flow] ?? []) {
    if (rate.aboveKWh !== undefined || !appliesOn(rate, tariff, day)) continue;
    if (rate.start === undefined || rate.end === undefined) {
      slots.fill(rate.rate);
      continue;
    }
    const [from, to] = [rate.start, rate.end].map((clock) => Math.ceil(minuteOf(clock) / SLOT_MINUTES)) as [
      number,
      number,
    ];
    if (from < to) slots.fill(rate.rate, from, to);
    else slots.fill(rate.rate, from).fill(rate.rate, 0, to);
  }
  return slots;
}

/** What of a local day its rates depend on: days of one kind under one tariff have the same. */
export function kindOfDay({ dayClasses = {} }: Tariff, day: number): string {
  const date = new Date(day * DAY_MS);
  const names = Object.keys(dayClasses);
  const iso = names.length > 0 ? date.toISOString().slice(0, 10) : '';
  const classes = names.filter((name) => dayClasses[name]!.includes(iso));
  return `${((day % 7) + 7) % 7} ${date.getUTCMonth()} ${classes.join()}`;
}

/**
 * What a draw that never rests pays for a kWh: the mean import rate, over the 52 weeks that follow, of the tariff that holds
 * at an instant.
 * @returns null where no rate is described
 */
export function meanImportRate(system: System, ms: number): number | null {
  const tariff = tariffAt(tariffsInOrder(system, zoneOf(system.timeZone)), ms);
  if (!tariff) return null;
  const first = Math.floor(ms / DAY_MS);
  let [sum, count] = [0, 0];
  for (let day = first; day < first + MEAN_DAYS; day++)
    for (const rate of ratesOfDay(tariff, 'import', day))
      if (rate === rate) {
        sum += rate;
        count++;
      }
  return count > 0 ? sum / count : null;
}
