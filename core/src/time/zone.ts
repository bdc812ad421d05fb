import { Temporal } from 'temporal-polyfill';

/** A time zone as a table: `offsetsMs[i]` holds from `fromMs[i]` to `fromMs[i + 1]`. Covers 2000 to 2050. */
export interface Zone {
  readonly id: string;
  readonly fromMs: readonly number[];
  readonly offsetsMs: readonly number[];
}

/** Times outside these bounds are taken for faults of the logger's clock. */
export const EARLIEST_MS = Date.UTC(2000, 0, 1);
export const LATEST_MS = Date.UTC(2050, 0, 1);

const zones = new Map<string, Zone>();

/**
 * The table of a zone's offsets, so that placing a row in local time costs a search, not a library call.
 * @param id IANA zone name, for example `Pacific/Auckland`
 * @throws RangeError when the zone is not known
 * @source IANA time zone database, as carried by the JavaScript engine
 */
export function zoneOf(id: string): Zone {
  const known = zones.get(id);
  if (known) return known;
  let at = Temporal.Instant.fromEpochMilliseconds(EARLIEST_MS).toZonedDateTimeISO(id);
  const fromMs = [EARLIEST_MS];
  const offsetsMs = [at.offsetNanoseconds / 1e6];
  for (;;) {
    const next = at.getTimeZoneTransition('next');
    if (!next || next.epochMilliseconds >= LATEST_MS) break;
    fromMs.push(next.epochMilliseconds);
    offsetsMs.push(next.offsetNanoseconds / 1e6);
    at = next;
  }
  const zone = { id, fromMs, offsetsMs };
  zones.set(id, zone);
  return zone;
}

/** True when the engine knows the zone. */
export function isZone(id: string): boolean {
  try {
    // Asking for a formatter is a hundred times cheaper than drawing up the table.
    new Intl.DateTimeFormat('en', { timeZone: id });
    return true;
  } catch {
    return false;
  }
}

/** Offset from UTC in ms that holds at an instant (binary search). */
export function offsetAt(zone: Zone, ms: number): number {
  let low = 0;
  let high = zone.fromMs.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (zone.fromMs[middle]! <= ms) low = middle;
    else high = middle - 1;
  }
  return zone.offsetsMs[low]!;
}

/**
 * The instant at which a wall clock shows a given reading.
 * @param localMs the reading, as if it were UTC
 * @returns epoch ms; of a repeated reading the first, of a skipped reading the instant the clock skips
 */
export function instantOfLocal(zone: Zone, localMs: number): number {
  const before = localMs - offsetAt(zone, localMs - 86_400_000);
  if (before + offsetAt(zone, before) === localMs) return before;
  const after = localMs - offsetAt(zone, localMs + 86_400_000);
  if (after + offsetAt(zone, after) === localMs) return after;
  // The reading is skipped: the transition lies between the two candidates.
  const skip = zone.fromMs.find((ms) => ms >= Math.min(before, after) && ms <= Math.max(before, after));
  return skip ?? before;
}

/** An instant as the site's clock shows it, `2024-06-30 18:40`, for messages. */
export function siteTimeOf(zone: Zone, ms: number): string {
  return new Date(ms + offsetAt(zone, ms)).toISOString().slice(0, 16).replace('T', ' ');
}
