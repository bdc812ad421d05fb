import { cellAt, type Log } from '../../model/log.js';
import type { Range } from '../../model/range.js';
import type { System } from '../../system/schema.js';
import { dayNumberAt, dayNumberOfDate, dayOf } from '../../time/days.js';
import { offsetAt, zoneOf, type Zone } from '../../time/zone.js';

export type Tariff = NonNullable<System['tariffs']>[number];
type Rate = NonNullable<Tariff['import']>[number];

const DAY_MS = 86_400_000;
/** A day's rates are kept by so many minutes. */
const SLOT_MINUTES = 5;
const SLOTS = 1440 / SLOT_MINUTES;
const WEEK = ['sun', 'mon', 'tue', 'wed', 'thu', 'fri', 'sat'] as const;

/** The prices of a range: one for each interval and direction, in the home's currency a kWh. */
export interface PriceSeries {
  readonly fromCell: number;
  /** Without blocks; NaN where no rate holds. */
  readonly buy: Float64Array;
  readonly sell: Float64Array;
  /** Bill that each interval belongs to, an index into `bills`. */
  readonly bill: Uint16Array;
  readonly bills: readonly BillingPeriod[];
}

/** A billing month, or what of it lies in the range, under one tariff. */
export interface BillingPeriod extends Range {
  readonly tariff: Tariff;
  /** Days of it in the range, parts of days included. */
  readonly days: number;
  /** Local month in which the bill ends, 1 to 12, and its year. */
  readonly month: number;
  readonly year: number;
  /** True where the next bill ends in another month, so that a yearly settlement falls due with this one. */
  readonly isLastOfMonth: boolean;
}

/**
 * Prices and bills of a range, from dated tariffs (each from local midnight) and from prices that the log itself carries,
 * which lead where they are given. Windows are those of the interval's own local day and time, over changes of the clock.
 * @returns null without a tariff and without logged prices
 */
export function priceSeries(log: Log, system: System, range: Range): PriceSeries | null {
  const zone = zoneOf(log.zone);
  const [fromCell, end] = [cellAt(log, range.fromMs), cellAt(log, range.toMs)];
  const logged = {
    buy: log.channels.get('importRate')?.values,
    sell: log.channels.get('exportRate')?.values,
  };
  const tariffs = begun(system, zone);
  if (tariffs.length === 0 && !logged.buy) return null;
  const list =
    tariffs.length > 0 ? tariffs : [{ fromMs: -Infinity, tariff: { from: '2000-01-01' } as Tariff }];
  const count = Math.max(0, end - fromCell);
  const [buy, sell] = [new Float64Array(count).fill(NaN), new Float64Array(count).fill(NaN)];
  const bill = new Uint16Array(count);
  const bills = billsOf(zone, list, range);
  const perCell = Math.max(1, Math.round(log.stepMs / (SLOT_MINUTES * 60_000)));
  const kept = new Map<string, Float64Array>();
  const slotsOf = (
    tariff: Tariff,
    which: 'import' | 'export',
    date: string,
    weekday: number,
  ): Float64Array => {
    const classes = Object.entries(tariff.dayClasses ?? {}).flatMap(([name, days]) =>
      days.includes(date) ? [name] : [],
    );
    const key = `${list.findIndex((one) => one.tariff === tariff)} ${which} ${date.slice(5, 7)} ${weekday} ${classes.join()}`;
    let slots = kept.get(key);
    if (!slots)
      kept.set(key, (slots = daySlots(tariff[which] ?? [], Number(date.slice(5, 7)), weekday, classes)));
    return slots;
  };
  let b = 0;
  for (let number = dayNumberAt(zone, range.fromMs); ; number++) {
    const day = dayOf(zone, number);
    if (day.fromMs >= range.toMs) break;
    const tariff = list.findLast(({ fromMs }) => fromMs <= day.fromMs)?.tariff ?? list[0]!.tariff;
    const weekday = (((number + 4) % 7) + 7) % 7;
    const [buys, sells] = [
      slotsOf(tariff, 'import', day.date, weekday),
      slotsOf(tariff, 'export', day.date, weekday),
    ];
    const isPlain =
      day.toMs - day.fromMs === DAY_MS && offsetAt(zone, day.fromMs) === offsetAt(zone, day.toMs - 1);
    const first = offsetAt(zone, day.fromMs);
    for (let i = Math.max(fromCell, cellAt(log, day.fromMs)); i < Math.min(end, cellAt(log, day.toMs)); i++) {
      const ms = log.startMs + i * log.stepMs;
      const offset = isPlain ? first : offsetAt(zone, ms);
      const slot = Math.floor((ms + offset - number * DAY_MS) / 60_000 / SLOT_MINUTES);
      let [bought, sold] = [0, 0];
      for (let k = 0; k < perCell; k++) {
        const at = Math.min(SLOTS - 1, slot + k);
        bought += buys[at]!;
        sold += sells[at]!;
      }
      buy[i - fromCell] = bought / perCell;
      sell[i - fromCell] = sold / perCell;
      while (b + 1 < bills.length && bills[b]!.toMs <= ms) b++;
      bill[i - fromCell] = b;
    }
  }
  for (const [own, values] of [
    [buy, logged.buy],
    [sell, logged.sell],
  ] as const)
    for (let i = fromCell; values && i < end; i++)
      if (values[i] === values[i]) own[i - fromCell] = values[i]!;
  return { fromCell, buy, sell, bill, bills };
}

/** Tariffs with the instants at which they begin, in order. */
function begun({ tariffs }: System, zone: Zone): { readonly fromMs: number; readonly tariff: Tariff }[] {
  return (tariffs ?? [])
    .map((tariff) => ({ fromMs: dayOf(zone, dayNumberOfDate(tariff.from)).fromMs, tariff }))
    .sort((one, other) => one.fromMs - other.fromMs);
}

/** Rates of a day by slots of five minutes, without blocks; later entries override earlier ones where they apply. */
function daySlots(
  rates: readonly Rate[],
  month: number,
  weekday: number,
  classes: readonly string[],
): Float64Array {
  const slots = new Float64Array(SLOTS).fill(NaN);
  for (const rate of rates) if (rate.aboveKWh === undefined) enter(slots, rate, month, weekday, classes);
  return slots;
}

function enter(
  slots: Float64Array,
  rate: Rate,
  month: number,
  weekday: number,
  classes: readonly string[],
): void {
  const { days, months, start, end, dayClass } = rate;
  if (days && !days.includes(WEEK[weekday]!)) return;
  if (months && !months.includes(month)) return;
  if (dayClass !== undefined && !classes.includes(dayClass)) return;
  for (let slot = 0; slot < SLOTS; slot++)
    if (isWithin(slot * SLOT_MINUTES, start, end)) slots[slot] = rate.rate;
}

/** True of a minute of the day within a window; one that ends before it begins goes over midnight. */
export function isWithin(minute: number, start: string | undefined, end: string | undefined): boolean {
  if (start === undefined || end === undefined) return true;
  const [from, to] = [minutesOf(start), minutesOf(end)];
  return from < to ? minute >= from && minute < to : minute >= from || minute < to;
}

function minutesOf(clock: string): number {
  return Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3));
}

/** The bills of a range: from each billing day to the next, cut where another tariff begins. */
function billsOf(
  zone: Zone,
  tariffs: readonly { readonly fromMs: number; readonly tariff: Tariff }[],
  range: Range,
): BillingPeriod[] {
  const bills: BillingPeriod[] = [];
  const at = (ms: number) => tariffs.findLast(({ fromMs }) => fromMs <= ms) ?? tariffs[0]!;
  let fromMs = range.fromMs;
  while (fromMs < range.toMs) {
    const { tariff } = at(fromMs);
    const billingDay = tariff.billingDay ?? 1;
    const local = new Date(fromMs + offsetAt(zone, fromMs));
    const [year, month] = [local.getUTCFullYear(), local.getUTCMonth()];
    const next = Date.UTC(year, local.getUTCDate() < billingDay ? month : month + 1, billingDay) / DAY_MS;
    const nextMs = dayOf(zone, next).fromMs;
    const changeMs = tariffs.find((one) => one.fromMs > fromMs)?.fromMs ?? Infinity;
    const toMs = Math.min(nextMs, changeMs, range.toMs);
    const last = new Date((next - 1) * DAY_MS);
    bills.push({
      fromMs,
      toMs,
      tariff,
      days: daysWithin(zone, fromMs, toMs),
      month: last.getUTCMonth() + 1,
      year: last.getUTCFullYear(),
      isLastOfMonth: toMs === nextMs,
    });
    fromMs = toMs;
  }
  return bills;
}

function daysWithin(zone: Zone, fromMs: number, toMs: number): number {
  let days = 0;
  for (let number = dayNumberAt(zone, fromMs); ; number++) {
    const day = dayOf(zone, number);
    if (day.fromMs >= toMs) return days;
    days += (Math.min(toMs, day.toMs) - Math.max(fromMs, day.fromMs)) / (day.toMs - day.fromMs);
  }
}
