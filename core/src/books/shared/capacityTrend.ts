import { counted } from '../../model/counted.js';
import { mannKendall } from '../../statistics/mannKendall.js';
import { median } from '../../statistics/median.js';
import { numbersOf } from '../../statistics/numbersOf.js';
import { quantile } from '../../statistics/quantile.js';
import { seededRandom } from '../../statistics/random.js';
import { medianLine, theilSen } from '../../statistics/theilSen.js';
import { solve, type Observation } from '../../statistics/solve.js';
import type { Estimate } from '../../passes/capacityEstimates.js';
import { YEAR_MS } from '../../time/days.js';

/** So many estimates a rate needs. */
export const LEAST_ESTIMATES = 20;
const LEAST_YEARS = 0.5;
/** Without a temperature the season can be told from a trend only over so many years. */
const LEAST_SEASONS = 1.4;
const LEAST_KELVIN = 8;
const STANDARD_CELSIUS = 20;
const RESAMPLES = 200;
/** More months than this are taken by quarters: the slopes grow with the square of their number. */
const MOST_BLOCKS = 36;
/** A run from full to the cut-off, or a trial, weighs as so many others. */
const ANCHOR_WEIGHT = 3;

/** Estimates of a month, or of a quarter in long logs. */
export interface Block {
  /** Years, from the end of the range; negative. */
  readonly x: number;
  readonly wh: number;
  readonly temperature: number;
  readonly count: number;
}

/** What moves an estimate beside age: the battery's temperature, the season, or nothing that is known. */
export type Season = 'temperature' | 'calendar' | 'none';

/** A course of capacity, in Wh and Wh a year; intervals by bootstrap over months. */
export interface Trend {
  readonly blocks: readonly Block[];
  readonly season: Season;
  /** At the end of the range, at 20 °C where temperature is known, else in a mean season. */
  readonly level: Bounded;
  /** Null where the estimates do not allow a rate. */
  readonly slope: Bounded | null;
  /** Why there is no rate. */
  readonly reason: string | null;
  /** Sen's rank interval of the slope: too narrow where months are alike, shown beside. */
  readonly rank: readonly [low: number, high: number] | null;
  /** Mann–Kendall: chance of a course as steady where there is no trend; it takes months for independent. */
  readonly p: number | null;
  readonly years: number;
  /** The line with its interval at so many years from the end of the range. */
  readonly lineAt: (x: number) => Bounded;
  /** What season or temperature adds to the capacity, Wh, at so many years from the end of the range. */
  readonly seasonal: (x: number, temperature: number) => number;
}

export interface Bounded {
  readonly value: number;
  readonly low: number;
  readonly high: number;
}

/**
 * The course of the capacity: monthly medians, season or temperature taken off, and a Theil–Sen line through what is
 * left.
 * @param estimates of one configuration, at least one
 * @param endMs end of the range
 * @source P. K. Sen (1968) for the slope; block bootstrap: Efron and Tibshirani (1993), 8.6, from memory
 */
export function trendOf(estimates: readonly Estimate[], endMs: number): Trend {
  const { blocks, years, season, reason, points, bounded } = fitOf(estimates, endMs);
  const rank = reason === null ? rankInterval(points) : null;
  // What season or temperature adds beside a line in time; null where the points do not tell.
  const fit = reason === null ? solve(points) : null;
  return {
    seasonal: (x, temperature) => (fit ? seasonalAt(fit, terms(season, x, temperature)) : 0),
    blocks,
    season,
    level: bounded(levelAtEnd),
    slope: reason === null ? bounded(slopeOf) : null,
    reason,
    rank,
    p: reason === null ? mannKendall(...adjusted(points)) : null,
    years,
    lineAt: (x) => bounded(({ level, slope }) => level + slope * x),
  };
}

/** The level alone of a {@link trendOf}. */
export function capacityLevel(estimates: readonly Estimate[], endMs: number): Bounded {
  return fitOf(estimates, endMs).bounded(levelAtEnd);
}

const slopeOf = ({ slope }: Line) => slope;
const levelAtEnd = ({ level }: Line) => level;

function fitOf(estimates: readonly Estimate[], endMs: number) {
  const blocks = blocksOf(estimates, endMs);
  const years = (estimates.at(-1)!.atMs - estimates[0]!.atMs) / YEAR_MS;
  const season = seasonOf(blocks, years);
  const reason = refusal(estimates.length, years, season);
  const points = blocks.map((block) => pointOf(block, season));
  const fitted = reason === null ? lineOf : levelOf;
  const own = fitted(points);
  const drawn = resampled(points, fitted);
  // Few months draw too narrow a circle around themselves; this is what Student's factor makes of it.
  const free = Math.max(1, blocks.length - (reason === null ? PARAMETERS[season] + 2 : 1));
  const wider = 1.1 * Math.sqrt(blocks.length / free) * (1 + 1.2 / free);
  // What the steps of SOC leave open in one estimate, less by the root of their number.
  const usual = median(numbersOf(estimates, ({ half }) => half)) / Math.sqrt(estimates.length);
  const bounded = (of: (fit: Line) => number): Bounded => {
    const value = of(own);
    const values = numbersOf(drawn, of).sort();
    const steps = of === slopeOf ? 0 : usual;
    if (values.length === 0) return { value, low: value - steps, high: value + steps };
    return {
      value,
      low: value - Math.hypot(steps, wider * Math.max(0, value - quantile(values, 0.025))),
      high: value + Math.hypot(steps, wider * Math.max(0, quantile(values, 0.975) - value)),
    };
  };
  return { blocks, years, season, reason, points, bounded };
}

const PARAMETERS: Readonly<Record<Season, number>> = { temperature: 1, calendar: 2, none: 0 };

function refusal(count: number, years: number, season: Season): string | null {
  if (count < LEAST_ESTIMATES || years < LEAST_YEARS)
    return `A rate needs ${LEAST_ESTIMATES} estimates over half a year; this range has ${counted(count, 'estimate')} over ${counted(Math.round(years * 12), 'month')}. A longer range, or nights that take the battery down by 30 %, would supply them.`;
  return season === 'none'
    ? `In ${(years * 12).toFixed(0)} months the season cannot be separated from age. A range of seventeen months, or the battery's temperature (battery_temp_c), would tell them apart.`
    : null;
}

function seasonOf(blocks: readonly Block[], years: number): Season {
  const known = blocks.filter(({ temperature }) => !Number.isNaN(temperature));
  const [low, high] = [
    Math.min(...known.map(({ temperature }) => temperature)),
    Math.max(...known.map(({ temperature }) => temperature)),
  ];
  if (known.length === blocks.length && known.length >= 6 && high - low >= LEAST_KELVIN) return 'temperature';
  return years >= LEAST_SEASONS ? 'calendar' : 'none';
}

/** Estimates by month, their weighted median; by quarter where there are more than 36 months. */
function blocksOf(estimates: readonly Estimate[], endMs: number): Block[] {
  const months = (estimates.at(-1)!.atMs - estimates[0]!.atMs) / (YEAR_MS / 12);
  const size = months > MOST_BLOCKS ? 3 : 1;
  const groups: Estimate[][] = [];
  let endsMs = -Infinity;
  for (const estimate of estimates) {
    if (estimate.atMs < endsMs) {
      groups.at(-1)!.push(estimate);
      continue;
    }
    const at = new Date(estimate.atMs);
    endsMs = Date.UTC(at.getUTCFullYear(), (Math.floor(at.getUTCMonth() / size) + 1) * size);
    groups.push([estimate]);
  }
  return groups.map((own) => ({
    x: (own.reduce((sum, { atMs }) => sum + atMs, 0) / own.length - endMs) / YEAR_MS,
    wh: weightedMedian(own),
    temperature: own.reduce((sum, { temperature }) => sum + temperature, 0) / own.length,
    count: own.length,
  }));
}

function weightedMedian(estimates: readonly Estimate[]): number {
  const weightOf = ({ half, wh, kind }: Estimate) =>
    (kind === 'segment' ? 1 : ANCHOR_WEIGHT) / Math.max(1e-4, half / wh) ** 2;
  const sorted = [...estimates].sort((a, b) => a.wh - b.wh);
  const all = sorted.reduce((sum, one) => sum + weightOf(one), 0);
  let below = 0;
  for (const one of sorted) {
    below += weightOf(one);
    if (below >= all / 2) return one.wh;
  }
  return sorted.at(-1)!.wh;
}

interface Line {
  readonly level: number;
  readonly slope: number;
}

/** A block as it enters the fits: its row is 1, x, and the terms of the season, its value the capacity, Wh. */
interface Point extends Observation {
  readonly x: number;
}

function pointOf({ x, wh, temperature, count }: Block, season: Season): Point {
  return { x, value: wh, row: [1, x, ...terms(season, x, temperature)], weight: Math.sqrt(count) };
}

function levelOf(points: readonly Point[]): Line {
  const recent = points.filter(({ x }) => x > points.at(-1)!.x - 0.25);
  return { level: median(numbersOf(recent, ({ value }) => value)), slope: 0 };
}

function terms(season: Season, x: number, temperature: number): readonly number[] {
  if (season === 'temperature') return [temperature - STANDARD_CELSIUS];
  return season === 'calendar' ? [Math.sin(2 * Math.PI * x), Math.cos(2 * Math.PI * x)] : [];
}

function seasonalAt(fit: readonly number[], seasonTerms: readonly number[]): number {
  let sum = 0;
  for (let k = 0; k < seasonTerms.length; k++) sum += seasonTerms[k]! * fit[k + 2]!;
  return sum;
}

function lineOf(points: readonly Point[]): Line {
  const line = medianLine(...adjusted(points));
  return line ? { level: line.intercept, slope: line.slope } : levelOf(points);
}

function rankInterval(points: readonly Point[]): readonly [number, number] | null {
  const line = theilSen(...adjusted(points));
  return line ? [line.low, line.high] : null;
}

/** Years and capacities of the points, their season taken off. */
function adjusted(points: readonly Point[]): readonly [Float64Array, Float64Array] {
  const fit = solve(points);
  const x = new Float64Array(points.length);
  const wh = new Float64Array(points.length);
  for (let i = 0; i < points.length; i++) {
    const { row, x: at, value: own } = points[i]!;
    x[i] = at;
    wh[i] = own;
    if (fit) for (let k = 2; k < row.length; k++) wh[i]! -= row[k]! * fit[k]!;
  }
  return [x, wh];
}

/** Fits of points drawn again with replacement; seeded, so that the same data give the same interval. */
function resampled(points: readonly Point[], fit: (some: readonly Point[]) => Line): Line[] {
  const n = points.length;
  if (n < 3) return [];
  const random = seededRandom(0x5e17);
  const times = new Int32Array(n);
  return Array.from({ length: RESAMPLES }, () => {
    times.fill(0);
    for (let k = 0; k < n; k++) times[Math.floor(random() * n)]!++;
    const some: Point[] = [];
    for (let i = 0; i < n; i++) for (let k = 0; k < times[i]!; k++) some.push(points[i]!);
    return fit(some);
  });
}

/**
 * The year-on-year school: the median of the slopes between months one year apart, which takes the season off by itself.
 * Null with fewer than six such pairs.
 */
export function yearOnYear(blocks: readonly Block[]): Bounded | null {
  const slopes = Float64Array.from(
    blocks.flatMap((late) =>
      blocks
        .filter(({ x }) => Math.abs(late.x - x - 1) <= 15 / 365)
        .map((early) => (late.wh - early.wh) / (late.x - early.x)),
    ),
  );
  if (slopes.length < 6) return null;
  const random = seededRandom(0x907);
  const drawn = Float64Array.from({ length: RESAMPLES }, () =>
    median(slopes.map(() => slopes[Math.floor(random() * slopes.length)]!)),
  ).sort();
  const value = median(slopes.slice());
  const free = slopes.length - 2;
  const wider = Math.sqrt(slopes.length / free) * (1 + 1.2 / free);
  return {
    value,
    low: value - wider * (value - quantile(drawn, 0.025)),
    high: value + wider * (quantile(drawn, 0.975) - value),
  };
}
