import { instantOfLocal, offsetAt, zoneOf, type Zone } from '../time/zone.js';
import { offsetMsOf } from '../read/clock.js';

/** What became of the readings of a clock. */
export interface Instants {
  readonly timeMs: Float64Array;
  /** Readings that the zone's clock never shows, and the first of them; a clock that shows them keeps one time all year. */
  readonly skipped: { readonly count: number; readonly firstMs: number };
  /** Readings shown twice that were taken for the second time. */
  readonly repeated: number;
}

/**
 * Instants of the readings of a clock, in the order of the file. Of an hour that the clock shows twice, the rows up to
 * where it goes back are the first, those behind it the second.
 * @param readingMs readings as if they were UTC
 * @param zone IANA name, or a fixed offset such as `+01:00`
 */
export function instantsOf(readingMs: Float64Array, zone: string): Instants {
  const none = { count: 0, firstMs: NaN };
  if (/^[+-]\d\d:\d\d$/.test(zone)) {
    const offset = offsetMsOf(zone);
    return { timeMs: readingMs.map((ms) => ms - offset), skipped: none, repeated: 0 };
  }
  const table = zoneOf(zone);
  const timeMs = new Float64Array(readingMs.length);
  const backwards = runsBackwards(readingMs);
  const step = usualDistance(readingMs);
  let skipped = 0;
  let firstMs = NaN;
  let repeated = 0;
  let last = -Infinity;
  // The offset holds for long stretches: it is looked up only where a reading may lie near a change of it.
  let offset = NaN;
  let from = Infinity;
  let to = -Infinity;
  for (let k = 0; k < readingMs.length; k++) {
    const i = backwards ? readingMs.length - 1 - k : k;
    const local = readingMs[i]!;
    if (local < from || local >= to) {
      const at = instantOfLocal(table, local);
      offset = offsetAt(table, at);
      if (at + offset !== local) {
        if (skipped++ === 0) firstMs = at;
      }
      const second = laterReading(table, local, at);
      // Of the two the one that keeps the step of the rows; a row doubled keeps its own.
      const expected = last + step;
      const isSecond =
        second !== null && last > -Infinity && Math.abs(second - expected) < Math.abs(at - expected);
      if (isSecond) repeated++;
      timeMs[i] = isSecond ? second : at;
      [from, to] = calmAround(table, local);
    } else {
      timeMs[i] = local - offset;
    }
    last = timeMs[i]!;
  }
  return { timeMs, skipped: { count: skipped, firstMs }, repeated };
}

/** The second instant at which the clock shows a reading, if there is one. */
function laterReading(zone: Zone, local: number, first: number): number | null {
  const second = local - offsetAt(zone, first + 3 * 3_600_000);
  return second > first && second + offsetAt(zone, second) === local ? second : null;
}

/** Readings around one within which the offset does not change and no reading is ambiguous; empty near a change. */
function calmAround({ fromMs, offsetsMs }: Zone, local: number): [from: number, to: number] {
  const DAY = 86_400_000;
  let i = fromMs.length - 1;
  while (i > 0 && fromMs[i]! > local - offsetsMs[i]! - DAY) i--;
  const begins = i === 0 && local < fromMs[0]! + DAY ? -Infinity : fromMs[i]! + offsetsMs[i]! + DAY;
  const next = fromMs[i + 1];
  const ends = next === undefined ? Infinity : next + offsetsMs[i]! - DAY;
  return local >= begins && local < ends ? [begins, ends] : [Infinity, -Infinity];
}

function runsBackwards(readingMs: Float64Array): boolean {
  let falls = 0;
  let rises = 0;
  for (let i = 1; i < readingMs.length; i++) {
    if (readingMs[i]! < readingMs[i - 1]!) falls++;
    else if (readingMs[i]! > readingMs[i - 1]!) rises++;
  }
  return falls > rises;
}

/** The most frequent distance between neighbours at the head of the file. */
function usualDistance(readingMs: Float64Array): number {
  const counts = new Map<number, number>();
  for (let i = 1; i < Math.min(2000, readingMs.length); i++) {
    const distance = Math.abs(readingMs[i]! - readingMs[i - 1]!);
    if (distance > 0) counts.set(distance, (counts.get(distance) ?? 0) + 1);
  }
  return [...counts].sort(([, a], [, b]) => b - a)[0]?.[0] ?? 0;
}
