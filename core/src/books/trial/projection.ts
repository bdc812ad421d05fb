import type { Interval } from '../../model/figure.js';
import { offsetAt, zoneOf } from '../../time/zone.js';
import { flowColumns } from '../../passes/busColumns.js';
import { quantileOf } from '../../statistics/quantile.js';
import { loggedCourse, type TrialMaterial } from './trialMaterial.js';

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
/** Days before the run from which the usual course of a day is taken, and the least of them. */
const DAYS_BEFORE = 28;
const LEAST_DAYS = 7;
/** Where nothing tells how use changes from hour to hour: a mean of some hours is met within this share of it. */
const USE_OFF = 0.3;
/** A use so far is held to be no further from the usual one than this. */
const UNUSUAL = [0.4, 2.5] as const;
/** Charge that is too little to judge a fall by. */
export const LEAST_FALL = 0.01;

/** Fall of the charge in each hour of the day, from days before the run, brought to the use of the run so far. */
export interface Ahead {
  /** Share of full an hour, by hour of the site's day: a usual day, and a tenth of days on either side. */
  readonly usual: Float64Array;
  readonly low: Float64Array;
  readonly high: Float64Array;
  readonly scale: number;
  readonly hourAt: (ms: number) => number;
}

/** What the days before a run let expect of the hours ahead; null where the log does not tell. */
export function aheadOf(
  material: TrialMaterial,
  course: readonly { atMs: number; value: number }[],
  usableWh: number | null,
): Ahead | null {
  const { log, fromMs, system } = material;
  if (!log || usableWh === null) return null;
  const { load, solar } = flowColumns(log);
  if (!load) return null;
  const zone = zoneOf(system.timeZone);
  const hourAt = (ms: number) => new Date(ms + offsetAt(zone, ms)).getUTCHours();
  const hasSun = course.length > 0 && loggedCourse(material, 'solar').some(({ value }) => value > 50);
  const byHour = Array.from({ length: 24 }, () => new Map<number, { sum: number; count: number }>());
  for (let i = 0; i < log.count; i++) {
    const ms = log.startMs + i * log.stepMs;
    if (ms >= fromMs) break;
    if (ms < fromMs - DAYS_BEFORE * DAY_MS || load[i] !== load[i]) continue;
    const net = load[i]! - (hasSun && solar && solar[i] === solar[i] ? solar[i]! : 0);
    const days = byHour[hourAt(ms)]!;
    const day = Math.floor(ms / DAY_MS);
    const own = days.get(day) ?? { sum: 0, count: 0 };
    own.sum += net;
    own.count++;
    days.set(day, own);
  }
  if (byHour.some((days) => days.size < LEAST_DAYS)) return null;
  const at = (p: number) =>
    Float64Array.from(byHour, (days) =>
      quantileOf(
        Float64Array.from([...days.values()], ({ sum, count }) => sum / count / usableWh),
        p,
      ),
    );
  const usual = at(0.5);
  const [first, last] = [course[0]!, course.at(-1)!];
  const expected = fallBetween(usual, hourAt, first.atMs, last.atMs);
  const came = first.value - last.value;
  const scale = expected > LEAST_FALL ? Math.min(UNUSUAL[1], Math.max(UNUSUAL[0], came / expected)) : 1;
  return { usual, low: at(0.1), high: at(0.9), scale, hourAt };
}

function fallBetween(
  byHour: Float64Array,
  hourAt: (ms: number) => number,
  fromMs: number,
  toMs: number,
): number {
  let sum = 0;
  for (let ms = fromMs; ms < toMs; ms += HOUR_MS / 4)
    sum += (byHour[hourAt(ms)]! * Math.min(HOUR_MS / 4, toMs - ms)) / HOUR_MS;
  return sum;
}

/** Hours until so much charge is gone; null where it does not fall. */
export function hoursTo(
  ahead: Ahead | null,
  last: { readonly atMs: number },
  rate: number,
  rateHalf: number,
  left: number,
): Interval | null {
  if (left <= 0) return { value: 0, low: 0, high: 0 };
  if (!ahead) {
    if (rate <= 0) return null;
    const half = Math.hypot(rateHalf, USE_OFF * rate);
    return { value: left / rate, low: left / (rate + half), high: left / Math.max(rate * 0.3, rate - half) };
  }
  const until = (byHour: Float64Array, factor: number) => {
    let rest = left;
    for (let k = 0; k < 14 * 96; k++) {
      rest -= (byHour[ahead.hourAt(last.atMs + (k * HOUR_MS) / 4)]! * factor) / 4;
      if (rest <= 0) return (k + 1) / 4;
    }
    return 14 * 24;
  };
  const value = until(ahead.usual, ahead.scale);
  const fast = until(mixed(ahead.usual, ahead.high), ahead.scale * 1.1);
  const slow = until(mixed(ahead.usual, ahead.low), ahead.scale * 0.9);
  return { value, low: Math.min(value, fast), high: Math.max(value, slow) };
}

/** Days do not keep to a tenth of days hour after hour: halfway between the usual and it. */
function mixed(usual: Float64Array, other: Float64Array): Float64Array {
  return usual.map((value, hour) => (value + other[hour]!) / 2);
}

/** Charge after so many hours more. */
export function goalCharge(
  ahead: Ahead | null,
  last: { readonly atMs: number; readonly value: number },
  rate: number,
  rateHalf: number,
  hours: number,
  socOff: number,
): Interval {
  const held = (value: number, low: number, high: number): Interval => ({
    value: Math.min(1, Math.max(0, value)),
    low: Math.min(1, Math.max(0, low - socOff / 2)),
    high: Math.min(1, Math.max(0, high + socOff / 2)),
  });
  if (hours <= 0) return held(last.value, last.value, last.value);
  if (!ahead) {
    const half = Math.hypot(rateHalf, USE_OFF * Math.abs(rate)) * hours;
    const value = last.value - rate * hours;
    return held(value, value - half, value + half);
  }
  const fall = (byHour: Float64Array) =>
    ahead.scale * fallBetween(byHour, ahead.hourAt, last.atMs, last.atMs + hours * HOUR_MS);
  const value = last.value - fall(ahead.usual);
  const own = Math.abs(fall(ahead.usual)) * 0.15;
  return held(
    value,
    last.value - fall(mixed(ahead.usual, ahead.high)) - own,
    last.value - fall(mixed(ahead.usual, ahead.low)) + own,
  );
}
