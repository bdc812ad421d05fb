import type { Log } from '../../model/log.js';
import type { Range } from '../../model/range.js';
import type { BusColumns } from '../../passes/busColumns.js';
import { isBypass, isOnDc } from '../../passes/bypass.js';
import { storedChangeWh, type RangeData } from '../../passes/rangeData.js';
import { configurationAt } from '../../system/configuration.js';
import type { System } from '../../system/schema.js';
import { inverterEfficiency } from '../shared/inverterEfficiency.js';
import { joinedCells, joiningOf } from '../shared/joining.js';
import type { Hidden } from '../shared/uncertainty.js';
import { drawnBills, type Bill } from './drawnBills.js';
import { priceSeries, type PriceSeries } from '../shared/priceSeries.js';

const TRACE_DAYS_MS = 14 * 86_400_000;

/** What a range cost and saved, in the home's currency, and what it rests on. */
export interface MoneyAccount {
  readonly prices: PriceSeries;
  readonly bills: readonly Bill[];
  readonly withoutSystem: readonly Bill[];
  /** Null where solar is not logged. */
  readonly withoutBattery: readonly Bill[] | null;
  readonly totals: BillTotals;
  readonly loadKWh: number;
  readonly withoutSystemTotal: number;
  readonly withoutBatteryTotal: number | null;
  /** What the step of the log hides: buying and selling within one step of a home without a battery, and sun used at once that was not. */
  readonly hidden: { readonly withoutBattery: Hidden; readonly solarDirect: number };
  /** Parts of the saving; they add up to it. Null where solar or battery is not logged. */
  readonly parts: SavingParts | null;
  /** Worth of the grid's own zero offset over the range: what a watt more all along would cost. */
  readonly costOfAWatt: number;
  /** What a kWh lost in the battery would have been worth, mean over the days by what each charged. */
  readonly lostKWhWorth: number | null;
  /** And one drawn all the time. */
  readonly idleKWhWorth: number | null;
  readonly dischargeKWh: number;
  /** Charge less discharge and what is stored more at the end; null without a battery's power. */
  readonly lossKWh: number | null;
  /** Beginning of the first interval that bought without a price; null where all is priced. */
  readonly firstUnpricedMs: number | null;
}

export interface BillTotals {
  readonly importKWh: number;
  readonly importCost: number;
  readonly exportIncome: number;
  readonly demandCost: number;
  readonly standing: number;
  readonly total: number;
  readonly unpricedKWh: number;
}

export interface SavingParts {
  /** What the grid energy that was shifted was worth, and what it had cost: their difference is what shifting saved. */
  readonly shiftedWorth: number;
  readonly shiftedCost: number;
  /** Worth of what sun, battery and grid together leave open, and of the store's discharge whatever its origin. */
  readonly mixedWorth: number;
  readonly solarDirect: number;
  readonly solarStored: number;
  readonly shifted: number;
  readonly export: number;
  readonly other: number;
}

/** Adds bills up. */
export function totalsOf(bills: readonly Bill[]): BillTotals {
  const sum = (of: (bill: Bill) => number) => bills.reduce((total, bill) => total + of(bill), 0);
  return {
    importKWh: sum((bill) => bill.importKWh),
    importCost: sum((bill) => bill.importCost),
    exportIncome: sum((bill) => bill.exportIncome),
    demandCost: sum((bill) => bill.demandCost),
    standing: sum((bill) => bill.standing),
    total: sum((bill) => bill.total),
    unpricedKWh: sum((bill) => bill.unpricedKWh),
  };
}

/** Why there is no money in a range, or null. */
export type NoMoney = { readonly reason: string };

/**
 * Prices a range: the bills with the system, without it, and without the battery, and what saved what.
 * @param range of the data, whole intervals
 */
export function moneyAccount(data: RangeData, system: System, columns: BusColumns): MoneyAccount | NoMoney {
  const { log, range } = data;
  if (data.parts.every(({ configuration }) => !configuration.hasGrid))
    return { reason: 'This home has no grid, so it has no bill of one.' };
  const prices = priceSeries(log, system, range);
  if (!prices)
    return {
      reason:
        'No tariff is described; the System view takes one, or the log its prices (import_rate, export_rate).',
    };
  const { load, grid } = columns;
  if (!grid)
    return {
      reason:
        'The log has no grid power; a column grid_w or a download of the utility meter would supply it.',
    };
  return priced(data, columns, prices, load, grid, range);
}

function priced(
  data: RangeData,
  columns: BusColumns,
  prices: PriceSeries,
  load: Float64Array | null,
  grid: Float64Array,
  range: Range,
): MoneyAccount {
  const { log, configurations } = data;
  const { solar, battery } = columns;
  const { fromCell } = prices;
  const count = prices.bill.length;
  const bills = drawnBills(log, prices, { net: grid.subarray(fromCell, fromCell + count) });
  const efficiency = inverterEfficiency(data);
  const isDc = isOnDc(log, configurationAt(configurations, range.toMs - 1));
  const factor = isDc ? efficiency : 1;
  // Hours in which the grid is not known are on neither side: else a gap would pass for a saving.
  const used = new Float64Array(count).fill(NaN);
  const alone = solar && load ? new Float64Array(count).fill(NaN) : null;
  let usedW = 0;
  if (load)
    for (let k = 0; k < count; k++) {
      const i = fromCell + k;
      const need = load[i]!;
      if (grid[i] !== grid[i] || need !== need) continue;
      used[k] = need > 0 ? need : 0;
      usedW += used[k]!;
      if (alone)
        alone[k] = need - factor * (solar![i]! > 0 ? solar![i]! : solar![i]! === solar![i]! ? 0 : NaN);
    }
  const withoutSystem = drawnBills(log, prices, { bought: used, sold: null });
  const withoutBattery = alone && drawnBills(log, prices, { net: alone });
  const taxes = prices.bills.map(({ tariff }) => 1 + (tariff.taxShare ?? 0));
  const totals = totalsOf(bills);
  const withoutSystemTotal = totalsOf(withoutSystem).total;
  const hours = log.stepMs / 3_600_000;
  let [worth, known] = [0, 0];
  for (let k = 0; k < count; k++)
    if (prices.buy[k] === prices.buy[k]) {
      worth += prices.buy[k]! * taxes[prices.bill[k]!]!;
      known++;
    }
  const lost = worthOfLost(prices, taxes, grid, battery, fromCell, log.stepMs);
  return {
    prices,
    bills,
    withoutSystem,
    withoutBattery,
    totals,
    loadKWh: usedW * (hours / 1000),
    withoutSystemTotal,
    withoutBatteryTotal: withoutBattery && totalsOf(withoutBattery).total,
    hidden:
      alone && withoutBattery
        ? hiddenIn(log, prices, alone, withoutBattery)
        : { withoutBattery: { below: 0, above: 0 }, solarDirect: 0 },
    parts:
      solar && battery && load
        ? partsOf(
            data,
            columns,
            prices,
            taxes,
            withoutSystem,
            withoutSystemTotal - totals.total,
            totals,
            factor,
          )
        : null,
    costOfAWatt: known > 0 ? (worth / known) * ((count * hours) / 1000) : 0,
    ...lost,
    dischargeKWh: data.total.dischargeWh / 1000,
    lossKWh: battery
      ? (data.total.chargeWh - data.total.dischargeWh - (storedChangeWh(data, 'socChangeCell') || 0)) / 1000
      : null,
    firstUnpricedMs: firstUnpriced(data, prices, grid),
  };
}

/**
 * What cells of the log hide of a home without a battery, in which sun and load do not meet as their means do: by how much
 * more longer cells hide.
 */
function hiddenIn(
  log: Log,
  prices: PriceSeries,
  alone: Float64Array,
  bills: readonly Bill[],
): MoneyAccount['hidden'] {
  const { cells, hides } = joiningOf(log.stepMs);
  const means = joinedCells(alone, cells);
  const net = alone.map((watts, k) => {
    const mean = means[Math.floor(k / cells)] ?? NaN;
    return watts === watts && mean === mean ? mean : watts;
  });
  const [own, joined] = [bills, drawnBills(log, prices, { net })].map(totalsOf);
  const [bought, sold] = [own!.importCost - joined!.importCost, own!.exportIncome - joined!.exportIncome];
  // A bill is higher for it, unless what is sold is worth more than what is bought.
  const off = hides * (bought - sold);
  return {
    withoutBattery: { below: Math.max(0, -off), above: Math.max(0, off) },
    // What was bought in truth was not served by the sun at once.
    solarDirect: hides * Math.max(0, bought),
  };
}

function firstUnpriced(
  { log }: RangeData,
  { buy, fromCell }: PriceSeries,
  grid: Float64Array,
): number | null {
  for (let k = 0; k < buy.length; k++)
    if (buy[k] !== buy[k] && grid[fromCell + k]! > 0) return log.startMs + (fromCell + k) * log.stepMs;
  return null;
}

/** What each way of using solar and battery saved; the rest is what metering, trickle and demand leave. */
function partsOf(
  data: RangeData,
  columns: BusColumns,
  prices: PriceSeries,
  taxes: readonly number[],
  withoutSystem: readonly Bill[],
  saving: number,
  totals: BillTotals,
  factor: number,
): SavingParts {
  const { log, configurations, range } = data;
  const { solar, load, grid, battery } = columns;
  const share = sharesOf(columns, log.stepMs);
  const hours = log.stepMs / 3_600_000;
  const configuration = configurationAt(configurations, range.toMs - 1);
  const isDc = isOnDc(log, configuration);
  // A kWh of each bill in W of an interval, with blocks and tax.
  const worth = taxes.map((tax, b) => (withoutSystem[b]?.blockFactor ?? 1) * tax * (hours / 1000));
  let [solarDirect, solarStored, shiftedWorth, shiftedCost, mixedWorth] = [0, 0, 0, 0, 0];
  for (let k = 0; k < prices.bill.length; k++) {
    const i = prices.fromCell + k;
    const s = solar![i]!;
    const l = load![i]!;
    const g = grid![i]!;
    const b = battery![i]!;
    if (s !== s || l !== l || g !== g || b !== b) continue;
    const rate = prices.buy[k]! * worth[prices.bill[k]!]!;
    if (rate !== rate) continue;
    const shining = factor * Math.max(0, s);
    const need = Math.max(0, l);
    const buying = Math.max(0, g);
    const charge = Math.max(0, -b);
    const discharge = factor * Math.max(0, b);
    const ofSun = share(i);
    const direct = isDc && isBypass(need, buying, shining, charge) ? 0 : Math.min(shining, need);
    const stored = Math.min(Math.max(0, shining - direct), charge);
    const served = Math.min(discharge, need - direct);
    const bought = Math.min(charge - stored, buying);
    solarDirect += direct * rate;
    solarStored += served * ofSun * rate;
    shiftedWorth += served * (1 - ofSun) * rate;
    shiftedCost += bought * rate;
    if (charge > 0 && buying > 0 && shining > 0) mixedWorth += Math.min(buying, charge) * rate;
  }
  const sold = totals.exportIncome;
  const shifted = shiftedWorth - shiftedCost;
  return {
    solarDirect,
    solarStored,
    shifted,
    shiftedWorth,
    shiftedCost,
    mixedWorth,
    export: sold,
    other: saving - solarDirect - solarStored - shifted - sold,
  };
}

/** Share of solar origin in the store at a cell; before it is known, that of the first 14 days that are. */
function sharesOf({ solarShare }: BusColumns, stepMs: number): (cell: number) => number {
  if (!solarShare) return () => 1;
  const first = solarShare.findIndex((value) => value === value);
  if (first < 0) return () => 1;
  const until = Math.min(solarShare.length, first + Math.round(TRACE_DAYS_MS / stepMs));
  let [sum, count] = [0, 0];
  for (let i = first; i < until; i++)
    if (solarShare[i] === solarShare[i]) {
      sum += solarShare[i]!;
      count++;
    }
  const usual = sum / count;
  return (cell) => (solarShare[cell] === solarShare[cell] ? solarShare[cell]! : usual);
}

/** A day that bought more than this would have used the energy itself; on others it would have been sold, kWh. */
const BUYS_KWH = 0.5;

/**
 * What a kWh would have been worth that the battery lost: the rate of what was bought on days that bought, else what a
 * kWh sold would have earned.
 */
function worthOfLost(
  prices: PriceSeries,
  taxes: readonly number[],
  grid: Float64Array,
  battery: Float64Array | null,
  fromCell: number,
  stepMs: number,
): Pick<MoneyAccount, 'lostKWhWorth' | 'idleKWhWorth'> {
  const perDay = Math.max(1, Math.round(86_400_000 / stepMs));
  const hours = stepMs / 3_600_000;
  let [charged, lost, days, idle] = [0, 0, 0, 0];
  for (let from = 0; from < prices.bill.length; from += perDay) {
    let [bought, cost, known, charge, sells, sold] = [0, 0, 0, 0, 0, 0];
    for (let k = from; k < Math.min(prices.bill.length, from + perDay); k++) {
      const watts = grid[fromCell + k]!;
      const tax = taxes[prices.bill[k]!]!;
      const buy = prices.buy[k]! * tax;
      if (buy !== buy) continue;
      known++;
      const sell = prices.sell[k]! * tax;
      if (sell === sell) {
        sold += sell;
        sells++;
      }
      if (watts > 0) {
        bought += watts;
        cost += watts * buy;
      }
      if (battery && battery[fromCell + k]! < 0) charge -= battery[fromCell + k]!;
    }
    if (known === 0) continue;
    const isBuying = (bought * hours) / 1000 > BUYS_KWH;
    const worth = isBuying ? cost / bought : sells > 0 ? sold / sells : 0;
    charged += charge;
    lost += charge * worth;
    days++;
    idle += worth;
  }
  return { lostKWhWorth: charged > 0 ? lost / charged : null, idleKWhWorth: days > 0 ? idle / days : null };
}
