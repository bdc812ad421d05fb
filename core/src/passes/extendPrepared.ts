import { MOST_GAPS } from '../check/gaps.js';
import type { Correction } from '../model/correction.js';
import { implausibleSources } from '../check/plausibility.js';
import { flowColumns, type BusColumns } from './busColumns.js';
import type { StoredShareState } from './storedSolarShare.js';
import type { TarePoints } from './tare.js';
import { rankSources } from '../import/merge/mergeSources.js';
import {
  scanSamples,
  concluded,
  correctedSources,
  merge,
  prepare,
  type HomeInputs,
  type Prepared,
  type Samples,
} from './prepare.js';
import { cellAt, endMs, type Channel, type Column, type Log, type SourceLog } from '../model/log.js';
import type { Quantity } from '../model/quantity.js';
import { appended } from '../model/growable.js';
import { leftOut, type JournalNote } from '../system/journal.js';
import type { System } from '../system/schema.js';
import { dayNumberAt, dayOf } from '../time/days.js';
import { zoneOf } from '../time/zone.js';

/** So many days before the new ones are gone through again: what runs through the samples falls into step on them. */
const OVERLAP_DAYS = 60;
const DAY_MS = 86_400_000;

/**
 * As {@link prepare}, for a home that was prepared before. Where logs have only been added after its end, its last
 * weeks and the new days are gone through and joined to what is known; the result is that of preparing it all, and where
 * that cannot be proved from what the two have in common it is all prepared. A journal that leaves out what it left out
 * before is only read again.
 */
export function extendPrepared(
  before: Prepared,
  system: System,
  sources: readonly SourceLog[],
  corrections: readonly Correction[],
  journal: readonly JournalNote[] = [],
): Prepared {
  const given: HomeInputs = { system, sources, corrections, journal, configurations: before.configurations };
  const layers = ({ system: home, corrections: list, journal: notes }: HomeInputs) =>
    JSON.stringify([home, list, leftOut(notes)]);
  if (layers(given) === layers(before)) {
    const isSame =
      sources.length === before.sources.length && sources.every((one, i) => one === before.sources[i]);
    const after = isSame ? concluded(given, before, before) : joined(before, given);
    if (after) return after;
  }
  return prepare(system, sources, corrections, journal);
}

/** Where two logs meet: cells of the earlier up to `cut` stand, those of the later begin at cell `shift` of it. */
interface Seam {
  readonly cutMs: number;
  readonly cut: number;
  readonly shift: number;
}

function joined(before: Prepared, given: HomeInputs): Prepared | null {
  const { sources, configurations } = given;
  const known = new Set(before.sources);
  const added = sources.filter((source) => !known.has(source));
  if (added.length === 0 || sources.length !== known.size + added.length) return null;
  const { log: old } = before;
  const zone = zoneOf(old.zone);
  const oldEndMs = endMs(old);
  const dayBefore = (days: number) => dayOf(zone, dayNumberAt(zone, oldEndMs) - days).fromMs;
  const [cutMs, fromMs] = [dayBefore(1), dayBefore(1 + OVERLAP_DAYS)];
  const isQuiet =
    fromMs > old.startMs &&
    sources.every(({ lumps }) => lumps.length === 0) &&
    before.merging.every(({ code }) => code !== 'sources-differ') &&
    configurations.every((one) => one.fromMs <= fromMs);
  if (!isQuiet) return null;
  const logs = correctedSources(given);
  const late = logs
    .filter((log) => endMs(log) > fromMs)
    .map((log) => since(log, fromMs))
    .sort((a, b) => a.startMs - b.startMs);
  const follow = late.every(
    ({ startMs, stepMs }, i) =>
      (i === 0 || startMs >= endMs(late[i - 1]!)) &&
      (startMs - old.startMs) % old.stepMs === 0 &&
      stepMs % old.stepMs === 0,
  );
  const isAfter = added.every((source) => logs[sources.indexOf(source)]!.startMs >= oldEndMs);
  if (!follow || !isAfter) return null;

  const { log: tail } = merge(given, late);
  const shift = (tail.startMs - old.startMs) / old.stepMs;
  if (tail.stepMs !== old.stepMs || !Number.isInteger(shift)) return null;
  const seam = { cutMs, cut: cellAt(old, cutMs), shift };
  const origin = originAt(before, shift);
  const ranked = rankSources(logs);
  const log = joinLogs(old, tail, seam, ranked);
  if (origin === null || log === null) return null;
  const samples = joinSamples(before, scanSamples(tail, configurations, origin), seam, log);
  if (samples === null) return null;
  const read = ranked.flatMap((source) => source.findings);
  // Of one file alone it is not asked whether it differs from the others.
  const asked = known.size > 1 ? added : sources;
  const alone = implausibleSources(
    asked.map((source) => logs[sources.indexOf(source)]!),
    configurations,
    given.system,
  );
  const merging = [...before.merging, ...alone];
  return concluded(given, { log, read, merging, comparisons: before.comparisons }, samples);
}

/** A log from an instant on. */
function since(log: SourceLog, fromMs: number): SourceLog {
  const first = cellAt(log, fromMs);
  const columns = new Map<Quantity, Column>();
  for (const [quantity, column] of log.columns)
    columns.set(quantity, { ...column, values: column.values.subarray(first) });
  return { ...log, startMs: log.startMs + first * log.stepMs, count: log.count - first, columns };
}

/** What the trace of the store's origin had come to at a cell; null where it had not begun to count, undefined without one. */
function originAt(
  { columns, configurations, log }: Prepared,
  cell: number,
): StoredShareState | null | undefined {
  const { solarShare, soc } = columns;
  if (!solarShare || !soc) return undefined;
  const share = solarShare[cell]!;
  if (Number.isNaN(share)) return null;
  const { fromMs, usableWh } = configurations.at(-1)!;
  let last = cell - 1;
  while (last >= cellAt(log, fromMs) && Number.isNaN(soc[last]!)) last--;
  const level = last >= cellAt(log, fromMs) ? soc[last]! : 0;
  return { share, storedWh: level * (usableWh ?? 0) };
}

function joinLogs(old: Log, tail: Log, { cut, shift }: Seam, ranked: readonly SourceLog[]): Log | null {
  const channels = new Map<Quantity, Channel>();
  if (old.channels.size !== tail.channels.size) return null;
  for (const [quantity, before] of old.channels) {
    const after = tail.channels.get(quantity);
    // Last digits set what counts as a swing or a rest, all over the log.
    if (after?.origin !== before.origin || after.resolution !== before.resolution) return null;
    const holders = ranked.filter(({ columns }) => columns.has(quantity)).map(({ name }) => name);
    channels.set(quantity, {
      ...before,
      values: appended(Float64Array, before.values, cut, after.values.subarray(cut - shift)),
      bridged: appended(Uint8Array, before.bridged, cut, after.bridged.subarray(cut - shift)),
      sources: [...new Set([...(before.origin === 'logged' ? holders : []), ...before.sources])],
    });
  }
  return { ...tail, startMs: old.startMs, count: shift + tail.count, channels, fills: old.fills };
}

function joinSamples(before: Prepared, after: Samples, seam: Seam, log: Log): Samples | null {
  const columns = joinColumns(before.columns, after.columns, seam, log);
  const tare = joinTare(before.tare, after.tare);
  const { cutMs } = seam;
  const hasSoc = log.channels.has('soc');
  const span = ({ atMs, toMs }: { atMs: number; toMs: number }) => ({ fromMs: atMs, toMs });
  const asIs = (range: Span) => range;
  const windows = hasSoc ? inStep(before.windows, after.windows, asIs, cutMs) : [];
  const discharges = hasSoc ? inStep(before.discharges, after.discharges, span, cutMs) : [];
  const at = ({ atMs }: { atMs: number }) => ({ fromMs: atMs, toMs: atMs });
  const turns = hasSoc ? inStep(before.turns, after.turns, at, cutMs) : [];
  const nights = hasSoc ? inStep(before.nights, after.nights, span, cutMs) : [];
  const tailMs = log.startMs + seam.shift * log.stepMs;
  const isFew = before.gaps.length + after.gaps.length <= MOST_GAPS;
  // A run ends where the battery works the other way, so one that began before the overlap has ended in it.
  const isWorked = (['chargeWh', 'dischargeWh'] as const).every((way) =>
    after.entries.some(
      ({ toMs, sums, configuration: { nameplateWh } }) =>
        toMs <= cutMs && nameplateWh !== null && sums[way] > 0.24 * nameplateWh,
    ),
  );
  if (!isWorked && before.segments.length + after.segments.length > 0) return null;
  const segments = [
    ...before.segments.filter(({ toMs }) => toMs <= cutMs),
    ...after.segments.filter(({ toMs }) => toMs > cutMs),
  ];
  const resets = [
    ...before.resets.filter(({ atMs }) => atMs < cutMs),
    ...after.resets.filter(({ atMs }) => atMs >= cutMs),
  ];
  // What a stop was is known a few days later, so those of the old log are kept up to early in the overlap alone.
  const stopMs = tailMs + DAY_MS;
  const cutOffs = [
    ...before.cutOffs.filter(({ atMs }) => atMs < stopMs),
    ...after.cutOffs.filter(({ atMs }) => atMs >= stopMs),
  ];
  const gaps = isFew ? eachOnItsOwn(before.gaps, after.gaps, tailMs) : null;
  const rests = eachOnItsOwn(before.rests, after.rests, tailMs);
  if (!columns || tare === undefined || !windows || !discharges || !turns || !nights || !gaps || !rests)
    return null;
  const entries = [
    ...before.entries.filter(({ toMs }) => toMs <= cutMs),
    ...after.entries.filter(({ fromMs }) => fromMs >= cutMs),
  ];
  return {
    columns,
    entries,
    windows,
    discharges,
    turns,
    nights,
    segments,
    resets,
    cutOffs,
    gaps,
    rests,
    tare,
  };
}

interface Span {
  readonly fromMs: number;
  readonly toMs: number;
}

/**
 * Joins lists of which every item leads to the next: from the last one before the cut that both have they go the same
 * way. Null where they have none.
 */
function inStep<T>(
  before: readonly T[],
  after: readonly T[],
  spanOf: (item: T) => Span,
  cutMs: number,
): T[] | null {
  const key = (item: T) => `${spanOf(item).fromMs} ${spanOf(item).toMs}`;
  const at = new Map(before.map((item, i) => [key(item), i]));
  const last = after.findLastIndex((item) => spanOf(item).toMs <= cutMs && at.has(key(item)));
  return last < 0 ? null : [...before.slice(0, at.get(key(after[last]!))! + 1), ...after.slice(last + 1)];
}

/** Joins stretches that know nothing of each other. Null where one is cut by the beginning of the later samples. */
function eachOnItsOwn<T extends Span>(before: readonly T[], after: readonly T[], tailMs: number): T[] | null {
  if (after[0] && after[0].fromMs <= tailMs) return null;
  return [...before.filter(({ fromMs }) => fromMs < tailMs), ...after];
}

function joinColumns(
  before: BusColumns,
  after: BusColumns,
  { cut, shift }: Seam,
  log: Log,
): BusColumns | null {
  if ((before.solarShare === null) !== (after.solarShare === null)) return null;
  return {
    ...flowColumns(log),
    known: appended(Uint8Array, before.known, cut, after.known.subarray(cut - shift)),
    solarShare:
      before.solarShare && after.solarShare
        ? appended(Float32Array, before.solarShare, cut, after.solarShare.subarray(cut - shift))
        : null,
  };
}

/** Joins tare points at the last that both have; undefined where they have none in common. */
function joinTare(before: TarePoints | null, after: TarePoints | null): TarePoints | null | undefined {
  if (!before && !after) return null;
  if (!before || !after) return undefined;
  const last = after.fromMs.findLastIndex((ms) => before.fromMs.includes(ms));
  if (last < 0) return undefined;
  const end = before.fromMs.indexOf(after.fromMs[last]!) + 1;
  const nights = before.night[end - 1]! - after.night[last]!;
  const both = (a: Float64Array, b: Float64Array) =>
    Float64Array.from([...a.subarray(0, end), ...b.subarray(last + 1)]);
  return {
    fromMs: both(before.fromMs, after.fromMs),
    servedW: both(before.servedW, after.servedW),
    drawnW: both(before.drawnW, after.drawnW),
    night: Int32Array.from([
      ...before.night.subarray(0, end),
      ...after.night.subarray(last + 1).map((night) => night + nights),
    ]),
  };
}
