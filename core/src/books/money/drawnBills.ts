import type { Log } from '../../model/log.js';
import { offsetAt, zoneOf } from '../../time/zone.js';
import { isWithin, type BillingPeriod, type PriceSeries, type Tariff } from './priceSeries.js';

/** One bill, with tax where the tariff has it; energies in kWh. */
export interface Bill extends BillingPeriod {
  readonly importKWh: number;
  readonly exportKWh: number;
  readonly importCost: number;
  readonly demandCost: number;
  readonly exportIncome: number;
  readonly standing: number;
  /** Without the standing charge. */
  readonly total: number;
  /** kWh of export credited in this bill under net metering, and left for the next. */
  readonly creditedKWh: number;
  readonly carriedKWh: number;
  /** Of the import, without a price. */
  readonly unpricedKWh: number;
  /** A kWh bought costs so much more or less in this bill than its rate without blocks says. */
  readonly blockFactor: number;
}

const WEEK = ['sun', 'mon', 'tue', 'wed', 'thu', 'fri', 'sat'] as const;

/**
 * Draws up the bills of what was bought and sold, W by interval of the price series; NaN is not billed.
 * @source common practice, no published source: blocks by the billing month, demand as the highest clock-aligned window,
 *   net metering as kWh credited at the bill's mean import rate and settled once a year
 */
export function drawnBills(log: Log, prices: PriceSeries, bought: Float64Array, sold: Float64Array): Bill[] {
  const hours = log.stepMs / 3_600_000;
  const sums = prices.bills.map(() => ({ import: 0, export: 0, cost: 0, income: 0, unpriced: 0 }));
  const blocks = new Set(prices.bills.flatMap(({ tariff }, b) => (hasBlocks(tariff) ? [b] : [])));
  for (let i = 0; i < prices.bill.length; i++) {
    const sum = sums[prices.bill[i]!]!;
    const buying = bought[i]!;
    const selling = sold[i]!;
    if (buying > 0) {
      const kWh = (buying * hours) / 1000;
      const rate =
        blocks.size > 0 && blocks.has(prices.bill[i]!)
          ? blockRate(log, prices, i, sum.import, kWh)
          : prices.buy[i]!;
      sum.import += kWh;
      if (rate === rate) sum.cost += kWh * rate;
      else sum.unpriced += kWh;
    }
    if (selling > 0) {
      const kWh = (selling * hours) / 1000;
      const rate = prices.sell[i]!;
      sum.export += kWh;
      if (rate === rate) sum.income += kWh * rate;
    }
  }
  let carried = 0;
  return prices.bills.map((period, b) => {
    const { tariff, days } = period;
    const sum = sums[b]!;
    const tax = 1 + (tariff.taxShare ?? 0);
    const scheme = tariff.exportScheme ?? 'paid';
    let [income, credited] = [scheme === 'paid' ? sum.income : 0, 0];
    if (scheme === 'net') {
      const available = carried + sum.export;
      credited = Math.min(available, sum.import);
      income = sum.import > 0 ? credited * (sum.cost / sum.import) : 0;
      carried = available - credited;
      if (tariff.settleMonth === period.month && period.isLastOfMonth) {
        income += carried * (tariff.settleRate ?? 0);
        carried = 0;
      }
    }
    const demandCost = (tariff.demand ?? []).reduce(
      (cost, one) => cost + one.ratePerKW * highestDemand(log, prices, bought, b, one),
      0,
    );
    const plain = plainCost(prices, bought, b, hours);
    return {
      ...period,
      importKWh: sum.import,
      exportKWh: sum.export,
      importCost: sum.cost * tax,
      demandCost: demandCost * tax,
      exportIncome: income * tax,
      standing: (tariff.standingPerDay ?? 0) * days * tax,
      total: (sum.cost + demandCost - income) * tax,
      creditedKWh: credited,
      carriedKWh: scheme === 'net' ? carried : 0,
      unpricedKWh: sum.unpriced,
      blockFactor: blocks.has(b) && plain > 0 ? sum.cost / plain : 1,
    };
  });
}

function hasBlocks(tariff: Tariff): boolean {
  return (tariff.import ?? []).some(({ aboveKWh }) => aboveKWh !== undefined);
}

/** Mean rate of an interval's energy under blocks: a part of it may lie on either side of a block's edge. */
function blockRate(log: Log, prices: PriceSeries, i: number, before: number, kWh: number): number {
  const { tariff } = prices.bills[prices.bill[i]!]!;
  const zone = zoneOf(log.zone);
  const ms = log.startMs + (prices.fromCell + i) * log.stepMs;
  const local = new Date(ms + offsetAt(zone, ms));
  const minute = local.getUTCHours() * 60 + local.getUTCMinutes();
  const edges = (tariff.import ?? []).flatMap((rate) => {
    const { aboveKWh, days, months, start, end, dayClass } = rate;
    if (aboveKWh === undefined) return [];
    const isHere =
      (!days || days.includes(WEEK[local.getUTCDay()]!)) &&
      (!months || months.includes(local.getUTCMonth() + 1)) &&
      (dayClass === undefined ||
        (tariff.dayClasses?.[dayClass] ?? []).includes(local.toISOString().slice(0, 10))) &&
      isWithin(minute, start, end);
    return isHere ? [{ aboveKWh, rate: rate.rate }] : [];
  });
  let [cost, at] = [0, before];
  const end = before + kWh;
  while (at < end - 1e-12) {
    const own = edges.findLast(({ aboveKWh }) => aboveKWh <= at + 1e-12);
    const next = Math.min(
      end,
      ...edges.filter(({ aboveKWh }) => aboveKWh > at + 1e-12).map(({ aboveKWh }) => aboveKWh),
    );
    cost += (next - at) * (own?.rate ?? prices.buy[i]!);
    at = next;
  }
  return kWh > 0 ? cost / kWh : prices.buy[i]!;
}

function plainCost({ bill, buy }: PriceSeries, bought: Float64Array, b: number, hours: number): number {
  let cost = 0;
  const end = bill.lastIndexOf(b) + 1;
  for (let i = Math.max(0, bill.indexOf(b)); i < end; i++)
    if (bought[i]! > 0 && buy[i] === buy[i]) cost += (bought[i]! * hours * buy[i]!) / 1000;
  return cost;
}

/** Highest mean of a clock-aligned window of a bill, kW. */
function highestDemand(
  log: Log,
  prices: PriceSeries,
  bought: Float64Array,
  b: number,
  { windowMinutes, days, months, start, end }: NonNullable<Tariff['demand']>[number],
): number {
  const zone = zoneOf(log.zone);
  const windowMs = Math.max(windowMinutes * 60_000, log.stepMs);
  const perWindow = windowMs / log.stepMs;
  let [window, sum, highest] = [-1, 0, 0];
  const last = prices.bill.lastIndexOf(b) + 1;
  for (let i = Math.max(0, prices.bill.indexOf(b)); i < last; i++) {
    const ms = log.startMs + (prices.fromCell + i) * log.stepMs;
    const localMs = ms + offsetAt(zone, ms);
    const local = new Date(localMs);
    const isHere =
      (!days || days.includes(WEEK[local.getUTCDay()]!)) &&
      (!months || months.includes(local.getUTCMonth() + 1)) &&
      isWithin(local.getUTCHours() * 60 + local.getUTCMinutes(), start, end);
    const own = Math.floor(localMs / windowMs);
    if (own !== window) [window, sum] = [own, 0];
    if (isHere && bought[i]! > 0) sum += bought[i]!;
    highest = Math.max(highest, sum / perWindow / 1000);
  }
  return highest;
}
