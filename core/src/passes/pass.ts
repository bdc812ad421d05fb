import type { Log } from '../model/log.js';
import { firstReached, type Range } from '../model/range.js';
import type { Configuration } from '../system/configuration.js';
import type { BusColumns } from './busColumns.js';

/** What a pass goes through. */
export interface Scanned {
  readonly log: Log;
  readonly columns: BusColumns;
  readonly configurations: readonly Configuration[];
}

/**
 * Where two stretches of a log meet: the earlier one stands up to `cutMs`, cell `cut` of it; the later one begins some days
 * before that, at `tailMs`, and its first cell is cell `shift` of the whole.
 */
export interface Seam {
  readonly cutMs: number;
  readonly cut: number;
  readonly shift: number;
  readonly tailMs: number;
  /** Whether the battery has worked so much both ways since `tailMs` that no run of before is open at the cut. */
  readonly isWorked: boolean;
}

/**
 * One scan of a log that keeps something small, so that a range costs days and a new month costs a month: slicing what was
 * kept of a whole is what a scan of the part would keep, but for what the edges of the part cut; joining what was kept of two
 * stretches is what a scan of both would keep.
 */
export interface Pass<T> {
  readonly scan: (scanned: Scanned) => T;
  readonly slice: (kept: T, range: Range, scanned: Scanned) => T;
  /** Null where it cannot be shown that the two make the whole. */
  readonly join: (before: T, after: T, seam: Seam) => T | null;
}

/** What lies wholly within a range. */
export function within<T extends Range>(items: readonly T[], { fromMs, toMs }: Range): T[] {
  return items.filter((item) => item.fromMs >= fromMs && item.toMs <= toMs);
}

/** What happens at an instant within a range, of items in order of time. */
export function happening<T extends { readonly atMs: number }>(
  items: readonly T[],
  { fromMs, toMs }: Range,
): T[] {
  return items.slice(firstFrom(items, fromMs), firstFrom(items, toMs));
}

/** Place of the first of items in order of time that happens at or after an instant. */
export function firstFrom(items: readonly { readonly atMs: number }[], ms: number): number {
  return firstReached(items, ({ atMs }) => atMs >= ms);
}

/**
 * Joins lists of which every item leads to the next: from the last one before the cut that both have they go the same
 * way. Null where both have items and none in common.
 */
export function joinInStep<T>(
  before: readonly T[],
  after: readonly T[],
  spanOf: (item: T) => Range,
  { cutMs, tailMs }: Seam,
): T[] | null {
  if (before.length + after.length === 0) return [];
  const key = (item: T) => `${spanOf(item).fromMs} ${spanOf(item).toMs}`;
  const at = new Map<string, number>();
  for (let i = before.length - 1; i >= 0 && spanOf(before[i]!).toMs >= tailMs; i--)
    at.set(key(before[i]!), i);
  const last = after.findLastIndex((item) => spanOf(item).toMs <= cutMs && at.has(key(item)));
  return last < 0 ? null : [...before.slice(0, at.get(key(after[last]!))! + 1), ...after.slice(last + 1)];
}

/**
 * Joins stretches that know nothing of each other. Where one is cut by the beginning of the later samples, the earlier ones
 * hold it whole; null where it goes on past the cut.
 */
export function joinApart<T extends Range>(
  before: readonly T[],
  after: readonly T[],
  { cutMs, tailMs }: Seam,
): T[] | null {
  const own = after[0] && after[0].fromMs <= tailMs ? after.slice(1) : after;
  const seamMs = own === after ? tailMs : after[0]!.toMs;
  if (seamMs > cutMs) return null;
  return [...before.filter(({ fromMs }) => fromMs < seamMs), ...own];
}
