import { InputError } from '../../model/problem.js';
import type { Range } from '../../model/range.js';
import { rangeDataOf, type Prepared } from '../../passes/prepare.js';
import type { RangeData } from '../../passes/rangeData.js';
import type { System } from '../../system/schema.js';
import { dayNumberAt } from '../../time/days.js';
import { offsetAt, zoneOf } from '../../time/zone.js';
import { lostSun } from '../solar/lostSun.js';
import { modelHome } from './modelHome.js';
import type { ModelRun } from './modelRun.js';
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
  readonly kWhADay: number;
  readonly bounds: Bounds;
  readonly hoursADay: number;
  /** Share of days on which it would run for an hour or more. */
  readonly days: number;
}

/** About 95 %, kWh a day. */
interface Bounds {
  readonly low: number;
  readonly high: number;
}

/** What the sun leaves over when load and battery are served, by the model of the home as it is. */
export interface Surplus {
  readonly kWhADay: number;
  readonly bounds: Bounds;
  /** By month of the year, January first, and hour of the site's day: mean, kW; null where the range has none. */
  readonly byHour: readonly (readonly (number | null)[])[];
  /** kWh a day by month of the year. */
  readonly byMonth: readonly (number | null)[];
  readonly loads: readonly SurplusLoad[];
  readonly days: { readonly known: number; readonly surplus: number; readonly longestRun: number };
  /** Modules that the summer's surplus of a day would fill, and what of a module the winter's would; null without both. */
  readonly modules: { readonly summer: number; readonly winter: number } | null;
}

/**
 * The surplus of a range: what is sold or held back when the load and the battery are served. Measured load, and the sun as
 * it was or as it is rebuilt where it was held back, through the model of the home. Common practice, no published source.
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
  const { run } = model.run({});
  const { spareW } = run.courses;
  const { startMs, stepMs } = model.inputs;
  const zone = zoneOf(data.log.zone);
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
    perDay(known.filter(([, { month }]) => inSeason(month, prepared.system.latitude ?? 45, isSummer)));
  const [summer, winter] = [seasonOf(true), seasonOf(false)];
  const kWhADay = perDay(known) ?? 0;
  const off = kWhADay > 0 ? Math.min(1, offBy(data, run, prepared.system) / days.size / kWhADay) : 0;
  const boundsOf = (kWh: number): Bounds => ({ low: kWh * (1 - off), high: kWh * (1 + off) });
  return {
    kWhADay,
    bounds: boundsOf(kWhADay),
    byHour: cells.map((row) => row.map(({ wh, h }) => (h > 0 ? wh / h / 1000 : null))),
    byMonth: cells.map((_, month) => perDay(known.filter(([, day]) => day.month === month))),
    loads: POWERS_KW.map((kW, p) => {
      const taken = takenBy(spareW, 1000 * kW, hours) / Math.max(1, known.length);
      return {
        kW,
        kWhADay: taken,
        bounds: boundsOf(taken),
        hoursADay: known.reduce((sum, [, { runs }]) => sum + runs[p]!, 0) / Math.max(1, known.length),
        days: known.filter(([, { runs }]) => runs[p]! >= 1).length / Math.max(1, known.length),
      };
    }),
    days: {
      known: known.length,
      surplus: known.filter(([, { wh }]) => wh >= 1000 * SURPLUS_DAY_KWH).length,
      longestRun: longestRun(known.map(([number, { wh }]) => ({ number, is: wh >= 1000 * SURPLUS_DAY_KWH }))),
    },
    modules:
      summer === null || winter === null || moduleKWh === 0
        ? null
        : { summer: summer / moduleKWh, winter: winter / moduleKWh },
  };
}

/**
 * By how much the surplus of a range may be off, kWh: it is a small difference of sun and load, so their meters' gains count in
 * full; what the model misses of the logged export, and what is not known of the sun that was held back, come on top.
 */
function offBy(data: RangeData, run: ModelRun, system: System): number {
  const { accuracy, total } = data;
  const missed = total.gridS > 0 ? run.exportKWh - total.exportWh / 1000 : 0;
  const lost = lostSun(data, system);
  const rebuilt = [lost?.heldBack, lost?.clipped].map((one) => (one ? (one.high - one.low) / 2000 : 0));
  return Math.hypot(accuracy.solar * run.solarKWh, accuracy.load * run.loadKWh, missed, ...rebuilt);
}

/** Whether a month belongs to the long days, or to the shortest, of its hemisphere. */
function inSeason(month: number, latitude: number, isSummer: boolean): boolean {
  const midsummer = latitude >= 0 ? 5.5 : 11.5;
  const away = Math.abs(((month - midsummer + 18) % 12) - 6);
  return isSummer ? away < SUMMER_MONTHS : away >= WINTER_MONTHS;
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
