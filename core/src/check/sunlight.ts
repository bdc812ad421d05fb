import { type Log, endMs } from '../model/log.js';
import { solarNoonUtc } from '../time/solarNoon.js';
import type { System } from '../system/schema.js';
import { mostBelow, stretchesBeyond } from '../model/blocks.js';
import { resumable } from '../model/resumable.js';
import { daysBetween, type Day } from '../time/days.js';
import { offsetAt, zoneOf } from '../time/zone.js';
import type { Finding } from '../model/finding.js';

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
/** What a channel reads beyond this, W, is no sun. */
const MOST_W = 1e5;
/** Solar at night below this is a meter's floor or the moon on a clamp. */
const NIGHT_W = 60;
/** Hills and trees move the middle of the light by an hour or so; a clock that is off by less is not seen. */
const SHIFT_H = 1.7;
/** A clock that ignores daylight saving is an hour off for half the year. */
const DST_H = [0.65, 1.35] as const;
const LEAST_DAYS = 10;
/** So many stretches of solar at night are told one by one. */
const MOST_STRETCHES = 2000;

interface SunDay {
  readonly offH: number;
  readonly wh: number;
  readonly isSummerTime: boolean;
  readonly fromMs: number;
  readonly toMs: number;
}

/**
 * Holds the solar channel against the sun of the place: energy at night, a middle of the day far from the sun's highest
 * stand (the clock is off), and a middle that moves by an hour with daylight saving (the clock ignores it, or heeds it twice).
 */
export function sunlightFindings(log: Log, system: System): Finding[] {
  const channel = log.channels.get('solar');
  const { latitude, longitude } = system;
  if (
    channel?.origin !== 'logged' ||
    latitude === undefined ||
    longitude === undefined ||
    log.stepMs > HOUR_MS
  )
    return [];
  const days = sunDays(log, channel.values, longitude);
  const source = channel.sources.length === 1 ? channel.sources[0]! : null;
  const usable = days.filter(({ wh, offH }) => wh > 1500 && Math.abs(offH) < 10);
  if (usable.length < LEAST_DAYS) return [];
  const middle = median(usable.map(({ offH }) => offH));
  const night = nightFinding(log, channel.values, latitude, longitude, source);
  if (Math.abs(middle) > SHIFT_H) {
    const byMs = -Math.round(middle * 2) * (HOUR_MS / 2);
    return [
      {
        code: 'clock-shift',
        severity: 'warning',
        fromMs: log.startMs,
        toMs: endMs(log),
        message: `The middle of the solar day lies ${Math.abs(middle).toFixed(1)} h ${middle > 0 ? 'behind' : 'before'} the sun's highest point: the clock of the log seems to be off.`,
        source,
        kWh: night?.kWh ?? null,
        proposal: { kind: 'shift', source, byMs, stretches: null },
      },
    ];
  }
  return [...dstFinding(usable, source), ...(night ? [night] : [])];
}

const resumedDays = resumable<readonly SunDay[]>();

/** By day: how many hours the middle of its light lies behind the sun's highest point. */
function sunDays(log: Log, values: Float64Array, longitude: number): readonly SunDay[] {
  const zone = zoneOf(log.zone);
  const lightW = Math.max(20, 0.01 * mostBelow(values, MOST_W));
  const usual = Math.min(offsetAt(zone, Date.UTC(2024, 0, 15)), offsetAt(zone, Date.UTC(2024, 6, 15)));
  const by = JSON.stringify([log.startMs, log.stepMs, log.zone, longitude, lightW]);
  return resumedDays(values, by, (before) => {
    const seenMs = log.startMs + (before?.cells ?? 0) * log.stepMs;
    const known = before?.result.filter(({ toMs }) => toMs + DAY_MS <= seenMs) ?? [];
    return [...known, ...daysBetween(zone, known.at(-1)?.toMs ?? log.startMs, endMs(log)).map(sunDay)];
  });

  function sunDay({ fromMs, toMs }: Day): SunDay {
    // The day around the sun's own noon, so that no clock shift cuts it.
    const noonMs = Math.floor(fromMs / DAY_MS) * DAY_MS + solarNoonUtc(fromMs, longitude) * HOUR_MS;
    const first = Math.max(0, Math.ceil((noonMs - DAY_MS / 2 - log.startMs) / log.stepMs));
    const last = Math.min(values.length, Math.floor((noonMs + DAY_MS / 2 - log.startMs) / log.stepMs));
    let sum = 0;
    const longestDark = (1.5 * HOUR_MS) / log.stepMs;
    const lit = { from: -1, to: -2 };
    let [from, to] = [-1, -2];
    for (let i = first; i < last; i++) {
      const value = values[i]!;
      if (!(value > 0)) continue;
      sum += value;
      if (value < lightW) continue;
      if (i - to > longestDark || from < 0) from = i;
      to = i;
      if (to - from >= lit.to - lit.from) [lit.from, lit.to] = [from, to];
    }
    // First and last light, not the energy between them: a full battery holds the panels back in the afternoon.
    const middleMs = log.startMs + ((lit.from + lit.to + 1) / 2) * log.stepMs;
    return {
      offH: lit.to - lit.from > (4 * HOUR_MS) / log.stepMs ? (middleMs - noonMs) / HOUR_MS : NaN,
      wh: (sum * log.stepMs) / HOUR_MS,
      isSummerTime: offsetAt(zone, fromMs) !== usual,
      fromMs,
      toMs,
    };
  }
}

function dstFinding(days: readonly SunDay[], source: string | null): Finding[] {
  const summer = days.filter(({ isSummerTime }) => isSummerTime);
  const winter = days.filter(({ isSummerTime }) => !isSummerTime);
  if (summer.length < LEAST_DAYS || winter.length < LEAST_DAYS) return [];
  const difference = median(summer.map(({ offH }) => offH)) - median(winter.map(({ offH }) => offH));
  if (Math.abs(difference) < DST_H[0] || Math.abs(difference) > DST_H[1]) return [];
  const stretches = stretchesOf(days);
  return [
    {
      code: 'daylight-saving',
      severity: 'warning',
      fromMs: stretches[0]![0],
      toMs: stretches.at(-1)![1],
      message: `In summer time the middle of the solar day lies ${Math.abs(difference).toFixed(1)} h ${difference > 0 ? 'later' : 'earlier'} than in winter time: the logger's clock ${difference < 0 ? 'stays on winter time' : 'is put forward twice'}.`,
      source,
      kWh: null,
      proposal: { kind: 'shift', source, byMs: difference < 0 ? HOUR_MS : -HOUR_MS, stretches },
    },
  ];
}

/** Stretches of summer time among days. */
function stretchesOf(days: readonly SunDay[]): [number, number][] {
  const stretches: [number, number][] = [];
  for (const { isSummerTime, fromMs, toMs } of days) {
    if (!isSummerTime) continue;
    const last = stretches.at(-1);
    if (last && fromMs - last[1] < 40 * DAY_MS) last[1] = toMs;
    else stretches.push([fromMs, toMs]);
  }
  return stretches;
}

/** Solar in the night: how much, and from when to when. */
interface NightSun {
  readonly wh: number;
  readonly stretches: [fromMs: number, toMs: number][];
}

const resumedNights = resumable<NightSun>();

function nightSun(
  { startMs, stepMs }: Log,
  values: Float64Array,
  latitude: number,
  longitude: number,
): NightSun {
  return resumedNights(values, JSON.stringify([startMs, stepMs, latitude, longitude]), (before) => {
    let wh = before?.result.wh ?? 0;
    const stretches =
      before?.result.stretches.map(([fromMs, toMs]): [number, number] => [fromMs, toMs]) ?? [];
    let [nextDayMs, sunriseMs, sunsetMs, next] = [-Infinity, 0, 0, before?.cells ?? 0];
    for (const { from, to } of stretchesBeyond(values, -Infinity, NIGHT_W))
      for (next = Math.max(next, from); next < to; next++) {
        const value = values[next]!;
        if (!(value > NIGHT_W)) continue;
        const ms = startMs + next * stepMs;
        if (ms >= nextDayMs) {
          const solarDay = Math.floor((ms + (longitude / 15) * HOUR_MS) / DAY_MS);
          const noonMs = solarDay * DAY_MS + 12 * HOUR_MS - (longitude / 15) * HOUR_MS;
          // Half an hour of twilight and of a logger's delay beyond the geometric day.
          const halfMs = (halfDayH(noonMs, latitude) + 1.2) * HOUR_MS;
          nextDayMs = noonMs + 12 * HOUR_MS;
          [sunriseMs, sunsetMs] = [noonMs - halfMs, noonMs + halfMs];
        }
        const middleMs = ms + stepMs / 2;
        if (middleMs >= sunriseMs && middleMs <= sunsetMs) {
          // The rest of its day is light as well.
          next = Math.max(next, Math.floor((Math.min(sunsetMs, nextDayMs) - startMs) / stepMs - 1.5));
          continue;
        }
        wh += (value * stepMs) / HOUR_MS;
        const last = stretches.at(-1);
        if (last && ms - last[1] <= 2 * stepMs) last[1] = ms + stepMs;
        else if (stretches.length < MOST_STRETCHES) stretches.push([ms, ms + stepMs]);
      }
    return { wh, stretches };
  });
}

function nightFinding(
  log: Log,
  values: Float64Array,
  latitude: number,
  longitude: number,
  source: string | null,
): Finding | null {
  const { wh, stretches } = nightSun(log, values, latitude, longitude);
  if (wh < 100) return null;
  return {
    code: 'solar-at-night',
    severity: 'warning',
    fromMs: stretches[0]![0],
    toMs: stretches.at(-1)![1],
    message: `Solar reads more than ${NIGHT_W} W at night in ${stretches.length} ${stretches.length === 1 ? 'stretch' : 'stretches'}.`,
    source,
    kWh: wh / 1000,
    proposal: { kind: 'blank', source: null, quantity: 'solar', stretches },
  };
}

/**
 * Hours between the sun's highest point and its setting, geometric; 12 where it does not set, 0 where it does not rise.
 * @source cos h = −tan φ tan δ; declination after Cooper (1969), from memory
 */
function halfDayH(ms: number, latitude: number): number {
  const dayOfYear = (ms - Date.UTC(new Date(ms).getUTCFullYear(), 0, 1)) / DAY_MS + 1;
  const declination = ((23.45 * Math.PI) / 180) * Math.sin((2 * Math.PI * (284 + dayOfYear)) / 365);
  const cosine = -Math.tan((latitude * Math.PI) / 180) * Math.tan(declination);
  return (Math.acos(Math.max(-1, Math.min(1, cosine))) * 12) / Math.PI;
}

function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)]!;
}
