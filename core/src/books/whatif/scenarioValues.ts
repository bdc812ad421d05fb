import type { Unit } from '../../model/figure.js';
import { cellAt } from '../../model/log.js';
import type { Quantity } from '../../model/quantity.js';
import type { Prepared } from '../../passes/prepare.js';
import { channelOf, type RangeData } from '../../passes/rangeData.js';
import type { System } from '../../system/schema.js';
import { drawnBills } from '../money/drawnBills.js';
import { priceSeries, type PriceSeries } from '../shared/priceSeries.js';
import { totalsOf } from '../money/account.js';
import { startsOf, type Starts } from '../outage/outageStarts.js';
import { WHOLE_HOME } from '../outage/scenario.js';
import { scenarioOutcome } from '../outage/scenarioOutcome.js';
import { lostSun } from '../solar/lostSun.js';
import { loadOf, sunOf } from './changedFlows.js';
import { changedHome, idleOf, type ModelHome } from './modelHome.js';
import { modelRun, type ModelInputs, type ModelRun } from './modelRun.js';
import type { Change } from './scenarioFile.js';

/** A day that buys no more than this is grid-free. */
const GRID_FREE_KWH = 0.5;

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
  'solar.heldBack': 'kWh',
  'solar.clipped': 'kWh',
  'wear.efc.nameplate': 'cycles',
  'outage.survive.12h': 'share',
  'outage.survive.24h': 'share',
  'peak.hoursAbove.batteryOnly': 'h',
  'money.bill': 'currency',
  'money.saving': 'currency',
} as const satisfies Record<string, Unit>;
export type WhatifKey = keyof typeof WHATIF_KEYS;
export const KEYS = Object.keys(WHATIF_KEYS) as WhatifKey[];
/** What a run comes to, by figure; NaN where it cannot be told. */
export type Values = Readonly<Record<WhatifKey, number>>;

/** A home that can be run as it is and as changes would make it. */
export interface Model {
  readonly data: RangeData;
  readonly system: System;
  readonly home: ModelHome;
  readonly inputs: ModelInputs;
  readonly prices: PriceSeries | null;
  readonly starts: Starts | null;
  readonly run: (change: Change, capacity?: number) => Modelled;
}

/** One run of it. */
export interface Modelled {
  readonly home: ModelHome;
  readonly load: Float64Array;
  readonly sun: Float64Array;
  readonly run: ModelRun;
  readonly prices: PriceSeries | null;
}

/** The home of a range, ready to be run. */
export function modelOf(prepared: Prepared, data: RangeData, home: ModelHome): Model {
  const { log, range } = data;
  const { system } = prepared;
  const [from, to] = [cellAt(log, range.fromMs), cellAt(log, range.toMs)];
  const part = (quantity: Quantity) => channelOf(data, quantity)?.values.subarray(from, to);
  const load = Float64Array.from(part('load')!, (watts) => Math.max(0, watts));
  const rebuilt = lostSun(data, system)?.rebuilt;
  const made = part('solar');
  const solar = made
    ? Float64Array.from(rebuilt ?? made, (watts) => Math.max(0, watts))
    : new Float64Array(to - from);
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
  // The base is asked for again and again, as it is and with another capacity.
  const bases = new Map<number, Modelled>();
  const run = (change: Change, capacity = 1): Modelled => {
    const isBase = Object.keys(change).length === 0;
    const known = isBase ? bases.get(capacity) : undefined;
    if (known) return known;
    const made = runOf(change, capacity);
    if (isBase) bases.set(capacity, made);
    return made;
  };
  const runOf = (change: Change, capacity: number): Modelled => {
    const changed = changedHome(home, change, system);
    const own = { ...changed, fullWh: changed.fullWh * capacity };
    const priced = change.tariffs ? priceSeries(log, { ...system, tariffs: change.tariffs }, range) : prices;
    const sun = sunOf(data, inputs.solar, change, home, from, to);
    const used = loadOf(data, inputs, sun, change, from, to);
    return {
      home: own,
      load: used,
      sun,
      prices: priced,
      run: modelRun(own, {
        ...inputs,
        load: used,
        solar: sun,
        buy: priced?.buy ?? null,
        surplusLoad: change.surplusLoad
          ? { watts: 1000 * change.surplusLoad.kW, aboveSoc: change.surplusLoad.aboveSoc }
          : null,
      }),
    };
  };
  return { data, system, home, inputs, prices, starts: 'reason' in starts ? null : starts, run };
}

/** What a run comes to; NaN where it cannot be told. */
export function valuesOf({ data, starts, inputs }: Model, modelled: Modelled): Values {
  const { log } = data;
  const { home, load, run, prices } = modelled;
  const { loadKWh } = run;
  const own = home.hasGrid ? 1 - run.gridToLoadKWh / loadKWh : 1 - run.unservedKWh / loadKWh;
  const outage = starts ? survival(starts, modelled, inputs) : null;
  const bill =
    prices && home.hasGrid
      ? totalsOf(drawnBills(log, prices, { bought: run.importW, sold: run.exportW })).total
      : NaN;
  const without =
    prices && home.hasGrid ? totalsOf(drawnBills(log, prices, { bought: load, sold: null })).total : NaN;
  let free = 0;
  for (let day = 0; day < run.importByDayKWh.length; day++)
    if (run.daysKnown[day] === 1 && run.importByDayKWh[day]! <= GRID_FREE_KWH) free++;
  return {
    'account.selfSufficiency.grid': home.hasGrid ? 1 - run.importKWh / loadKWh : NaN,
    'account.selfSufficiency.supply': own,
    'account.selfSufficiency.solar': own - run.gridOriginKWh / loadKWh,
    'account.import': home.hasGrid ? run.importKWh : NaN,
    'account.export': home.hasGrid ? run.exportKWh : NaN,
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
    'solar.heldBack': run.heldBackKWh,
    'solar.clipped': run.clippedKWh,
    'wear.efc.nameplate': home.nameplateWh > 0 ? (1000 * run.dischargeKWh) / home.nameplateWh : 0,
    'outage.survive.12h': outage?.[0] ?? NaN,
    'outage.survive.24h': outage?.[1] ?? NaN,
    'peak.hoursAbove.batteryOnly': home.batteryOnlyW < Infinity ? run.hoursAbove : NaN,
    'money.bill': bill,
    'money.saving': without - bill,
  };
}

function survival(
  starts: Starts,
  { home, load, sun, run }: Modelled,
  { startMs, solar }: ModelInputs,
): readonly [number, number] {
  if (home.fullWh === 0) return [0, 0];
  const skip = Math.round((starts.startMs - startMs) / starts.stepMs);
  const part = (values: Float64Array) => values.subarray(skip, skip + starts.load.length);
  const { parameters } = starts.storage;
  const { survive12, survive24 } = scenarioOutcome(
    {
      ...starts,
      load: part(load),
      // What the arrays made as logged, with what the change adds to it or takes away.
      solar: starts.solar.map((watts, i) => Math.max(0, watts + sun[skip + i]! - solar[skip + i]!)),
      soc: part(run.soc),
      storage: {
        ...starts.storage,
        fullWh: home.fullWh,
        cutOff: home.cutOff,
        parameters: {
          ...parameters,
          capacityWh: home.fullWh * (1 - home.cutOff),
          idleW: idleOf(home),
          chargeW: home.chargeW,
          limitW: home.batteryOnlyW,
        },
      },
    },
    WHOLE_HOME,
  );
  return [survive12.value, survive24.value];
}
