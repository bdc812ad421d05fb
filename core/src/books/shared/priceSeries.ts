import { cellAt, type Log } from '../../model/log.js';
import type { Range } from '../../model/range.js';
import type { System } from '../../system/schema.js';
import {
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
  const perCell = Math.max(1, Math.round(log.stepMs / (SLOT_MINUTES * 60_000)));
  let b = 0;
  for (let number = dayNumberAt(zone, range.fromMs); ; number++) {
    const day = dayOf(zone, number);
    if (day.fromMs >= range.toMs) break;
    const tariff = tariffAt(tariffs, day.fromMs)!;
    const [buys, sells] = [ratesOfDay(tariff, 'import', number), ratesOfDay(tariff, 'export', number)];
    const last = Math.min(end, cellAt(log, day.toMs));
    for (let i = Math.max(fromCell, cellAt(log, day.fromMs)); i < last; i++) {
      const ms = log.startMs + i * log.stepMs;
      const slot = Math.floor((ms + offsetAt(zone, ms) - number * DAY_MS) / 60_000 / SLOT_MINUTES);
      let [bought, sold] = [0, 0];
      for (let k = 0; k < perCell; k++) {
        const at = Math.min(SLOTS_A_DAY - 1, slot + k);
        bought += buys[at]!;
        sold += sells[at]!;
      }
      const own = i - fromCell;
      buy[own] = bought / perCell;
      sell[own] = sold / perCell;
      if (loggedBuy && loggedBuy[i] === loggedBuy[i]) buy[own] = loggedBuy[i]!;
      if (loggedSell && loggedSell[i] === loggedSell[i]) sell[own] = loggedSell[i]!;
      while (b + 1 < bills.length && bills[b]!.toMs <= ms) b++;
      bill[own] = b;
    }
  }
  return { fromCell, buy, sell, bill, bills };
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
