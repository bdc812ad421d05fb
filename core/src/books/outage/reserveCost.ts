import { cellAt } from '../../model/log.js';
import type { Policy } from '../../storage/policy.js';
import { step, type StepResult } from '../../storage/step.js';
import type { System } from '../../system/schema.js';
import { channelOf, perYear, type RangeData } from '../../passes/rangeData.js';
import type { Held } from './scenario.js';
import type { HomeStorage } from '../shared/homeStorage.js';
import { priceSeries, worthOfExport } from '../shared/priceSeries.js';

/** Reserves that are tried beside the one that is set. */
const LEVELS = [0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.8] as const;
/** Exported less than this of the sun, and full for more than this of the sunlit time: sun is held back. */
const LITTLE_EXPORT = 0.02;
const OFTEN = 0.05;
const FULL = 0.98;
const SUNLIT_W = 100;

/** What a reserve would have meant over a range, against the one that is set. */
export interface ReserveCost {
  readonly reserve: number;
  readonly isSet: boolean;
  /** 1 − import ÷ load. */
  readonly selfSufficiency: number;
  /**
   * More import than with the reserve that is set, kWh a year; null below the one that is set where sun is held back, since
   * no log shows how much of it there was.
   */
  readonly importKWh: Held | null;
  /** What that costs more, a year; null where no tariff is described or the import is not known. */
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
  /** First state of charge that is known. */
  readonly socFirst: number;
  /** Whether sun is held back unseen. */
  readonly holdsBack: boolean;
}

interface Outcome {
  readonly importWh: number;
  readonly loadWh: number;
  readonly knownS: number;
  readonly cost: number;
}

/**
 * What other reserves would have meant: the range is gone through again with each from the charge that there was, the store
 * serving the load down to the reserve, what was charged from the grid charged as it was. Only differences are told, in which most of what such a model
 * has wrong falls out.
 * @returns nothing where there is no grid, no load, no charge or no reserve described
 * @source common practice, no published source
 */
export function reserveCosts(data: RangeData, storage: HomeStorage, system: System): ReserveCost[] {
  const { floor: set, hasGrid } = data.parts.at(-1)!.configuration;
  const cells = cellsOf(data, system);
  if (!cells || set === null || !hasGrid || Number.isNaN(cells.socFirst)) return [];
  const levels = [...new Set([set, ...LEVELS])].filter((one) => one >= storage.cutOff).sort((a, b) => a - b);
  const factors = [1, 1 - storage.capacityOff, 1 + storage.capacityOff];
  const bases = factors.map((factor) => outcomeOf(cells, storage, set, factor));
  return levels.map((reserve) => {
    const outcomes =
      reserve === set ? bases : factors.map((factor) => outcomeOf(cells, storage, reserve, factor));
    const held = (of: (one: Outcome) => number): Held => {
      const each = outcomes.map((one, k) => perYear(of(one) - of(bases[k]!), one.knownS));
      return { value: each[0]!, low: Math.min(...each), high: Math.max(...each) };
    };
    const own = outcomes[0]!;
    const isKnown = reserve >= set || !cells.holdsBack;
    return {
      reserve,
      isSet: reserve === set,
      selfSufficiency: own.loadWh > 0 ? 1 - own.importWh / own.loadWh : NaN,
      importKWh: isKnown ? held(({ importWh }) => importWh / 1000) : null,
      cost: cells.importRate && isKnown ? held(({ cost }) => cost) : null,
    };
  });
}

function cellsOf(data: RangeData, system: System): Cells | null {
  const { log, range } = data;
  const [load, solar, battery] = (['load', 'solar', 'battery'] as const).map(
    (quantity) => channelOf(data, quantity)?.values,
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
    ...ratesOf(data, system),
    hours: log.stepMs / 3_600_000,
    socFirst: data.total.socFirst,
    holdsBack: holdsBack(data, solar, log.channels.get('soc')?.values),
  };
}

/** What a kWh bought costs and one sold is worth, by cell; nothing where no rate holds, null where none is described. */
function ratesOf({ log, range }: RangeData, system: System) {
  const prices = priceSeries(log, system, range);
  if (!prices?.buy.some((rate) => rate === rate)) return { importRate: null, exportRate: null };
  return {
    importRate: prices.buy.map((rate) => rate || 0),
    exportRate: prices.sell.map((_, k) => worthOfExport(prices, k)),
  };
}

/** The range gone through with a reserve, from the charge that there was at its beginning. */
function outcomeOf(cells: Cells, storage: HomeStorage, reserve: number, factor: number): Outcome {
  const { load, solar, fromGrid, importRate, exportRate, hours } = cells;
  const { cutOff } = storage;
  const full = storage.fullWh * factor;
  const parameters = { ...storage.parameters, capacityWh: full * (1 - cutOff) };
  const policy: Policy = {
    grid: 'connected',
    strategy: 'self-use',
    reserveWh: Math.max(0, reserve - cutOff) * full,
    chargeWindows: [],
    gridChargeW: 0,
    exportLimitW: Infinity,
  };
  const conditions = { loadW: 0, solarW: 0, overLeg: 0, fromGridW: 0, minute: 0, hours };
  let did: StepResult | undefined;
  let [stored, importWh, loadWh, known, cost] = [Math.max(0, cells.socFirst - cutOff) * full, 0, 0, 0, 0];
  for (let i = 0; i < load.length; i++) {
    conditions.loadW = load[i]!;
    conditions.solarW = solar[i]!;
    conditions.fromGridW = fromGrid[i]!;
    if (Number.isNaN(conditions.loadW - conditions.solarW)) continue;
    did = step(parameters, policy, stored, conditions, did);
    const { storedWh, importW, exportW } = did;
    stored = storedWh;
    importWh += importW * hours;
    loadWh += conditions.loadW * hours;
    known++;
    if (importRate && exportRate)
      cost += ((importW * importRate[i]! - exportW * exportRate[i]!) * hours) / 1000;
  }
  return { importWh, loadWh, knownS: known * hours * 3600, cost };
}

/**
 * Whether sun was held back unseen: nothing is exported, and the battery is often full in daylight. A lower reserve would
 * have made room for sun that no log shows.
 */
function holdsBack(
  { total, log, range }: RangeData,
  solar: Float64Array | undefined,
  soc: Float64Array | undefined,
) {
  if (!solar || !soc || total.exportWh > LITTLE_EXPORT * total.solarWh) return false;
  let [sunlit, full] = [0, 0];
  for (let i = cellAt(log, range.fromMs); i < cellAt(log, range.toMs); i++) {
    if (!(solar[i]! > SUNLIT_W)) continue;
    sunlit++;
    if (soc[i]! >= FULL) full++;
  }
  return full > OFTEN * sunlit;
}
