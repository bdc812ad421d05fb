import { cellAt } from '../../model/log.js';
import { tariffAt, weekOf } from '../../system/tariffs.js';
import type { System } from '../../system/schema.js';
import { dayNumberAt, dayOf } from '../../time/days.js';
import { offsetAt, zoneOf } from '../../time/zone.js';
import { channelOf, perYear, type View } from '../../passes/rangeData.js';
import type { Held } from './scenario.js';
import type { Supply } from '../shared/storageParameters.js';

/** Reserves that are tried beside the one that is set. */
const LEVELS = [0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.8] as const;
const HALF_HOUR_MS = 1_800_000;
const HALF_HOURS_A_DAY = 48;

/** What a reserve would have meant over a range, against the one that is set. */
export interface ReserveCost {
  readonly reserve: number;
  readonly isSet: boolean;
  /** 1 − import ÷ load. */
  readonly selfSufficiency: number;
  /** More import than with the reserve that is set, kWh a year. */
  readonly importKWh: Held;
  /** What that costs more, a year; null where no tariff is described. */
  readonly cost: Held | null;
}

interface Cells {
  readonly load: Float64Array;
  readonly solar: Float64Array;
  /** Charge that came from the grid, W. */
  readonly fromGrid: Float64Array;
  readonly importRate: Float64Array | null;
  readonly exportRate: Float64Array | null;
  readonly hours: number;
}

interface Outcome {
  readonly importWh: number;
  readonly loadWh: number;
  readonly knownS: number;
  readonly cost: number;
}

/**
 * What other reserves would have meant: the range is gone through again with each, the store serving the load down to the
 * reserve, what was charged from the grid charged as it was. Only differences are told, in which most of what such a model
 * has wrong falls out.
 * @returns nothing where there is no grid, no load or no reserve described
 * @source common practice, no published source
 */
export function reserveCosts(view: View, supply: Supply, system: System): ReserveCost[] {
  const { described } = view.parts.at(-1)!.configuration;
  const set = described?.battery?.reserve ?? described?.battery?.cutOff;
  const cells = cellsOf(view, system);
  if (!cells || set === undefined || described?.grid === 'none') return [];
  const levels = [...new Set([set, ...LEVELS])].filter((one) => one >= supply.cutOff).sort((a, b) => a - b);
  const factors = [1, 1 - supply.capacityOff, 1 + supply.capacityOff];
  const bases = factors.map((factor) => outcomeOf(cells, supply, set, factor));
  return levels.map((reserve) => {
    const outcomes = factors.map((factor) => outcomeOf(cells, supply, reserve, factor));
    const held = (of: (one: Outcome) => number): Held => {
      const each = outcomes.map((one, k) => perYear(of(one) - of(bases[k]!), one.knownS));
      return { value: each[0]!, low: Math.min(...each), high: Math.max(...each) };
    };
    const own = outcomes[0]!;
    return {
      reserve,
      isSet: reserve === set,
      selfSufficiency: own.loadWh > 0 ? 1 - own.importWh / own.loadWh : NaN,
      importKWh: held(({ importWh }) => importWh / 1000),
      cost: cells.importRate ? held(({ cost }) => cost) : null,
    };
  });
}

function cellsOf(view: View, system: System): Cells | null {
  const { log, range } = view;
  const [load, solar, battery] = (['load', 'solar', 'battery'] as const).map(
    (quantity) => channelOf(view, quantity)?.values,
  );
  if (!load) return null;
  const [from, to] = [cellAt(log, range.fromMs), cellAt(log, range.toMs)];
  const fromGrid = new Float64Array(to - from);
  for (let i = from; battery && i < to; i++) {
    const surplus = Math.max(0, (solar ? solar[i]! : 0) - load[i]!);
    fromGrid[i - from] = Math.max(0, -battery[i]! - surplus) || 0;
  }
  return {
    load: load.subarray(from, to),
    solar: solar ? solar.subarray(from, to) : new Float64Array(to - from),
    fromGrid,
    ...ratesOf(view, system, from, to),
    hours: log.stepMs / 3_600_000,
  };
}

/** Import and export rates of every cell; import null where no tariff is described. */
function ratesOf({ log }: View, system: System, from: number, to: number) {
  if (!system.tariffs?.some((one) => one.import?.length)) return { importRate: null, exportRate: null };
  const zone = zoneOf(log.zone);
  const [importRate, exportRate] = [new Float64Array(to - from), new Float64Array(to - from)];
  let [until, day, buy, sell] = [-Infinity, { fromMs: 0, toMs: 0 }, NaN, NaN];
  let weeks: Readonly<Record<'buy' | 'sell', Float64Array>> = { buy: weekOf([]), sell: weekOf([]) };
  for (let i = from; i < to; i++) {
    const ms = log.startMs + i * log.stepMs;
    if (ms >= day.toMs) {
      day = dayOf(zone, dayNumberAt(zone, ms));
      const tariff = tariffAt(system, ms);
      weeks = { buy: weekOf(tariff?.import ?? []), sell: weekOf(tariff?.export ?? []) };
    }
    if (ms >= until) {
      const local = new Date(ms + offsetAt(zone, ms));
      const weekday = (local.getUTCDay() + 6) % 7;
      const half =
        weekday * HALF_HOURS_A_DAY + local.getUTCHours() * 2 + (local.getUTCMinutes() < 30 ? 0 : 1);
      [buy, sell] = [weeks.buy[half]!, weeks.sell[half]!];
      until = (Math.floor(ms / HALF_HOUR_MS) + 1) * HALF_HOUR_MS;
    }
    importRate[i - from] = buy || 0;
    exportRate[i - from] = sell || 0;
  }
  return { importRate, exportRate };
}

function outcomeOf(cells: Cells, { store, fullWh }: Supply, reserve: number, factor: number): Outcome {
  const { load, solar, fromGrid, importRate, exportRate, hours } = cells;
  const { idleW, roundTrip, chargeW, limitW } = store;
  const full = fullWh * factor;
  const floor = reserve * full;
  let [stored, importWh, loadWh, known, cost] = [floor, 0, 0, 0, 0];
  for (let i = 0; i < load.length; i++) {
    const net = load[i]! - solar[i]!;
    if (net !== net) continue;
    const given = net > 0 ? Math.min(net, limitW, Math.max(0, stored - floor) / hours) : 0;
    const room = Math.max(0, full - stored) / hours / roundTrip;
    const kept = net < 0 ? Math.min(-net, chargeW, room) : 0;
    const bought = Math.min(fromGrid[i]!, chargeW - kept, room - kept);
    // At the reserve the grid carries the store's own draw.
    const draw = stored - floor < idleW * hours ? idleW : 0;
    const imported = Math.max(0, net) - given + bought + draw;
    const exported = net < 0 ? -net - kept : 0;
    stored += ((kept + bought) * roundTrip - given - (idleW - draw)) * hours;
    importWh += imported * hours;
    loadWh += load[i]! * hours;
    known++;
    if (importRate && exportRate)
      cost += ((imported * importRate[i]! - exported * exportRate[i]!) * hours) / 1000;
  }
  return { importWh, loadWh, knownS: known * hours * 3600, cost };
}
