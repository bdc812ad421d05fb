import type { Unit } from '../../model/figure.js';
import { cellAt, type Log } from '../../model/log.js';
import { InputError } from '../../model/problem.js';
import type { Quantity } from '../../model/quantity.js';
import type { Prepared } from '../../passes/prepare.js';
import { channelOf, type RangeData } from '../../passes/rangeData.js';
import type { System } from '../../system/schema.js';
import { configurationAt } from '../../system/configuration.js';
import { turningPointsOf } from '../../passes/turningPoints.js';
import { damageBy, socCycles } from '../wear/cycles.js';
import { drawnBills } from '../money/drawnBills.js';
import { joinedCells } from '../shared/joining.js';
import { lackOf } from '../shared/lacking.js';
import { priceSeries, type PriceSeries } from '../shared/priceSeries.js';
import { totalsOf } from '../money/account.js';
import { startsOf, type Starts } from '../outage/outageStarts.js';
import { lostSun } from '../solar/lostSun.js';
import { loadOf, sunOf } from './changedFlows.js';
import { changedHome, modelHome, type ModelHome } from './modelHome.js';
import { modelRun, type ModelInputs, type ModelRun } from './modelRun.js';
import type { Change } from './scenarioFile.js';

/** What is told of a scenario, with its unit. */
export const WHATIF_KEYS = {
  'account.selfSufficiency.grid': 'share',
  'account.selfSufficiency.supply': 'share',
  'account.selfSufficiency.solar': 'share',
  'account.import': 'kWh',
  'account.export': 'kWh',
  'account.charge': 'kWh',
  'account.discharge': 'kWh',
  'account.losses': 'kWh',
  'account.gridFreeDays': 'days',
  'account.gridFreeShare': 'share',
  /** Of the known time in which nothing but a trickle is bought; without a grid, in which all is served. */
  'whatif.timeWithoutGrid': 'share',
  'solar.heldBack': 'kWh',
  'solar.clipped': 'kWh',
  'wear.efc.nameplate': 'cycles',
  'wear.damage': 'share',
  'outage.survive.12h': 'share',
  'outage.survive.24h': 'share',
  'peak.hoursAbove.batteryOnly': 'h',
  'money.bill': 'currency',
  'money.saving': 'currency',
} as const satisfies Record<string, Unit>;
export type WhatifKey = keyof typeof WHATIF_KEYS;
export const KEYS = Object.keys(WHATIF_KEYS) as WhatifKey[];
/** Shares of the load. */
export const PER_LOAD: readonly WhatifKey[] = [
  'account.selfSufficiency.grid',
  'account.selfSufficiency.supply',
  'account.selfSufficiency.solar',
];
/** What a run comes to, by figure; NaN where it cannot be told. */
export type Values = Readonly<Record<WhatifKey, number>>;

/** Share of possible outages of two lengths that are carried. */
export interface CarriedOutages {
  readonly survive12: number;
  readonly survive24: number;
}

/** A home that can be run as it is and as changes would make it. */
export interface Model {
  readonly data: RangeData;
  readonly system: System;
  readonly home: ModelHome;
  readonly inputs: ModelInputs;
  readonly prices: PriceSeries | null;
  readonly starts: Starts | null;
  readonly run: (change: Change) => Modelled;
  /** A run of which only energies are told. @param capacity of the battery, as a share of the run's own */
  readonly energies: (change: Change, capacity: number) => Modelled;
  /**
   * Runs of a change by cells of the log joined, with something otherwise that is not known for certain; energies without their
   * prices are told.
   */
  readonly joined: (change: Change, cells: number) => (otherwise: Otherwise) => Modelled;
  /** What the load of a run would have cost from the grid alone; NaN without prices. */
  readonly costWithoutSystem: (modelled: Modelled) => number;
}

/** What may be otherwise than a run has it; what is left out is as it is. */
export interface Otherwise {
  /** The sun that there was, in place of that of the model’s inputs, W by cell of the log. */
  readonly solar?: Float64Array;
  /** Factors of what the meters of sun and load read. */
  readonly sunGain?: number;
  readonly loadGain?: number;
  readonly drawsBelowReserve?: boolean;
  readonly drawsWhenEmpty?: boolean;
}

/** One run of it. */
export interface Modelled {
  readonly home: ModelHome;
  readonly change: Change;
  readonly load: Float64Array;
  readonly sun: Float64Array;
  readonly run: ModelRun;
  readonly prices: PriceSeries | null;
}

/**
 * The model of a range's home.
 * @throws InputError where the load is not logged or the battery not described
 */
export function homeModel(prepared: Prepared, data: RangeData): Model {
  const home = modelHome(data);
  const lack = lackOf(data, ['load']);
  if (home && !lack) return modelOf(prepared, data, home);
  throw new InputError([
    {
      where: prepared.system.name,
      found: lack ?? 'The battery is not described: modules, kWh each and usable share.',
      mend: 'A what-if runs the measured load through the described battery; supply what is missing.',
    },
  ]);
}

/** The home of a range, ready to be run. */
export function modelOf(prepared: Prepared, data: RangeData, home: ModelHome): Model {
  const { log, range } = data;
  const { system } = prepared;
  const [from, to] = [cellAt(log, range.fromMs), cellAt(log, range.toMs)];
  const part = (quantity: Quantity) => channelOf(data, quantity)?.values.subarray(from, to);
  const load = notNegative(part('load')!);
  const rebuilt = lostSun(data, system)?.rebuilt;
  const made = part('solar');
  const solar = made ? notNegative(rebuilt ?? made) : new Float64Array(to - from);
  const socs = log.channels.get('soc')?.values.subarray(from, to);
  const prices = priceSeries(log, system, range);
  const first = socs?.find((value) => value === value);
  const inputs: ModelInputs = {
    startMs: log.startMs + from * log.stepMs,
    stepMs: log.stepMs,
    zone: log.zone,
    load,
    solar,
    buy: prices?.buy ?? null,
    socStart: first ?? 0.5,
    surplusLoad: null,
  };
  const starts = startsOf(data);
  const metBy = (change: Change, solarOfHome: Float64Array) => {
    const priced = change.tariffs ? priceSeries(log, { ...system, tariffs: change.tariffs }, range) : prices;
    const sun = sunOf(data, solarOfHome, change, home, from, to);
    const { surplusLoad } = change;
    const met: ModelInputs = {
      ...inputs,
      load: loadOf(data, inputs, sun, change, from, to),
      solar: sun,
      buy: priced?.buy ?? null,
      surplusLoad: surplusLoad ? { watts: 1000 * surplusLoad.kW, aboveSoc: surplusLoad.aboveSoc } : null,
    };
    return { met, priced };
  };
  const run = (change: Change, capacity: number, keeps: 'courses' | 'energies'): Modelled => {
    const changed = changedHome(home, change);
    const own = { ...changed, fullWh: changed.fullWh * capacity };
    const { met, priced } = metBy(change, inputs.solar);
    return {
      ...{ home: own, change, load: met.load, sun: met.solar, prices: priced },
      run: modelRun(own, met, keeps),
    };
  };
  // What the load alone would have cost is asked for by every change that leaves it.
  const costs = new Map<PriceSeries, number>();
  return {
    ...{ data, system, home, inputs, prices, starts: 'reason' in starts ? null : starts },
    run: (change) => run(change, 1, 'courses'),
    joined(change, cells) {
      const changed = changedHome(home, change);
      const { met } = metBy(change, inputs.solar);
      const [load, buy] = [joinedCells(met.load, cells), met.buy && joinedCells(met.buy, cells)];
      return ({ solar, sunGain = 1, loadGain = 1, ...rest }) => {
        const sun = joinedCells(solar ? metBy(change, solar).met.solar : met.solar, cells);
        const own = { ...changed, ...rest };
        const told = {
          ...{ ...met, buy, stepMs: met.stepMs * cells },
          load: scaled(load, loadGain),
          solar: scaled(sun, sunGain),
        };
        const energies = modelRun(own, told, 'energies');
        return { home: own, change, load: told.load, sun: told.solar, prices: null, run: energies };
      };
    },
    // What a home without a grid is not given stands in its courses only.
    energies: (change, capacity) => run(change, capacity, home.hasGrid ? 'energies' : 'courses'),
    costWithoutSystem: ({ load: used, prices: priced }) => {
      if (!priced) return NaN;
      const known = used === load ? costs.get(priced) : undefined;
      const cost = known ?? totalsOf(drawnBills(log, priced, { bought: used, sold: null })).total;
      if (used === load) costs.set(priced, cost);
      return cost;
    },
  };
}

/** A home that buys no more than this runs without the grid but for what trickles in, W. */
const TRICKLE_W = 50;

/** Share of the known time; NaN where nothing is known, or, without a grid, where the courses are not kept. */
function timeWithoutGrid({ home, run }: Modelled): number {
  let [free, known] = [0, 0];
  for (const watts of home.hasGrid ? run.importW : run.courses.unservedW) {
    if (watts !== watts) continue;
    known++;
    if (watts <= TRICKLE_W) free++;
  }
  return known > 0 ? free / known : NaN;
}

/** Share of a life that the cycles of a run take (Miner); NaN where its courses are not kept, or there is no battery. */
function lifeUsed({ data, inputs }: Model, { home, run }: Modelled): number {
  const { soc } = run.courses;
  if (soc.length === 0 || home.fullWh === 0 || !data.log.channels.has('soc')) return NaN;
  const { log, configurations, range } = data;
  const configuration = configurationAt(configurations, range.toMs - 1);
  const always = [{ ...configuration, fromMs: -Infinity, toMs: Infinity }];
  const channels: Log['channels'] = new Map([['soc', { ...log.channels.get('soc')!, values: soc }]]);
  const modelled = { ...log, startMs: inputs.startMs, count: soc.length, channels };
  const damageOf = damageBy(always);
  return socCycles(turningPointsOf(modelled, always)).reduce((sum, cycle) => sum + damageOf(cycle), 0);
}

function scaled(values: Float64Array, factor: number): Float64Array {
  return factor === 1 ? values : values.map((value) => value * factor);
}

function notNegative(values: Float64Array): Float64Array {
  const own = values.slice();
  for (let i = 0; i < own.length; i++) if (own[i]! < 0) own[i] = 0;
  return own;
}

/**
 * What a run comes to; NaN where it cannot be told.
 * @param survival null where it is not asked for, or cannot be told
 */
export function valuesOf(model: Model, modelled: Modelled, survival: CarriedOutages | null): Values {
  const { home, run, prices } = modelled;
  const { loadKWh } = run;
  const own = home.hasGrid ? 1 - run.gridToLoadKWh / loadKWh : 1 - run.unservedKWh / loadKWh;
  const isBilled = prices !== null && home.hasGrid;
  const exchange = { bought: run.importW, sold: run.exportW };
  const bill = isBilled ? totalsOf(drawnBills(model.data.log, prices, exchange)).total : NaN;
  let free = 0;
  let known = 0;
  for (let day = 0; day < run.importByDayKWh.length; day++)
    if (run.daysKnown[day] === 1) {
      known++;
      if (run.importByDayKWh[day]! * 1000 <= model.data.gridFreeWh) free++;
    }
  return {
    'account.selfSufficiency.grid': home.hasGrid ? 1 - run.importKWh / loadKWh : NaN,
    'account.selfSufficiency.supply': own,
    'account.selfSufficiency.solar': own - run.gridOriginKWh / loadKWh,
    'account.import': home.hasGrid ? run.importKWh : NaN,
    'account.export': home.hasGrid ? run.exportKWh : NaN,
    'whatif.timeWithoutGrid': timeWithoutGrid(modelled),
    'account.charge': run.chargeKWh,
    'account.discharge': run.dischargeKWh,
    'account.losses':
      run.solarKWh +
      run.importKWh -
      loadKWh +
      run.unservedKWh -
      run.surplusUsedKWh -
      run.exportKWh -
      run.storeChangeKWh,
    'account.gridFreeDays': home.hasGrid ? free : NaN,
    'account.gridFreeShare': home.hasGrid && known > 0 ? free / known : NaN,
    'solar.heldBack': run.heldBackKWh,
    'solar.clipped': run.clippedKWh,
    'wear.efc.nameplate': home.nameplateWh > 0 ? (1000 * run.dischargeKWh) / home.nameplateWh : 0,
    'wear.damage': lifeUsed(model, modelled),
    'outage.survive.12h': survival?.survive12 ?? NaN,
    'outage.survive.24h': survival?.survive24 ?? NaN,
    'peak.hoursAbove.batteryOnly': home.batteryOnlyW < Infinity ? run.hoursAbove : NaN,
    'money.bill': bill,
    'money.saving': isBilled ? model.costWithoutSystem(modelled) - bill : NaN,
  };
}
