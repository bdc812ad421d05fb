import { parseDate } from './instant.js';
import { instantOfLocal, offsetAt, type Zone } from './zone.js';

const DAY_MS = 86_400_000;
/** A year of 365.25 days, by which everything is told that is told by the year. */
export const YEAR_DAYS = 365.25;
/** So many days have every season in them; of less winter and summer stand unevenly. */
export const WHOLE_YEAR_DAYS = 360;
export const YEAR_MS = YEAR_DAYS * DAY_MS;

/** A calendar day of the site: from its first instant to the next day's, whatever its length. */
export interface Day {
  /** ISO date, `2024-06-30`. */
  readonly date: string;
  readonly fromMs: number;
  readonly toMs: number;
}

/** Number of the local calendar day (days since 1970-01-01) that holds an instant. */
export function dayNumberAt(zone: Zone, ms: number): number {
  return Math.floor((ms + offsetAt(zone, ms)) / DAY_MS);
}

/** The day with a given number. Lengths of 23, 23.5, 24, 24.5 and 25 h all occur. */
export function dayOf(zone: Zone, dayNumber: number): Day {
  return {
    date: new Date(dayNumber * DAY_MS).toISOString().slice(0, 10),
    fromMs: instantOfLocal(zone, dayNumber * DAY_MS),
    toMs: instantOfLocal(zone, (dayNumber + 1) * DAY_MS),
  };
}

/** Number of the day of an ISO date; NaN when the text is no date. */
export function dayNumberOfDate(date: string): number {
  return parseDate(date) / DAY_MS;
}

/** How many local days overlap the half-open range of instants. */
export function countDays(zone: Zone, fromMs: number, toMs: number): number {
  return toMs <= fromMs ? 0 : dayNumberAt(zone, toMs - 1) - dayNumberAt(zone, fromMs) + 1;
}

/** All local days that overlap the half-open range of instants. */
export function daysBetween(zone: Zone, fromMs: number, toMs: number): Day[] {
  const first = dayNumberAt(zone, fromMs);
  return Array.from({ length: countDays(zone, fromMs, toMs) }, (_, n) => dayOf(zone, first + n));
}
