import type { Interval } from '../../model/figure.js';
import { InputError } from '../../model/problem.js';
import type { Range } from '../../model/range.js';
import { rangeDataOf, type Prepared } from '../../passes/prepare.js';
import type { RangeData } from '../../passes/rangeData.js';
import type { System } from '../../system/schema.js';
import { isSouthern } from '../../system/season.js';
import { dayNumberAt } from '../../time/days.js';
import { offsetAt, zoneOf } from '../../time/zone.js';
import { lostSun } from '../solar/lostSun.js';
import { modelHome, type ModelHome } from './modelHome.js';
import { modelRun, type ModelInputs, type ModelRun } from './modelRun.js';
import { modelOf } from './scenarioValues.js';

/** Powers of a load that would run on what is left over, kW. */
const POWERS_KW = [0.5, 1, 2, 3, 5, 7] as const;
/** A day with so much left over is one of surplus, kWh. */
const SURPLUS_DAY_KWH = 2;
/** A load that takes what is left over runs while it gets so much of its power. */
const RUNS_AT = 0.95;
/** The half of a year with long days, and the four months of the shortest, in months from midsummer. */
const [SUMMER_MONTHS, WINTER_MONTHS] = [3, 4.5];

/** What a load of a power would get of what is left over, without touching what the battery takes. */
export interface SurplusLoad {
  readonly kW: number;
  /** A day, over all of the range: taken whenever something is left, and hours in which it would run at its power. */
  readonly kWhADay: Interval;
  readonly hoursADay: Interval;
  /** Share of days on which it would run for an hour or more. */
  readonly days: Interval;
}

/** What the sun leaves over when load and battery are served, by the model of the home as it is; intervals at about 95 %. */
export interface Surplus {
  readonly kWhADay: Interval;
  /** By month of the year, January first, and hour of the site's day: mean, kW; null where the range has none. */
  readonly byHour: readonly (readonly (Interval | null)[])[];
  /** kWh a day by month of the year. */
  readonly byMonth: readonly (Interval | null)[];
  readonly loads: readonly SurplusLoad[];
  readonly days: { readonly known: number; readonly surplus: Interval; readonly longestRun: Interval };
  /** Modules that the summer's surplus of a day would fill, and what of a module the winter's would; null without both,
   * or where nothing tells the hemisphere. */
  readonly modules: { readonly summer: Interval; readonly winter: Interval } | null;
}

/**
 * The surplus of a range: what is sold or held back when the load and the battery are served. Measured load, and the sun as
 * it was or as it is rebuilt where it was held back, through the model of the home. It is a small difference of two large flows:
 * every value has its interval from two more runs, with as much less and more of it as the gains of the meters of sun and load
 * may hide together; what the model misses of the logged export, and what is not known of the sun that was held back, come on
 * top. Common practice, no published source.
 * @throws InputError where the home cannot be modelled
 */
export function surplusOf(prepared: Prepared, range: Range): Surplus {
  const data = rangeDataOf(prepared, range);
  const home = modelHome(data);
  if (!home || !data.log.channels.has('load'))
    throw new InputError([
      {
        where: prepared.system.name,
        found: 'Load or battery are not known, so nothing shows what is left over.',
        mend: 'Describe the battery, and bring a log with the load.',
      },
    ]);
  const model = modelOf(prepared, data, home);
  const { inputs } = model;
  const isSouth = isSouthern(prepared.system) ?? isDarkAtMidyear(inputs);
  const asRead = modelRun(home, inputs);
  const own = reckoned(asRead.courses.spareW, inputs, home, isSouth);
  const { accuracy } = data;
  const [sunOff, loadOff] = [accuracy.solar * asRead.solarKWh, accuracy.load * asRead.loadKWh];
  const both = Math.hypot(sunOff, loadOff) || 1;
  // So that what the two change together is their root sum of squares.
  const readOtherwise = (sign: 1 | -1) => {
    const [sun, load] = [
      1 + (sign * accuracy.solar * sunOff) / both,
      1 - (sign * accuracy.load * loadOff) / both,
    ];
    const read = {
      ...inputs,
      solar: inputs.solar.map((watts) => watts * sun),
      load: inputs.load.map((watts) => watts * load),
    };
    return reckoned(modelRun(home, read).courses.spareW, inputs, home, isSouth);
  };
  const off = own.kWhADay > 0 ? notOfGains(data, asRead, prepared.system) / own.kWhADay / own.days.known : 0;
  return withIntervals(own, readOtherwise(-1), readOtherwise(1), Math.min(1, off));
}

/** A surplus without its intervals. */
type Reckoned = WithoutIntervals<Surplus>;
type WithoutIntervals<T> = T extends Interval
  ? number
  : T extends object
    ? { readonly [K in keyof T]: WithoutIntervals<T[K]> }
    : T;

function reckoned(
  spareW: Float64Array,
  { startMs, stepMs, zone: zoneName }: ModelInputs,
  home: ModelHome,
  isSouth: boolean | null,
): Reckoned {
  const zone = zoneOf(zoneName);
  const hours = stepMs / 3_600_000;
  const cells = Array.from({ length: 12 }, () => Array.from({ length: 24 }, () => ({ wh: 0, h: 0 })));
  const days = new Map<number, { wh: number; h: number; month: number; runs: number[] }>();
  for (let i = 0; i < spareW.length; i++) {
    const spare = spareW[i]!;
    if (spare !== spare) continue;
    const ms = startMs + i * stepMs;
    const number = dayNumberAt(zone, ms);
    let day = days.get(number);
    if (!day) {
      const month = new Date(ms + offsetAt(zone, ms)).getUTCMonth();
      days.set(number, (day = { wh: 0, h: 0, month, runs: POWERS_KW.map(() => 0) }));
    }
    const cell = cells[day.month]![Math.floor((ms + offsetAt(zone, ms)) / 3_600_000) % 24]!;
    cell.wh += spare * hours;
    cell.h += hours;
    day.wh += spare * hours;
    day.h += hours;
    for (let p = 0; p < POWERS_KW.length; p++)
      if (spare >= RUNS_AT * 1000 * POWERS_KW[p]!) day.runs[p]! += hours;
  }
  const known = [...days].filter(([, { h }]) => h >= 21.6).sort(([a], [b]) => a - b);
  const perDay = (list: typeof known) =>
    list.length > 0 ? list.reduce((sum, [, { wh }]) => sum + wh, 0) / 1000 / list.length : null;
  const moduleKWh = home.fullWh / 1000 / Math.max(1, home.described?.battery?.modules ?? 1);
  const seasonOf = (isSummer: boolean) =>
    isSouth === null ? null : perDay(known.filter(([, { month }]) => inSeason(month, isSouth, isSummer)));
  const [summer, winter] = [seasonOf(true), seasonOf(false)];
  const shareOf = (amount: number) => amount / Math.max(1, known.length);
  const isOfSurplus = ({ wh }: { readonly wh: number }) => wh >= 1000 * SURPLUS_DAY_KWH;
  return {
    kWhADay: perDay(known) ?? 0,
    byHour: cells.map((row) => row.map(({ wh, h }) => (h > 0 ? wh / h / 1000 : null))),
    byMonth: cells.map((_, month) => perDay(known.filter(([, day]) => day.month === month))),
    loads: POWERS_KW.map((kW, p) => ({
      kW,
      kWhADay: shareOf(takenBy(spareW, 1000 * kW, hours)),
      hoursADay: shareOf(known.reduce((sum, [, { runs }]) => sum + runs[p]!, 0)),
      days: shareOf(known.filter(([, { runs }]) => runs[p]! >= 1).length),
    })),
    days: {
      known: known.length,
      surplus: known.filter(([, day]) => isOfSurplus(day)).length,
      longestRun: longestRun(known.map(([number, day]) => ({ number, is: isOfSurplus(day) }))),
    },
    modules:
      summer === null || winter === null || moduleKWh === 0
        ? null
        : { summer: summer / moduleKWh, winter: winter / moduleKWh },
  };
}

/** @param off share by which every energy may be off beside what the two other runs show */
function withIntervals(own: Reckoned, less: Reckoned, more: Reckoned, off: number): Surplus {
  const held = (value: number, low: number, high: number, share = off): Interval => ({
    value,
    low: Math.max(0, value - Math.hypot(Math.max(0, value - low), share * value)),
    high: value + Math.hypot(Math.max(0, high - value), share * value),
  });
  const counted = (value: number, low: number, high: number) => held(value, low, high, 0);
  const known = (value: number | null, low: number | null | undefined, high: number | null | undefined) =>
    value === null ? null : held(value, low ?? value, high ?? value);
  return {
    kWhADay: held(own.kWhADay, less.kWhADay, more.kWhADay),
    byHour: own.byHour.map((row, month) =>
      row.map((kW, hour) => known(kW, less.byHour[month]![hour], more.byHour[month]![hour])),
    ),
    byMonth: own.byMonth.map((kWh, month) => known(kWh, less.byMonth[month], more.byMonth[month])),
    loads: own.loads.map(({ kW, kWhADay, hoursADay, days }, p) => {
      const [low, high] = [less.loads[p]!, more.loads[p]!];
      return {
        kW,
        kWhADay: held(kWhADay, low.kWhADay, high.kWhADay),
        hoursADay: held(hoursADay, low.hoursADay, high.hoursADay),
        days: counted(days, low.days, high.days),
      };
    }),
    days: {
      known: own.days.known,
      surplus: counted(own.days.surplus, less.days.surplus, more.days.surplus),
      longestRun: counted(own.days.longestRun, less.days.longestRun, more.days.longestRun),
    },
    modules: own.modules && {
      summer: held(own.modules.summer, less.modules!.summer, more.modules!.summer),
      winter: held(own.modules.winter, less.modules!.winter, more.modules!.winter),
    },
  };
}

/** By how much the surplus of a range may be off beside the gains of its meters, kWh. */
function notOfGains(data: RangeData, run: ModelRun, system: System): number {
  const { total } = data;
  const missed = total.gridS > 0 ? run.exportKWh - total.exportWh / 1000 : 0;
  const lost = lostSun(data, system);
  const rebuilt = [lost?.heldBack, lost?.clipped].map((one) => (one ? (one.high - one.low) / 2000 : 0));
  return Math.hypot(missed, ...rebuilt);
}

/** Whether a month belongs to the long days, or to the shortest, of its hemisphere. */
function inSeason(month: number, isSouth: boolean, isSummer: boolean): boolean {
  const midsummer = isSouth ? 11.5 : 5.5;
  const away = Math.abs(((month - midsummer + 18) % 12) - 6);
  return isSummer ? away < SUMMER_MONTHS : away >= WINTER_MONTHS;
}

/** Whether the sun gives less about June than about December; null where the log has not both. */
function isDarkAtMidyear({ solar, startMs, stepMs, zone: zoneName }: ModelInputs): boolean | null {
  const zone = zoneOf(zoneName);
  const [about6, about12] = [
    { sum: 0, cells: 0 },
    { sum: 0, cells: 0 },
  ];
  solar.forEach((watts, i) => {
    const ms = startMs + i * stepMs;
    const month = new Date(ms + offsetAt(zone, ms)).getUTCMonth();
    const half = Math.abs(month - 5) <= 1 ? about6 : Math.abs(((month + 6) % 12) - 5) <= 1 ? about12 : null;
    if (!half || watts !== watts) return;
    half.sum += watts;
    half.cells++;
  });
  if (about6.cells === 0 || about12.cells === 0) return null;
  return about6.sum / about6.cells < about12.sum / about12.cells;
}

/** What a load of so many watts would take of what is left over, kWh. */
function takenBy(spareW: Float64Array, watts: number, hours: number): number {
  let wh = 0;
  for (const spare of spareW) if (spare > 0) wh += Math.min(watts, spare) * hours;
  return wh / 1000;
}

function longestRun(days: readonly { readonly number: number; readonly is: boolean }[]): number {
  let [longest, run, before] = [0, 0, NaN];
  for (const { number, is } of days) {
    run = is ? (number === before + 1 ? run + 1 : 1) : 0;
    before = number;
    longest = Math.max(longest, run);
  }
  return longest;
}
