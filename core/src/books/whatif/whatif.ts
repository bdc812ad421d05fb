import {
  insufficient,
  estimated,
  notMeasured,
  type Figure,
  type Interval,
  type Unit,
} from '../../model/figure.js';
import { cellAt } from '../../model/log.js';
import { isNamed, nameOfPart, type Quantity } from '../../model/quantity.js';
import { InputError } from '../../model/problem.js';
import type { Range } from '../../model/range.js';
import { rangeDataOf, type Prepared } from '../../passes/prepare.js';
import { channelOf, type RangeData } from '../../passes/rangeData.js';
import type { System } from '../../system/schema.js';
import { offsetAt, zoneOf } from '../../time/zone.js';
import { drawnBills } from '../money/drawnBills.js';
import { isWithin, priceSeries, type PriceSeries } from '../money/priceSeries.js';
import { totalsOf } from '../money/account.js';
import { HOUR_MS, startsOf, type Starts } from '../outage/outageStarts.js';
import { WHOLE_HOME } from '../outage/scenario.js';
import { scenarioOutcome } from '../outage/scenarioOutcome.js';
import { lostSun } from '../solar/lostSun.js';
import { lackOf } from '../shared/lacking.js';
import { changedHome, modelHome, type ModelHome } from './modelHome.js';
import { modelRun, type ModelInputs, type ModelRun } from './modelRun.js';
import type { Change, ScenarioFile } from './scenarioFile.js';

/** A difference is held to this share of it, and to this share of the load. */
const DIFFERENCE_OFF = 0.06;
const LOAD_OFF = 0.005;
/** A modelled value by itself is held to what the model misses of the log, and to this share. */
const MODEL_OFF = 0.02;
const GRID_FREE_KWH = 0.5;
const SURPLUS_AT_NIGHT_H = 22;

const SAYS =
  'Measured load and sun through a model of the store, step by step. Common practice, no published source.';
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
const KEYS = Object.keys(WHATIF_KEYS) as WhatifKey[];
type Values = Readonly<Record<WhatifKey, number>>;

/** A figure of a scenario; its basis holds the difference to the modelled base. */
export type WhatifFigure = Omit<Figure, 'basis'> & {
  readonly basis: Figure['basis'] & { readonly difference?: Interval };
};

/** One run told: its figures, and what was changed. */
export interface WhatifScenario {
  readonly name: string;
  readonly figures: Readonly<Record<string, WhatifFigure>>;
  readonly change: Change;
}

/** What scenarios would change, `long-tally/whatif@1`. */
export interface Whatif {
  readonly schema: 'long-tally/whatif@1';
  readonly base: {
    readonly logged: Readonly<Record<string, Figure>>;
    readonly modelled: Readonly<Record<string, WhatifFigure>>;
    /** Modelled − logged, for the same keys; null where one of them is not told. */
    readonly errors: Readonly<Record<string, number | null>>;
  };
  readonly scenarios: readonly WhatifScenario[];
  readonly sweep: readonly {
    readonly at: number;
    readonly figures: Readonly<Record<string, WhatifFigure>>;
  }[];
  readonly knee: { readonly at: number; readonly reason: string } | null;
}

/** A quantity that is swept, the values it takes, and whether each is begun as an outage in every hour as well. */
export interface Sweep {
  readonly key: string;
  readonly values: readonly number[];
  readonly tells: 'everything' | 'energies';
}

/** A step of a sweep that adds less self-sufficiency than this is not worth taking. */
const LEAST_GAIN = 0.01;

/**
 * Runs the home of a range as it is and as scenarios would make it.
 * @param logged figures of the range's report
 * @throws InputError where the home cannot be modelled, or a scenario names what it has not
 */
export function whatif(
  prepared: Prepared,
  range: Range,
  logged: Readonly<Record<string, Figure>>,
  scenarios: readonly ScenarioFile[],
  sweep: Sweep | null,
): Whatif {
  const data = rangeDataOf(prepared, range);
  const home = modelHome(data);
  const lack = lackOf(data, ['load']);
  if (!home || lack)
    throw new InputError([
      {
        where: prepared.system.name,
        found: lack ?? 'The battery is not described: modules, kWh each and usable share.',
        mend: 'A what-if runs the measured load through the described battery; supply what is missing.',
      },
    ]);
  const model = modelOf(prepared, data, home);
  const base = model.run({});
  const baseValues = valuesOf(model, base);
  const told = (values: Values, change: Change | null) =>
    figuresOf(model, values, baseValues, logged, change);
  const swept = sweep ? sweep.values.map((at) => ({ at, change: changeAt(sweep.key, at) })) : [];
  const swiftly = sweep?.tells === 'energies' ? { ...model, starts: null } : model;
  const runs = swept.map(({ at, change }) => ({ at, values: valuesOf(swiftly, model.run(change)), change }));
  return {
    schema: 'long-tally/whatif@1',
    base: {
      logged: Object.fromEntries(KEYS.flatMap((key) => (logged[key] ? [[key, logged[key]]] : []))),
      modelled: told(baseValues, null),
      errors: Object.fromEntries(
        KEYS.map((key) => {
          const was = logged[key]?.value;
          const value = baseValues[key];
          return [key, was == null || Number.isNaN(value) ? null : value - was];
        }),
      ),
    },
    scenarios: scenarios.map(({ name, change }) => ({
      name,
      figures: told(valuesOf(model, model.run(change)), change),
      change,
    })),
    sweep: runs.map(({ at, values, change }) => ({ at, figures: told(values, change) })),
    knee: kneeOf(sweep?.key ?? '', runs),
  };
}

interface Model {
  readonly data: RangeData;
  readonly system: System;
  readonly home: ModelHome;
  readonly inputs: ModelInputs;
  readonly prices: PriceSeries | null;
  readonly starts: Starts | null;
  readonly run: (change: Change, capacity?: number) => Modelled;
}

interface Modelled {
  readonly home: ModelHome;
  readonly load: Float64Array;
  readonly run: ModelRun;
  readonly prices: PriceSeries | null;
}

function modelOf(prepared: Prepared, data: RangeData, home: ModelHome): Model {
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

/** The sun with arrays larger or smaller, at the side on which the changed home measures it. */
function sunOf(
  data: RangeData,
  solar: Float64Array,
  change: Change,
  home: ModelHome,
  from: number,
  to: number,
): Float64Array {
  if (change.noSolar) return new Float64Array(solar.length);
  const scales = change.arraysScale ?? {};
  const arrays = data.parts.at(-1)!.configuration.described?.arrays ?? [];
  const whole = arrays.reduce((sum, { kWp }) => sum + kWp, 0);
  let factor = scales['all'] ?? 1;
  const own = new Float64Array(solar.length);
  for (const [name, scale] of Object.entries(scales)) {
    if (name === 'all') continue;
    const logged = data.log.channels.get(`solar:${name}`)?.values.subarray(from, to);
    const array = arrays.find((one) => one.name === name);
    if (logged)
      for (let i = 0; i < own.length; i++)
        own[i]! += (scale - 1) * (logged[i] === logged[i] ? logged[i]! : 0);
    else if (array && whole > 0) factor += ((scale - 1) * array.kWp) / whole;
    else
      throw new InputError([
        {
          where: 'scenario',
          column: `key change.arraysScale.${name}`,
          found: `There is no array "${name}".`,
          mend: `Write "all"${arrays.length > 0 ? `, or one of ${arrays.flatMap((one) => (one.name ? [`"${one.name}"`] : [])).join(', ')}` : ''}.`,
        },
      ]);
  }
  const side =
    change.coupling === undefined || change.coupling === home.coupling
      ? 1
      : change.coupling === 'dc'
        ? 1 / 0.96
        : home.efficiency;
  return solar.map((watts, i) => side * Math.max(0, watts * factor + own[i]!));
}

/** The load with parts added, moved and taken away. */
function loadOf(
  data: RangeData,
  inputs: ModelInputs,
  sun: Float64Array,
  change: Change,
  from: number,
  to: number,
): Float64Array {
  const { addLoads = [], shiftLoads = [], removeLoads = [] } = change;
  if (addLoads.length + shiftLoads.length + removeLoads.length === 0) return inputs.load;
  const load = inputs.load.slice();
  const hours = inputs.stepMs / HOUR_MS;
  const zone = zoneOf(inputs.zone);
  const perDay = Math.max(1, Math.round(24 / hours));
  const minutes = Float64Array.from(load, (_, i) => {
    const ms = inputs.startMs + i * inputs.stepMs;
    return ((ms + offsetAt(zone, ms)) % 86_400_000) / 60_000;
  });
  const partOf = (name: string, key: string) => {
    const found = [...data.log.channels].find(
      ([quantity]) => isNamed(quantity) && nameOfPart(quantity) === name,
    );
    if (found) return found[1].values.subarray(from, to);
    const names = [...data.log.channels.keys()].flatMap((quantity) =>
      isNamed(quantity) ? [`"${nameOfPart(quantity)}"`] : [],
    );
    throw new InputError([
      {
        where: 'scenario',
        column: `key change.${key}`,
        found: `No part of the load is logged by the name "${name}".`,
        mend:
          names.length > 0
            ? `Write one of ${names.join(', ')}.`
            : 'Log it by a column of its own, for example boiler_load_w.',
      },
    ]);
  };
  const takeAway = (values: Float64Array) => {
    for (let i = 0; i < load.length; i++)
      if (values[i] === values[i]) load[i] = Math.max(0, load[i]! - values[i]!);
  };
  for (const name of removeLoads) takeAway(partOf(name, 'removeLoads'));
  for (const { name, to: where } of shiftLoads) {
    const values = partOf(name, 'shiftLoads');
    takeAway(values);
    const most = values.reduce((highest, watts) => (watts > highest ? watts : highest), 0);
    for (let day = 0; day < load.length; day += perDay) {
      const end = Math.min(load.length, day + perDay);
      let left = 0;
      for (let i = day; i < end; i++) if (values[i] === values[i]) left += values[i]! * hours;
      const fill = (isHere: (i: number) => number) => {
        for (let i = day; i < end && left > 1e-9; i++) {
          const watts = Math.min(isHere(i), left / hours);
          if (!(watts > 0)) continue;
          load[i]! += watts;
          left -= watts * hours;
        }
      };
      if (where === 'surplus') fill((i) => Math.min(most, Math.max(0, sun[i]! - load[i]!)));
      fill((i) =>
        (where === 'night' ? minutes[i]! < 360 : minutes[i]! >= SURPLUS_AT_NIGHT_H * 60) ? most : 0,
      );
      fill(() => most);
    }
  }
  for (const { kWhPerDay, start, end, kW } of addLoads) {
    let [left, day] = [0, -1];
    for (let i = 0; i < load.length; i++) {
      const isIn = isWithin(Math.floor(minutes[i]!), start, end);
      const ms = inputs.startMs + i * inputs.stepMs;
      // A window over midnight belongs to the day on which it begins.
      const begun = Math.floor((ms + offsetAt(zone, ms) - minutesOf(start) * 60_000) / 86_400_000);
      if (begun !== day) [day, left] = [begun, kWhPerDay * 1000];
      if (!isIn || left <= 0) continue;
      const watts = Math.min(1000 * kW, left / hours);
      load[i]! += watts;
      left -= watts * hours;
    }
  }
  return load;
}

function minutesOf(clock: string): number {
  return Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3));
}

/** What a run comes to; NaN where it cannot be told. */
function valuesOf({ data, starts, inputs }: Model, { home, load, run, prices }: Modelled): Values {
  const { log } = data;
  const { loadKWh } = run;
  const own = home.hasGrid ? 1 - run.gridToLoadKWh / loadKWh : 1 - run.unservedKWh / loadKWh;
  const outage = starts ? survival(starts, home, run, load, inputs) : null;
  const bill =
    prices && home.hasGrid ? totalsOf(drawnBills(log, prices, run.importW, run.exportW)).total : NaN;
  const without =
    prices && home.hasGrid
      ? totalsOf(drawnBills(log, prices, load, new Float64Array(load.length))).total
      : NaN;
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
  home: ModelHome,
  run: ModelRun,
  load: Float64Array,
  { startMs }: ModelInputs,
): readonly [number, number] {
  if (home.fullWh === 0) return [0, 0];
  const skip = Math.round((starts.startMs - startMs) / starts.stepMs);
  const part = (values: Float64Array) => values.subarray(skip, skip + starts.load.length);
  const { parameters } = starts.storage;
  const { survive12, survive24 } = scenarioOutcome(
    {
      ...starts,
      load: part(load),
      soc: part(run.soc),
      storage: {
        ...starts.storage,
        fullWh: home.fullWh,
        cutOff: home.cutOff,
        parameters: {
          ...parameters,
          capacityWh: home.fullWh * (1 - home.cutOff),
          idleW: home.idleW,
          chargeW: home.chargeW,
          limitW: home.batteryOnlyW,
        },
      },
    },
    WHOLE_HOME,
  );
  return [survive12.value, survive24.value];
}

const PER_LOAD: readonly WhatifKey[] = [
  'account.selfSufficiency.grid',
  'account.selfSufficiency.supply',
  'account.selfSufficiency.solar',
];

/** Figures of a run; beside each the difference to the base, with the interval that a reader should trust. */
function figuresOf(
  model: Model,
  values: Values,
  base: Values,
  logged: Readonly<Record<string, Figure>>,
  change: Change | null,
): Record<string, WhatifFigure> {
  const spread = change === null ? null : spreadOf(model, change);
  return Object.fromEntries(
    KEYS.map((key): [string, WhatifFigure] => {
      const unit = WHATIF_KEYS[key];
      const method = {
        id: `whatif.${key}`,
        formula: 'as the account has it, of the modelled flows',
        source: SAYS,
      };
      const value = values[key];
      if (Number.isNaN(value)) {
        const reason =
          logged[key]?.reason ??
          'The home has not what it needs: a grid, a tariff, a described limit, or its charge in the log.';
        return [key, notMeasured(unit, method, reason)];
      }
      const was = logged[key]?.value;
      const missed = was == null ? 0 : Math.abs(base[key] - was);
      const scale =
        key.startsWith('account.') && !PER_LOAD.includes(key) && unit === 'kWh'
          ? LOAD_OFF * loadOfBase(base)
          : unit === 'share'
            ? LOAD_OFF
            : 0;
      const difference = value - base[key];
      const half =
        change === null
          ? 0
          : Math.hypot(spread?.[key] ?? 0, DIFFERENCE_OFF * difference, difference === 0 ? 0 : scale);
      const own = Math.hypot(missed, MODEL_OFF * Math.abs(value), half);
      const figure = estimated(
        { value, low: value - own, high: value + own },
        {
          unit,
          method,
          basis: {},
          working: [
            { label: 'modelled', value, unit, role: 'result' },
            { label: 'what the model misses of the log', value: own, unit, role: 'uncertainty' },
          ],
          assumptions: [
            'Use and weather as they were; what a reader should trust is the difference to the modelled base.',
          ],
        },
      );
      if (figure.value === null) return [key, insufficient(unit, method, figure.reason!)];
      return change === null
        ? [key, figure]
        : [
            key,
            {
              ...figure,
              basis: { difference: { value: difference, low: difference - half, high: difference + half } },
            },
          ];
    }),
  );
}

function loadOfBase(base: Values): number {
  return base['account.import'] / Math.max(1e-9, 1 - base['account.selfSufficiency.grid']) || 0;
}

/** How far a difference moves with the capacity as unsure as it is. */
function spreadOf(model: Model, change: Change): Partial<Record<WhatifKey, number>> {
  const off = Math.min(0.3, model.home.capacityOff);
  const plain = [
    'account.selfSufficiency.grid',
    'account.selfSufficiency.supply',
    'account.selfSufficiency.solar',
    'account.import',
    'account.export',
    'account.charge',
    'account.discharge',
    'account.losses',
    'solar.heldBack',
    'money.bill',
    'money.saving',
    'account.gridFreeDays',
    'wear.efc.nameplate',
  ] as const;
  const lean: Model = { ...model, starts: null };
  const differences = [1 - off, 1 + off].map((capacity) => {
    const [changed, base] = [
      valuesOf(lean, model.run(change, capacity)),
      valuesOf(lean, model.run({}, capacity)),
    ];
    return Object.fromEntries(plain.map((key) => [key, changed[key] - base[key]]));
  });
  return Object.fromEntries(
    plain.map((key) => [key, Math.abs(differences[1]![key]! - differences[0]![key]!) / 2]),
  );
}

/** The change that sets one quantity, by its key: `battery.modules`, `inverter.units`, `arraysScale.all`, `exportLimitKW`. */
function changeAt(key: string, at: number): Change {
  const [group, name, ...rest] = key.split('.');
  const isOf = (one: string, names: readonly string[]) =>
    group === one && name !== undefined && rest.length === 0 && names.includes(name);
  if (
    isOf('battery', [
      'modules',
      'moduleKWh',
      'usableShare',
      'reserve',
      'cutOff',
      'maxChargeKW',
      'maxDischargeKW',
    ])
  )
    return { battery: { [name!]: at } };
  if (isOf('inverter', ['units', 'continuousKW', 'batteryOnlyKW'])) return { inverter: { [name!]: at } };
  if (group === 'arraysScale' && name) return { arraysScale: { [[name, ...rest].join('.')]: at } };
  if (['exportLimitKW', 'gridChargeLimitKW', 'idleW'].includes(key)) return { [key]: at };
  throw new InputError([
    {
      where: '--sweep',
      found: `"${key}" cannot be swept.`,
      mend: 'Write for example battery.modules=1..8, battery.reserve=0..0.5:0.1, arraysScale.all=0.5..2:0.25 or exportLimitKW=0..10.',
    },
  ]);
}

/** The value after which the next step adds too little self-sufficiency. */
function kneeOf(
  key: string,
  runs: readonly { readonly at: number; readonly values: Values }[],
): Whatif['knee'] {
  const of = ({ values }: (typeof runs)[number]) => values['account.selfSufficiency.supply'];
  for (let k = 0; k + 1 < runs.length; k++) {
    const gain = of(runs[k + 1]!) - of(runs[k]!);
    if (gain < LEAST_GAIN)
      return {
        at: runs[k]!.at,
        reason: `From ${runs[k]!.at} to ${runs[k + 1]!.at} (${key}) self-sufficiency by supply gains ${(100 * gain).toFixed(1)} points, less than ${100 * LEAST_GAIN}.`,
      };
  }
  return null;
}
