import { offsetAt, zoneOf } from '@long-tally/core';

/** An instant as the site's clock shows it, `2024-05-21T19:30`. */
export function clockOf(ms: number, timeZone: string): string {
  return new Date(ms + offsetAt(zoneOf(timeZone), ms)).toISOString().slice(0, 16);
}

/** The site's date of an instant. */
export function dateOf(ms: number, timeZone: string): string {
  return clockOf(ms, timeZone).slice(0, 10);
}
