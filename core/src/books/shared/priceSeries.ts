import { cellAt, type Log } from '../../model/log.js';
import type { Range } from '../../model/range.js';
import type { System } from '../../system/schema.js';
import {
  kindOfDay,
  ratesOfDay,
  SLOT_MINUTES,
  SLOTS_A_DAY,
  tariffAt,
  tariffsInOrder,
  type BegunTariff,
  type Tariff,
} from '../../system/tariffs.js';
import { dayNumberAt, dayOf } from '../../time/days.js';
import { offsetAt, zoneOf, type Zone } from '../../time/zone.js';

const DAY_MS = 86_400_000;
/** Where the log carries its prices and no tariff is described. */
const LOGGED: BegunTariff = { fromMs: -Infinity, tariff: { from: '2000-01-01' } };

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
  /** Local month in which the bill ends, 1 to 12. */
  readonly month: number;
  /** False where the range or the tariff ends before the bill does: nothing is settled with it then. */
  readonly isWhole: boolean;
}

/**
 * Prices and bills of a range, from dated tariffs (each from local midnight) and from prices that the log itself carries,
 * which lead where they are given. Windows are those of the interval's own local day and time, over changes of the clock.
 * @returns null without a tariff and without logged prices
 */
export function priceSeries(log: Log, system: System, range: Range): PriceSeries | null {
  const zone = zoneOf(log.zone);
  const [fromCell, end] = [cellAt(log, range.fromMs), cellAt(log, range.toMs)];
  const [loggedBuy, loggedSell] = (['importRate', 'exportRate'] as const).map(
    (quantity) => log.channels.get(quantity)?.values,
  );
  const described = tariffsInOrder(system, zone);
  if (described.length === 0 && !loggedBuy) return null;
  const tariffs = described.length > 0 ? described : [LOGGED];
  const count = Math.max(0, end - fromCell);
  const [buy, sell] = [new Float64Array(count), new Float64Array(count)];
  const bill = new Uint16Array(count);
  const bills = billsOf(zone, tariffs, range);
  const daysAlike = new Map<string, DayPrices>();
  let b = 0;
  for (let number = dayNumberAt(zone, range.fromMs); ; number++) {
    const day = dayOf(zone, number);
    if (day.fromMs >= range.toMs) break;
    const tariff = tariffAt(tariffs, day.fromMs)!;
    const first = Math.max(fromCell, cellAt(log, day.fromMs));
    const last = Math.min(end, cellAt(log, day.toMs));
    if (last <= first) continue;
    const firstMs = log.startMs + first * log.stepMs;
    const cells = { firstMs, count: last - first, stepMs: log.stepMs };
    // Days of one kind have the same prices: they are reckoned once, but for those on which the clock changes.
    const isPlain = offsetAt(zone, day.fromMs) === offsetAt(zone, day.toMs - 1);
    const key = `${tariffs.findIndex((one) => one.tariff === tariff)} ${kindOfDay(tariff, number)} ${firstMs - day.fromMs} ${cells.count}`;
    let prices = isPlain ? daysAlike.get(key) : undefined;
    if (!prices) {
      prices = pricesOfDay(zone, tariff, number, cells);
      if (isPlain) daysAlike.set(key, prices);
    }
    const at = first - fromCell;
    buy.set(prices.buy, at);
    sell.set(prices.sell, at);
    // Bills begin at midnight.
    while (b + 1 < bills.length && bills[b]!.toMs <= firstMs) b++;
    bill.fill(b, at, at + cells.count);
  }
  for (const [own, logged] of [
    [buy, loggedBuy],
    [sell, loggedSell],
  ] as const)
    if (logged)
      for (let i = 0; i < count; i++) {
        const price = logged[fromCell + i]!;
        if (price === price) own[i] = price;
      }
  return { fromCell, buy, sell, bill, bills };
}

/** Prices of the intervals of a local day. */
interface DayPrices {
  readonly buy: Float64Array;
  readonly sell: Float64Array;
}

function pricesOfDay(
  zone: Zone,
  tariff: Tariff,
  number: number,
  { firstMs, count, stepMs }: { readonly firstMs: number; readonly count: number; readonly stepMs: number },
): DayPrices {
  const [buys, sells] = [ratesOfDay(tariff, 'import', number), ratesOfDay(tariff, 'export', number)];
  const perCell = Math.max(1, Math.round(stepMs / (SLOT_MINUTES * 60_000)));
  const [buy, sell] = [new Float64Array(count), new Float64Array(count)];
  for (let i = 0; i < count; i++) {
    const ms = firstMs + i * stepMs;
    const slot = Math.floor((ms + offsetAt(zone, ms) - number * DAY_MS) / 60_000 / SLOT_MINUTES);
    let [bought, sold] = [0, 0];
    for (let k = 0; k < perCell; k++) {
      const at = Math.min(SLOTS_A_DAY - 1, slot + k);
      bought += buys[at]!;
      sold += sells[at]!;
    }
    buy[i] = bought / perCell;
    sell[i] = sold / perCell;
  }
  return { buy, sell };
}

/**
 * What a kWh exported in an interval is worth, without tax: its rate where it is paid, that of import where it is credited,
 * else nothing.
 */
export function worthOfExport({ buy, sell, bill, bills }: PriceSeries, k: number): number {
  const scheme = bills[bill[k]!]!.tariff.exportScheme ?? 'paid';
  const worth = scheme === 'paid' ? sell[k]! : scheme === 'net' ? buy[k]! : 0;
  return worth === worth ? worth : 0;
}

/** The bills of a range: from each billing day to the next, cut where another tariff begins. */
function billsOf(zone: Zone, tariffs: readonly BegunTariff[], range: Range): BillingPeriod[] {
  const bills: BillingPeriod[] = [];
  let fromMs = range.fromMs;
  while (fromMs < range.toMs) {
    const tariff = tariffAt(tariffs, fromMs)!;
    const billingDay = tariff.billingDay ?? 1;
    const local = new Date(fromMs + offsetAt(zone, fromMs));
    const month = local.getUTCMonth() + (local.getUTCDate() < billingDay ? 0 : 1);
    const next = Date.UTC(local.getUTCFullYear(), month, billingDay) / DAY_MS;
    const nextMs = dayOf(zone, next).fromMs;
    const begun = fromMs;
    const changeMs = tariffs.find((one) => one.fromMs > begun)?.fromMs ?? Infinity;
    const toMs = Math.min(nextMs, changeMs, range.toMs);
    bills.push({
      fromMs,
      toMs,
      tariff,
      days: daysWithin(zone, { fromMs, toMs }),
      month: new Date((next - 1) * DAY_MS).getUTCMonth() + 1,
      isWhole: toMs === nextMs,
    });
    fromMs = toMs;
  }
  return bills;
}

function daysWithin(zone: Zone, { fromMs, toMs }: Range): number {
  let days = 0;
  for (let number = dayNumberAt(zone, fromMs); ; number++) {
    const day = dayOf(zone, number);
    if (day.fromMs >= toMs) return days;
    days += (Math.min(toMs, day.toMs) - Math.max(fromMs, day.fromMs)) / (day.toMs - day.fromMs);
  }
}
