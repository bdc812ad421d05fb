import { instantOfLocal, offsetAt, zoneOf, type Zone } from '../../time/zone.js';
import { offsetMsOf } from '../../time/instant.js';

/** What became of the readings of a clock. */
export interface Instants {
  readonly timeMs: Float64Array;
  /** Readings that the zone's clock never shows, and the first of them; a clock that shows them keeps one time all year. */
  readonly skipped: { readonly count: number; readonly firstMs: number };
  /** Readings shown twice that were taken for the second time. */
  readonly repeated: number;
}

/** So many rows that repeat their neighbour's time tell of a file that writes its rows twice. */
const DOUBLED_SHARE = 0.02;
/** Readings of one change of the clock lie within so much. */
const CHANGE_MS = 12 * 3_600_000;

/**
 * Instants of the readings of a clock, in the order of the file. Of an hour that the clock shows twice, each reading that
 * stands twice in the file is first its first showing, then its second, in whatever order the rows are; where it stands
 * once, the one that keeps the step of the rows around it.
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
  const twice = new Map<number, Shown>();
  let doubled = 0;
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
      if (second !== null) {
        const shown = twice.get(local) ?? { first: at, second, rows: [] };
        shown.rows.push(i);
        twice.set(local, shown);
      }
      timeMs[i] = isSecond ? second : at;
      [from, to] = calmAround(table, local);
    } else {
      timeMs[i] = local - offset;
    }
    // Of the doubled hour itself nothing can be said yet.
    if (timeMs[i] === last && !twice.has(local)) doubled++;
    last = timeMs[i]!;
  }
  if (doubled <= DOUBLED_SHARE * readingMs.length) pairShowings(twice, timeMs);
  for (const { second, rows } of twice.values()) for (const i of rows) if (timeMs[i] === second) repeated++;
  return { timeMs, skipped: { count: skipped, firstMs }, repeated };
}

/** A reading that the clock shows twice, and the rows that bear it, in order of time as far as the file has one. */
interface Shown {
  readonly first: number;
  readonly second: number;
  readonly rows: number[];
}

/** Of a change at which most readings stand twice, the first half of the rows of each is its first showing. */
function pairShowings(twice: ReadonlyMap<number, Shown>, timeMs: Float64Array): void {
  const changes = new Map<number, Shown[]>();
  for (const shown of twice.values()) {
    const key = Math.round(shown.first / CHANGE_MS);
    changes.set(key, [...(changes.get(key) ?? []), shown]);
  }
  for (const shown of changes.values()) {
    const pairs = shown.filter(({ rows }) => rows.length % 2 === 0);
    if (pairs.length <= shown.length / 2) continue;
    for (const { first, second, rows } of pairs)
      rows.forEach((i, k) => (timeMs[i] = k < rows.length / 2 ? first : second));
  }
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
