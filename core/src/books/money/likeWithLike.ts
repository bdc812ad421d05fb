import type { Interval } from '../../model/figure.js';
import { endMs } from '../../model/log.js';
import type { Range } from '../../model/range.js';
import { dayEnergies } from '../../passes/dailySums.js';
import { rangeDataOf, type Prepared } from '../../passes/prepare.js';
import { numbersOf } from '../../statistics/numbersOf.js';
import { quantile } from '../../statistics/quantile.js';
import { seededRandom } from '../../statistics/random.js';
import { medianLine } from '../../statistics/theilSen.js';
import { dayNumberAt, dayOf, YEAR_MS } from '../../time/days.js';
import { zoneOf } from '../../time/zone.js';
import { degreeBases } from '../../system/configuration.js';
import { dailyTemperatures } from './degreeDays.js';

/** A stretch of days by what each used, bought and how cold and warm it was. */
export interface Stretch extends Range {
  readonly label: string;
  readonly days: number;
  /** Means a day, kWh and K; null where not known. */
  readonly loadKWh: number | null;
  readonly importKWh: number | null;
  readonly heatingK: number | null;
  readonly coolingK: number | null;
}

/** One day of the two that are compared: its degree days and its use. */
export interface WeatherDay {
  readonly degreeK: number;
  readonly loadKWh: number;
  readonly isNow: boolean;
}

/** Use against degree days in the year before, and how far this range lies from it. */
export interface ByWeather {
  readonly kind: 'heating' | 'cooling';
  /** Outdoor temperature below, or above, which degrees count, °C. */
  readonly thresholdC: number;
  /** Use = base + slope × degree days, kWh a day, of the days before and of these. */
  readonly before: { readonly base: number; readonly slope: number };
  readonly now: { readonly base: number; readonly slope: number };
  /** Mean use a day less what the line of before gives for the weather of now, kWh. */
  readonly difference: Interval;
  readonly days: readonly WeatherDay[];
}

export interface LikeWithLike {
  readonly stretches: readonly Stretch[];
  readonly weather: ByWeather | { readonly reason: string };
}

const LEAST_DAYS = 20;
/** Degree days must differ by so much, K, for a line to mean something. */
const LEAST_SPREAD_K = 4;
const RESAMPLES = 300;

/**
 * A range beside the same days of the year before, the days before it, and the years to date; and by degree days where the outdoor temperature
 * is logged: use = a + b × degree days of the year before by a robust line, and what of the difference weather does not explain.
 * @source degree-day regression: common practice, no published source; line after P. K. Sen (1968)
 */
export function likeWithLike(prepared: Prepared, range: Range): LikeWithLike {
  const { log } = prepared;
  const zone = zoneOf(log.zone);
  const length = range.toMs - range.fromMs;
  const inLog = ({ fromMs, toMs }: Range) => fromMs >= log.startMs && toMs <= endMs(log) + 1 && toMs > fromMs;
  const yearEarlier = ({ fromMs, toMs }: Range): Range => ({ fromMs: shifted(fromMs), toMs: shifted(toMs) });
  // To the same local midnight, so that days stay whole.
  const shifted = (ms: number) => {
    const number = dayNumberAt(zone, ms);
    const at = new Date(number * 86_400_000);
    const before = Date.UTC(at.getUTCFullYear() - 1, at.getUTCMonth(), at.getUTCDate()) / 86_400_000;
    return dayOf(zone, before).fromMs + (ms - dayOf(zone, number).fromMs);
  };
  const last = new Date(dayNumberAt(zone, range.toMs - 1) * 86_400_000);
  const januaryMs = dayOf(zone, Date.UTC(last.getUTCFullYear(), 0, 1) / 86_400_000).fromMs;
  const toDate = { fromMs: Math.max(januaryMs, log.startMs), toMs: range.toMs };
  const before = yearEarlier(range);
  const wanted: readonly (readonly [string, Range])[] = [
    ['this range', range],
    ['the same days of the year before', before],
    ['as many days before', { fromMs: range.fromMs - length, toMs: range.fromMs }],
    ['the year to date', toDate],
    ['the year before to the same date', yearEarlier(toDate)],
  ];
  const stretches = wanted
    .filter(([, one]) => inLog(one))
    .map(([label, one]) => stretchOf(prepared, label, one));
  return {
    stretches,
    weather:
      inLog(before) && length < 1.05 * YEAR_MS ? byWeather(prepared, before, range) : { reason: NO_YEAR },
  };
}

const NO_YEAR =
  'The same days a year before this range are not in the log, so nothing shows what this weather usually takes.';
const NO_WEATHER =
  'The outdoor temperature is not logged; a column outdoor_temp_c would set two years apart that differ by their weather.';

interface Daily {
  readonly load: number;
  readonly bought: number | null;
  readonly temperature: number;
}

function dailyOf(prepared: Prepared, range: Range): Daily[] {
  const data = rangeDataOf(prepared, range);
  const temperatures = dailyTemperatures(prepared.log, range);
  return data.days.flatMap((day) => {
    const { load, import: bought } = dayEnergies(day);
    return load === null || day.coverage < 0.9
      ? []
      : [{ load, bought, temperature: temperatures.get(day.day.date) ?? NaN }];
  });
}

function stretchOf(prepared: Prepared, label: string, range: Range): Stretch {
  const days = dailyOf(prepared, range);
  const mean = (of: (day: Daily) => number | null) => {
    const known = days.flatMap((day) => {
      const value = of(day);
      return value === null || Number.isNaN(value) ? [] : [value];
    });
    return known.length === 0 ? null : known.reduce((sum, one) => sum + one, 0) / known.length;
  };
  const bases = degreeBases(prepared.system);
  return {
    ...range,
    label,
    days: days.length,
    loadKWh: mean(({ load }) => load),
    importKWh: mean(({ bought }) => bought),
    heatingK: mean(({ temperature }) => Math.max(0, bases.heating - temperature)),
    coolingK: mean(({ temperature }) => Math.max(0, temperature - bases.cooling)),
  };
}

function byWeather(prepared: Prepared, before: Range, now: Range): LikeWithLike['weather'] {
  const known = (range: Range) =>
    dailyOf(prepared, range).filter(({ temperature }) => !Number.isNaN(temperature));
  const [then, these] = [known(before), known(now)];
  if (!prepared.log.channels.has('outdoorTemp')) return { reason: NO_WEATHER };
  if (then.length < LEAST_DAYS || these.length < LEAST_DAYS)
    return {
      reason: `${Math.min(then.length, these.length)} days of one of the two ranges know their load and their temperature; ${LEAST_DAYS} are needed.`,
    };
  const bases = degreeBases(prepared.system);
  const degrees = {
    heating: ({ temperature }: Daily) => Math.max(0, bases.heating - temperature),
    cooling: ({ temperature }: Daily) => Math.max(0, temperature - bases.cooling),
  };
  const spread = (of: (day: Daily) => number) => {
    const sorted = numbersOf(then, of).sort();
    return quantile(sorted, 0.9) - quantile(sorted, 0.1);
  };
  const kind = spread(degrees.heating) >= spread(degrees.cooling) ? 'heating' : 'cooling';
  const of = degrees[kind];
  if (spread(of) < LEAST_SPREAD_K)
    return {
      reason: `The days of the year before differ by less than ${LEAST_SPREAD_K} K, too little to tell what the weather takes. A range over more of the year would tell.`,
    };
  const line = (days: readonly Daily[]) =>
    medianLine(
      numbersOf(days, of),
      numbersOf(days, ({ load }) => load),
    )!;
  const off = (from: readonly Daily[], to: readonly Daily[]) => {
    const { intercept, slope } = line(from);
    return to.reduce((sum, day) => sum + day.load - intercept - slope * of(day), 0) / to.length;
  };
  const random = seededRandom(0x11c3);
  const weeks = (days: readonly Daily[]) =>
    Array.from({ length: Math.ceil(days.length / 7) }, (_, k) => days.slice(7 * k, 7 * k + 7));
  const drawnFrom = (all: readonly (readonly Daily[])[]) =>
    all.flatMap(() => all[Math.floor(random() * all.length)]!);
  const [thenWeeks, theseWeeks] = [weeks(then), weeks(these)];
  const drawn: number[] = [];
  for (let r = 0; r < RESAMPLES; r++) {
    const from = drawnFrom(thenWeeks);
    if (new Set(from.map(of)).size > 1) drawn.push(off(from, drawnFrom(theseWeeks)));
  }
  const sorted = Float64Array.from(drawn).sort();
  const value = off(then, these);
  const named = (days: readonly Daily[]) => {
    const own = medianLine(
      numbersOf(days, of),
      numbersOf(days, ({ load }) => load),
    );
    return { base: own?.intercept ?? NaN, slope: own?.slope ?? 0 };
  };
  return {
    kind,
    thresholdC: bases[kind],
    before: named(then),
    now: named(these),
    difference: {
      value,
      low: Math.min(value, quantile(sorted, 0.025)),
      high: Math.max(value, quantile(sorted, 0.975)),
    },
    days: [...then.map((day) => ({ day, isNow: false })), ...these.map((day) => ({ day, isNow: true }))].map(
      ({ day, isNow }) => ({ degreeK: of(day), loadKWh: day.load, isNow }),
    ),
  };
}
