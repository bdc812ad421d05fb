import type { Log } from '../../model/log.js';
import { offsetAt, zoneOf } from '../../time/zone.js';
import { appliesOn, isWithin, type Tariff } from '../../system/tariffs.js';
import type { BillingPeriod, PriceSeries } from '../shared/priceSeries.js';

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

const DAY_MS = 86_400_000;

/** What went over the meter, W by interval of the price series: apart, or as one course, import positive. NaN is not billed. */
export type Exchange =
  { readonly bought: Float64Array; readonly sold: Float64Array | null } | { readonly net: Float64Array };

/**
 * Draws up the bills of what was bought and sold.
 * @source common practice, no published source: blocks by the billing month, demand as the highest clock-aligned window,
 *   net metering as kWh credited at the bill's mean import rate and settled once a year
 */
export function drawnBills(log: Log, prices: PriceSeries, exchange: Exchange): Bill[] {
  const bought = 'net' in exchange ? exchange.net : exchange.bought;
  const hours = log.stepMs / 3_600_000;
  const sums = prices.bills.map(() => ({ import: 0, export: 0, cost: 0, income: 0, unpriced: 0 }));
  const blocks = prices.bills.map(({ tariff }) => hasBlocks(tariff));
  for (let from = 0; from < prices.bill.length;) {
    const b = prices.bill[from]!;
    let to = from + 1;
    while (to < prices.bill.length && prices.bill[to] === b) to++;
    addStretch(sums[b]!, log, prices, exchange, from, to);
    from = to;
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
      if (tariff.settleMonth === period.month && period.isWhole) {
        income += carried * (tariff.settleRate ?? 0);
        carried = 0;
      }
    }
    const demandCost = (tariff.demand ?? []).reduce(
      (cost, one) => cost + one.ratePerKW * highestDemand(log, prices, bought, b, one),
      0,
    );
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
      blockFactor: blocks[b] ? blockFactor(prices, bought, b, hours, sum.cost) : 1,
    };
  });
}

interface BillSums {
  import: number;
  export: number;
  cost: number;
  income: number;
  unpriced: number;
}

/** Adds intervals of one bill to its sums. They run up apart from the object, which would box every number of every interval. */
function addStretch(
  sums: BillSums,
  log: Log,
  prices: PriceSeries,
  exchange: Exchange,
  from: number,
  to: number,
): void {
  const { buy, sell, bills, bill } = prices;
  const isBlocked = hasBlocks(bills[bill[from]!]!.tariff);
  const [bought, sold] = 'net' in exchange ? [exchange.net, exchange.net] : [exchange.bought, exchange.sold];
  const sign = 'net' in exchange ? -1 : 1;
  const toKWh = log.stepMs / 3.6e9;
  let imported = sums.import;
  let exported = 0;
  let cost = 0;
  let income = 0;
  let unpriced = 0;
  for (let i = from; i < to; i++) {
    const buying = bought[i]!;
    if (buying > 0) {
      const kWh = buying * toKWh;
      const rate = isBlocked ? blockRate(log, prices, i, imported, kWh) : buy[i]!;
      imported += kWh;
      if (rate === rate) cost += kWh * rate;
      else unpriced += kWh;
    }
    const selling = sold === null ? 0 : sign * sold[i]!;
    if (selling > 0) {
      const kWh = selling * toKWh;
      const rate = sell[i]!;
      exported += kWh;
      if (rate === rate) income += kWh * rate;
    }
  }
  sums.import = imported;
  sums.export += exported;
  sums.cost += cost;
  sums.income += income;
  sums.unpriced += unpriced;
}

function hasBlocks(tariff: Tariff): boolean {
  return (tariff.import ?? []).some(({ aboveKWh }) => aboveKWh !== undefined);
}

/** Mean rate of an interval's energy under blocks: a part of it may lie on either side of a block's edge. */
function blockRate(log: Log, prices: PriceSeries, i: number, before: number, kWh: number): number {
  const { tariff } = prices.bills[prices.bill[i]!]!;
  const { day, minute } = localTime(log, prices, i);
  const edges = (tariff.import ?? []).flatMap((rate) =>
    rate.aboveKWh !== undefined && appliesOn(rate, tariff, day) && isWithin(minute, rate)
      ? [{ aboveKWh: rate.aboveKWh, rate: rate.rate }]
      : [],
  );
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

function blockFactor(
  { bill, buy }: PriceSeries,
  bought: Float64Array,
  b: number,
  hours: number,
  cost: number,
): number {
  let plain = 0;
  const end = bill.lastIndexOf(b) + 1;
  for (let i = Math.max(0, bill.indexOf(b)); i < end; i++)
    if (bought[i]! > 0 && buy[i] === buy[i]) plain += (bought[i]! * hours * buy[i]!) / 1000;
  return plain > 0 ? cost / plain : 1;
}

/** Number of the local day of an interval, its minute, and its local reading as if it were UTC. */
function localTime({ startMs, stepMs, zone: id }: Log, { fromCell }: PriceSeries, i: number) {
  const ms = startMs + (fromCell + i) * stepMs;
  const localMs = ms + offsetAt(zoneOf(id), ms);
  const day = Math.floor(localMs / DAY_MS);
  return { localMs, day, minute: (localMs - day * DAY_MS) / 60_000 };
}

/** Highest mean of a clock-aligned window of a bill, kW. */
function highestDemand(
  log: Log,
  prices: PriceSeries,
  bought: Float64Array,
  b: number,
  charge: NonNullable<Tariff['demand']>[number],
): number {
  const windowMs = Math.max(charge.windowMinutes * 60_000, log.stepMs);
  const perWindow = windowMs / log.stepMs;
  const { tariff } = prices.bills[b]!;
  let [window, sum, highest] = [-1, 0, 0];
  const last = prices.bill.lastIndexOf(b) + 1;
  for (let i = Math.max(0, prices.bill.indexOf(b)); i < last; i++) {
    const { localMs, day, minute } = localTime(log, prices, i);
    const own = Math.floor(localMs / windowMs);
    if (own !== window) [window, sum] = [own, 0];
    if (bought[i]! > 0 && isWithin(minute, charge) && appliesOn(charge, tariff, day)) sum += bought[i]!;
    highest = Math.max(highest, sum / perWindow / 1000);
  }
  return highest;
}
