import { offsetAt, zoneOf } from '@long-tally/core';
import { utcTicks } from 'd3';
import { clockText, dateText } from '../ui/format.js';

/** A mark on an axis of time and what stands beside it. */
export interface TimeTick {
  readonly ms: number;
  readonly text: string;
}

const [SECOND, MINUTE, HOUR, DAY] = [1000, 60_000, 3_600_000, 86_400_000] as const;
/** Round steps of a clock. */
const STEPS = [
  ...[1, 5, 15, 30].map((n) => n * SECOND),
  ...[1, 2, 5, 10, 15, 30].map((n) => n * MINUTE),
  ...[1, 2, 3, 6, 12].map((n) => n * HOUR),
];
/** Up to so long the hours are written, beyond it the days. */
const CLOCK_MS = 3 * DAY;
/** Clocks are set forward and back by no less than this. */
const QUARTER = 15 * MINUTE;

/** So many times as many as were asked still find room. */
const CLOSER = 1.4;

/** A month and a year find room beside the next in so many pixels. */
export const LABEL_WIDTH = 80;

/** The date of an instant of the site's clock in the reader's order. */
export const named = (localMs: number, style: 'day' | 'monthShort') =>
  dateText(new Date(localMs).toISOString().slice(0, 10), style);

/**
 * Round instants of the site's clock between two others, each with a text that no other of them bears.
 * @param most about so many of them
 */
export function timeTicks(fromMs: number, toMs: number, timeZone: string, most: number): TimeTick[] {
  const zone = zoneOf(timeZone);
  if (toMs - fromMs <= CLOCK_MS) {
    const step = STEPS.find((one) => (toMs - fromMs) / one <= most + 0.5) ?? 12 * HOUR;
    const stride = Math.min(step, QUARTER);
    const ticks: TimeTick[] = [];
    for (let ms = Math.ceil(fromMs / stride) * stride; ms <= toMs; ms += stride) {
      const localMs = ms + offsetAt(zone, ms);
      if (localMs % step !== 0) continue;
      const isMidnight = localMs % DAY === 0 && toMs - fromMs > DAY + HOUR;
      ticks.push({ ms, text: isMidnight ? named(localMs, 'day') : clockText(ms, timeZone, step) });
    }
    return ticks;
  }
  const offset = offsetAt(zone, fromMs);
  const dates = utcTicks(new Date(fromMs + offset), new Date(toMs + offset), most).map(Number);
  const apart = dates.length > 1 ? dates[1]! - dates[0]! : toMs - fromMs;
  // Of ticks closer than a day only the midnights have names of their own.
  const told = apart < DAY ? dates.filter((ms) => ms % DAY === 0) : dates;
  // Round steps may be twice as close as was asked: then every other one is left out.
  const every = Math.ceil(told.length / (CLOSER * most));
  const shown = told.filter((_, k) => k % every === 0);
  return shown.map((localMs) => ({
    ms: localMs - offset,
    text:
      apart > 300 * DAY
        ? String(new Date(localMs).getUTCFullYear())
        : apart > 25 * DAY
          ? named(localMs, 'monthShort')
          : named(localMs, 'day'),
  }));
}
