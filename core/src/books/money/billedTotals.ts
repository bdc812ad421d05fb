import type { Log, SettledEnergy } from '../../model/log.js';
import type { Flow } from '../../model/quantity.js';
import type { Interval } from '../../model/figure.js';
import { channelOf, type RangeData } from '../../passes/rangeData.js';
import type { System } from '../../system/schema.js';
import { offsetAt, zoneOf } from '../../time/zone.js';
import { priceSeries, type PriceSeries } from '../shared/priceSeries.js';
import { drawnBills } from './drawnBills.js';
import { totalsOf, type BillTotals } from './account.js';

const SLOT_MS = 30 * 60_000;
const SLOTS_A_WEEK = 7 * 48;
const DAY_MS = 86_400_000;
/** A course of so much of the range tells its bill; totals are only wanted where there is less. */
const MOST_COURSE = 0.5;
/** A usual share of a window is met within this part of the way to the cheapest and the dearest. */
const USUAL_OFF = 0.25;
/** A home uses energy at all hours: what it uses lies no further from even ones, even where nothing tells. */
const LOAD_OFF = 0.3;

/** What energies without a course cost, as their windows' shares are usual, and as cheap and as dear as they could have been. */
export interface BilledTotals {
  readonly totals: BillTotals;
  readonly importCost: Interval;
  readonly exportIncome: Interval;
  readonly bill: Interval;
  /** The load priced as if all of it were bought; null where its totals are not known. */
  readonly withoutSystem: Interval | null;
  readonly importKWh: number;
  readonly loadKWh: number | null;
  /** True where the home's own log tells when it usually buys. */
  readonly isUsual: boolean;
  readonly days: number;
}

/**
 * Prices a range of which the grid's import is only known as totals: each is spread over its own time as the home usually buys, by half
 * hours of the week of what course there is, or evenly; and, for the bounds, into the cheapest and the dearest of them.
 * @returns null where a course tells, or nothing is known or priced
 * @source common practice, no published source
 */
export function billedTotals(data: RangeData, system: System): BilledTotals | null {
  const { log, range, lumps } = data;
  const rangeS = (range.toMs - range.fromMs) / 1000;
  const of = (flow: Flow) => lumps.filter((lump) => lump.flow === flow);
  if (of('import').length === 0 || data.total.gridS > MOST_COURSE * rangeS) return null;
  const fromMs = Math.floor(range.fromMs / SLOT_MS) * SLOT_MS;
  const slots: Log = {
    ...log,
    startMs: fromMs,
    stepMs: SLOT_MS,
    count: Math.ceil((range.toMs - fromMs) / SLOT_MS),
    channels: new Map(),
    lumps: [],
    fills: [],
  };
  const prices = priceSeries(slots, system, range);
  if (!prices) return null;
  const grid = channelOf(data, 'grid')?.values;
  const load = channelOf(data, 'load')?.values;
  const usual = {
    import: usualWeek(log, grid, 1),
    export: usualWeek(log, grid, -1),
    load: usualWeek(log, load, 1),
  };
  const drawn = (way: Way) => {
    const spread = (flow: 'import' | 'export' | 'load', rates: Float64Array, dearFirst: boolean) =>
      spreadOver(
        slots,
        prices,
        of(flow),
        usual[flow],
        rates,
        way === 'usual' ? 'usual' : (way === 'dear') === dearFirst ? 'dear' : 'cheap',
      );
    const bills = drawnBills(slots, prices, {
      bought: spread('import', prices.buy, true),
      sold: spread('export', prices.sell, false),
    });
    const without =
      of('load').length > 0
        ? totalsOf(drawnBills(slots, prices, { bought: spread('load', prices.buy, true), sold: null })).total
        : null;
    return { totals: totalsOf(bills), without };
  };
  const [own, cheap, dear] = [drawn('usual'), drawn('cheap'), drawn('dear')];
  // Where the home's own log shows its hours, the totals lie not far from them.
  const off = usual.import ? USUAL_OFF : 1;
  const interval = (get: (of: ReturnType<typeof drawn>) => number, part = off): Interval => {
    const value = get(own);
    const ends = [get(cheap), get(dear)];
    return {
      value,
      low: value - part * (value - Math.min(value, ...ends)),
      high: value + part * (Math.max(value, ...ends) - value),
    };
  };
  return {
    totals: own.totals,
    importCost: interval(({ totals }) => totals.importCost),
    exportIncome: interval(({ totals }) => totals.exportIncome),
    bill: interval(({ totals }) => totals.total),
    withoutSystem:
      own.without === null ? null : interval(({ without }) => without!, usual.load ? USUAL_OFF : LOAD_OFF),
    importKWh: own.totals.importKWh,
    loadKWh: of('load').length > 0 ? of('load').reduce((sum, { wh }) => sum + wh / 1000, 0) : null,
    isUsual: usual.import !== null,
    days: prices.bills.reduce((sum, { days }) => sum + days, 0),
  };
}

type Way = 'usual' | 'cheap' | 'dear';

function slotOfWeek(log: Log, ms: number): number {
  const local = ms + offsetAt(zoneOf(log.zone), ms);
  return Math.floor((((local % (7 * DAY_MS)) + 7 * DAY_MS) % (7 * DAY_MS)) / SLOT_MS);
}

/** Mean power of a direction by half hour of the week, of all the log; null without a course. */
function usualWeek(log: Log, values: Float64Array | undefined, sign: 1 | -1): Float64Array | null {
  if (!values) return null;
  const sums = new Float64Array(SLOTS_A_WEEK);
  const counts = new Float64Array(SLOTS_A_WEEK);
  for (let i = 0; i < log.count; i++) {
    const value = values[i]!;
    if (value !== value) continue;
    for (let ms = 0; ms < log.stepMs; ms += SLOT_MS) {
      const slot = slotOfWeek(log, log.startMs + i * log.stepMs + ms);
      sums[slot]! += Math.max(0, sign * value);
      counts[slot]!++;
    }
  }
  const week = sums.map((sum, slot) => (counts[slot]! > 0 ? sum / counts[slot]! : 0));
  return counts.every((count) => count > 0) && week.some((watts) => watts > 0) ? week : null;
}

/** Energies over the half hours in which they lie, W: as is usual, or with all of each in its cheapest or dearest hours. */
function spreadOver(
  slots: Log,
  prices: PriceSeries,
  lumps: readonly SettledEnergy[],
  week: Float64Array | null,
  rates: Float64Array,
  way: Way,
): Float64Array {
  const watts = new Float64Array(prices.bill.length);
  for (const { fromMs, toMs, wh } of lumps) {
    const from = Math.max(0, Math.floor((fromMs - slots.startMs) / SLOT_MS) - prices.fromCell);
    const to = Math.min(watts.length, Math.ceil((toMs - slots.startMs) / SLOT_MS) - prices.fromCell);
    const weights = new Float64Array(Math.max(0, to - from));
    const own = rates.subarray(from, to);
    let best = NaN;
    for (const rate of own) if (!(way === 'dear' ? rate <= best : rate >= best) && rate === rate) best = rate;
    for (let k = 0; k < weights.length; k++) {
      const ms = slots.startMs + (from + k + prices.fromCell) * SLOT_MS;
      weights[k] = way === 'usual' ? (week ? week[slotOfWeek(slots, ms)]! : 1) : own[k] === best ? 1 : 0;
    }
    let sum = weights.reduce((all, weight) => all + weight, 0);
    if (sum === 0) sum = weights.fill(1).length;
    for (let k = 0; k < weights.length; k++)
      watts[from + k]! += (weights[k]! / sum) * wh * (3_600_000 / SLOT_MS);
  }
  return watts;
}
