import type { Unit } from '../../model/figure.js';
import { offsetAt, zoneOf } from '../../time/zone.js';
import type { Model, Modelled } from './scenarioValues.js';

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
const QUARTER_MS = 900_000;
const WEEK = 7;

/** What is told of a run's months, with its unit: means a day of the days that are known, and shares. */
export const MONTH_KEYS = {
  import: 'kWh/day',
  export: 'kWh/day',
  /** What a home without a grid was not given. */
  unserved: 'kWh/day',
  /** 1 − import ÷ load; without a grid 1 − unserved ÷ load. */
  selfSufficiency: 'share',
  /** Of outages of 24 hours that begin in the month, those that are carried. */
  survive24: 'share',
} as const satisfies Record<string, Unit>;
export type MonthKey = keyof typeof MONTH_KEYS;

/** A month of the year of a run; what cannot be told of it is NaN. */
export interface MonthValues extends Readonly<Record<MonthKey, number>> {
  /** 0 for January. */
  readonly month: number;
  /** Days of it that are known. */
  readonly days: number;
  /** kWh a day. */
  readonly load: number;
  /** Hours a day in which something is bought, and sold. */
  readonly importH: number;
  readonly exportH: number;
}

/** Hours of a run: mean charge as a share of full, and mean power that is bought or, without a grid, not given, W; null where not known. */
export interface CourseHours {
  readonly soc: readonly (number | null)[];
  readonly missingW: readonly (number | null)[];
}

/**
 * A run month by month of the year; months of which the range has nothing are left out.
 * @param survive24 of each month of the year
 */
export function monthsOf(
  model: Model,
  { load, run }: Modelled,
  survive24: readonly (number | null)[] = [],
): MonthValues[] {
  const { importW, exportW, courses } = run;
  return monthly(model, { load, importW, exportW, unservedW: courses.unservedW }, survive24);
}

/** The months as logged, of a home with a grid that is. */
export function loggedMonths(model: Model): MonthValues[] {
  const { data, inputs, home } = model;
  const grid = home.hasGrid ? partOf(model, data.log.channels.get('grid')?.values) : null;
  if (!grid) return [];
  const flows = {
    load: inputs.load,
    importW: grid.map((watts) => (watts < 0 ? 0 : watts)),
    exportW: grid.map((watts) => (watts > 0 ? 0 : -watts)),
    unservedW: new Float64Array(0),
  };
  return monthly(model, flows, []);
}

interface Flows {
  readonly load: Float64Array;
  readonly importW: Float64Array;
  readonly exportW: Float64Array;
  readonly unservedW: Float64Array;
}

function monthly(
  { inputs, data, home }: Model,
  { load, importW, exportW, unservedW }: Flows,
  survive24: readonly (number | null)[],
): MonthValues[] {
  const zone = zoneOf(data.log.zone);
  const perDay = Math.max(1, Math.round(DAY_MS / inputs.stepMs));
  const hasUnserved = unservedW.length > 0;
  const sums = Array.from({ length: 12 }, () => ({
    ...{ load: 0, import: 0, export: 0, unserved: 0 },
    ...{ buying: 0, selling: 0, cells: 0 },
  }));
  for (let from = 0; from < load.length; from += perDay) {
    const noon = inputs.startMs + from * inputs.stepMs + DAY_MS / 2;
    const sum = sums[new Date(noon + offsetAt(zone, noon)).getUTCMonth()]!;
    const end = Math.min(load.length, from + perDay);
    let [used, bought, sold, unserved, buying, selling, cells] = [0, 0, 0, 0, 0, 0, 0];
    for (let i = from; i < end; i++) {
      const own = importW[i]!;
      const need = load[i]!;
      if (own !== own || need !== need) continue;
      used += need;
      bought += own;
      sold += exportW[i]!;
      if (own > 0) buying++;
      if (exportW[i]! > 0) selling++;
      if (hasUnserved) unserved += unservedW[i]!;
      cells++;
    }
    sum.load += used;
    sum.import += bought;
    sum.export += sold;
    sum.unserved += unserved;
    sum.buying += buying;
    sum.selling += selling;
    sum.cells += cells;
  }
  return sums.flatMap((sum, month) => {
    if (sum.cells === 0) return [];
    const kWhADay = (watts: number) => (watts / sum.cells) * 0.024;
    return [
      {
        month,
        days: (sum.cells * inputs.stepMs) / DAY_MS,
        load: kWhADay(sum.load),
        importH: (24 * sum.buying) / sum.cells,
        exportH: (24 * sum.selling) / sum.cells,
        import: home.hasGrid ? kWhADay(sum.import) : NaN,
        export: home.hasGrid ? kWhADay(sum.export) : NaN,
        unserved: home.hasGrid ? NaN : kWhADay(sum.unserved),
        selfSufficiency: 1 - (home.hasGrid ? sum.import : sum.unserved) / sum.load,
        survive24: survive24[month] ?? NaN,
      },
    ];
  });
}

/** What a home lacks in each cell: what it buys, or without a grid what it is not given, W. */
function missingOf({ home }: Model, { run }: Modelled): Float64Array {
  return home.hasGrid ? run.importW : run.courses.unservedW;
}

/** The mean day of a run, by hour of the site's day. */
export function typicalDay(model: Model, modelled: Modelled): CourseHours {
  return dayOf(model, modelled.run.courses.soc, missingOf(model, modelled));
}

/** The mean day that was logged; null where the charge is not. */
export function loggedDay(model: Model): CourseHours | null {
  const logged = loggedCourses(model);
  return logged && dayOf(model, logged.soc, logged.missingW);
}

function dayOf({ inputs, data }: Model, soc: Float64Array, missingW: Float64Array): CourseHours {
  const zone = zoneOf(data.log.zone);
  const hourOf = (i: number) => {
    const ms = inputs.startMs + i * inputs.stepMs;
    return Math.floor((ms + offsetAt(zone, ms)) / HOUR_MS) % 24;
  };
  return hoursOf(soc, missingW, inputs.stepMs, 24, hourOf, 0, soc.length);
}

/**
 * The week of the range in which the home as it is lacks most, as instants of its beginning and end; null where the range
 * is shorter.
 */
export function worstWeek(model: Model, base: Modelled): { fromMs: number; toMs: number } | null {
  const { startMs, stepMs } = model.inputs;
  const missing = missingOf(model, base);
  const perDay = Math.max(1, Math.round(DAY_MS / stepMs));
  const days = Math.floor(missing.length / perDay);
  const lacks = Float64Array.from({ length: days }, (_, day) => {
    let sum = 0;
    for (let i = day * perDay; i < (day + 1) * perDay; i++) if (missing[i]! > 0) sum += missing[i]!;
    return sum;
  });
  let worst = { day: -1, sum: -1 };
  for (let day = 0; day + WEEK <= days; day++) {
    const sum = lacks.subarray(day, day + WEEK).reduce((all, one) => all + one, 0);
    if (sum > worst.sum) worst = { day, sum };
  }
  if (worst.day < 0) return null;
  const fromMs = startMs + worst.day * perDay * stepMs;
  return { fromMs, toMs: fromMs + WEEK * perDay * stepMs };
}

/** A run hour by hour between two instants. */
export function hoursBetween(model: Model, modelled: Modelled, fromMs: number, toMs: number): CourseHours {
  return between(model, modelled.run.courses.soc, missingOf(model, modelled), fromMs, toMs);
}

/** What was logged, hour by hour; null where the charge is not. */
export function loggedBetween(model: Model, fromMs: number, toMs: number): CourseHours | null {
  const logged = loggedCourses(model);
  return logged && between(model, logged.soc, logged.missingW, fromMs, toMs);
}

function between(
  { inputs: { startMs, stepMs } }: Model,
  soc: Float64Array,
  missingW: Float64Array,
  fromMs: number,
  toMs: number,
): CourseHours {
  const first = Math.round((fromMs - startMs) / stepMs);
  const last = Math.round((toMs - startMs) / stepMs);
  const hourOf = (i: number) => Math.floor(((i - first) * stepMs) / HOUR_MS);
  return hoursOf(soc, missingW, stepMs, Math.ceil((toMs - fromMs) / HOUR_MS), hourOf, first, last);
}

/** Charge and import as logged, from the range's first cell; null where the charge is not logged. */
function loggedCourses(model: Model) {
  const { data, inputs, home } = model;
  const soc = partOf(model, data.log.channels.get('soc')?.values);
  const grid = partOf(model, data.log.channels.get('grid')?.values);
  if (!soc) return null;
  const missingW =
    home.hasGrid && grid
      ? grid.map((watts) => (watts < 0 ? 0 : watts))
      : new Float64Array(inputs.load.length).fill(NaN);
  return { soc, missingW };
}

/** The cells of the range. */
function partOf({ data: { log }, inputs }: Model, values: Float64Array | undefined): Float64Array | null {
  const from = Math.round((inputs.startMs - log.startMs) / log.stepMs);
  return values?.subarray(from, from + inputs.load.length) ?? null;
}

function hoursOf(
  soc: Float64Array,
  missingW: Float64Array,
  stepMs: number,
  hours: number,
  hourOf: (i: number) => number,
  from: number,
  to: number,
): CourseHours {
  const [socSum, socs] = [new Float64Array(hours), new Float64Array(hours)];
  const [wattSum, watts] = [new Float64Array(hours), new Float64Array(hours)];
  // The clock is asked once for each quarter of an hour: no zone is offset by less.
  const perQuarter = Math.max(1, Math.floor(QUARTER_MS / stepMs));
  for (let first = from; first < to; first += perQuarter) {
    const hour = hourOf(first);
    for (let i = first; i < Math.min(to, first + perQuarter); i++) {
      if (soc[i] === soc[i]) {
        socSum[hour]! += soc[i]!;
        socs[hour]!++;
      }
      if (missingW[i] === missingW[i]) {
        wattSum[hour]! += missingW[i]!;
        watts[hour]!++;
      }
    }
  }
  const means = (sums: Float64Array, counts: Float64Array) =>
    Array.from(sums, (sum, hour) => (counts[hour]! > 0 ? sum / counts[hour]! : null));
  return { soc: means(socSum, socs), missingW: means(wattSum, watts) };
}
