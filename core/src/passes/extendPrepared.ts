import type { Correction } from '../model/correction.js';
import { implausibleSources } from '../check/plausibility.js';
import { flowColumns, type BusColumns } from './busColumns.js';
import type { StoredShareState } from './storedSolarShare.js';
import type { Seam } from './pass.js';
import { joinAll } from './passes.js';
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
import type { TrialRecord } from '../model/trialRecord.js';
import { dayNumberAt, dayOf } from '../time/days.js';
import { zoneOf } from '../time/zone.js';

/**
 * So many days before the new ones are gone through again: what runs through the samples falls into step on them. Where a
 * battery was never full in three weeks, more are tried.
 */
const OVERLAPS_DAYS = [21, 60] as const;

/**
 * As {@link prepare}, for a home that was prepared before. Where logs have only been added after its end, its last
 * weeks and the new days are gone through and joined to what is known; the result is that of preparing it all, and where
 * that cannot be proved from what the two have in common it is all prepared. A journal that leaves out what it left out
 * before is only read again, and so are other tariffs.
 */
export function extendPrepared(
  before: Prepared,
  system: System,
  sources: readonly SourceLog[],
  corrections: readonly Correction[],
  journal: readonly JournalNote[] = [],
  trials: readonly TrialRecord[] = [],
): Prepared {
  const given: HomeInputs = {
    system,
    sources,
    corrections,
    journal,
    trials,
    configurations: before.configurations,
  };
  const layers = ({ system: home, corrections: list, journal: notes }: HomeInputs) =>
    JSON.stringify([withoutPrices(home), list, leftOut(notes)]);
  if (layers(given) === layers(before)) {
    const isSame =
      sources.length === before.sources.length && sources.every((one, i) => one === before.sources[i]);
    const isTold = ({ journal: notes, trials: records }: HomeInputs) => JSON.stringify([notes, records]);
    if (isSame && isTold(given) === isTold(before)) return { ...before, ...given };
    if (isSame) return concluded(given, before, before);
    for (const days of OVERLAPS_DAYS) {
      const after = joined(before, given, days);
      if (after) return after;
    }
  }
  return prepare(system, sources, corrections, journal, trials);
}

/** A home without what the samples are not gone through for: its name, and everything that prices and weather are reckoned by. */
function withoutPrices(home: System): object {
  return Object.fromEntries(Object.entries(home).filter(([key]) => !PRICES.includes(key)));
}

const PRICES: readonly string[] = [
  'name',
  'currency',
  'tariffs',
  'discountRate',
  'priceRise',
  'degreeDays',
] satisfies readonly (keyof System)[];

function joined(before: Prepared, given: HomeInputs, overlapDays: number): Prepared | null {
  const { sources, configurations } = given;
  const known = new Set(before.sources);
  const added = sources.filter((source) => !known.has(source));
  if (added.length === 0 || sources.length !== known.size + added.length) return null;
  const { log: old } = before;
  const zone = zoneOf(old.zone);
  const oldEndMs = endMs(old);
  const dayBefore = (days: number) => dayOf(zone, dayNumberAt(zone, oldEndMs) - days).fromMs;
  const [cutMs, fromMs] = [dayBefore(1), dayBefore(1 + overlapDays)];
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
  const origin = originAt(before, shift);
  const ranked = rankSources(logs);
  const cut = cellAt(old, cutMs);
  const log = joinLogs(old, tail, { cut, shift }, ranked);
  if (origin === null || log === null) return null;
  const later = scanSamples(tail, configurations, origin);
  const seam: Seam = { cutMs, cut, shift, tailMs: tail.startMs, isWorked: isWorked(later, cutMs) };
  const samples = joinSamples(before, later, seam, log);
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

function joinLogs(
  old: Log,
  tail: Log,
  { cut, shift }: Pick<Seam, 'cut' | 'shift'>,
  ranked: readonly SourceLog[],
): Log | null {
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
      ...(before.texts || after.texts ? { texts: { ...before.texts, ...after.texts } } : {}),
      sources: [...new Set([...(before.origin === 'logged' ? holders : []), ...before.sources])],
    });
  }
  return { ...tail, startMs: old.startMs, count: shift + tail.count, channels, fills: old.fills };
}

function joinSamples(before: Prepared, after: Samples, seam: Seam, log: Log): Samples | null {
  const columns = joinColumns(before.columns, after.columns, seam, log);
  const kept = joinAll(before, after, seam);
  return columns && kept && { columns, ...kept };
}

/** Whether the battery has worked so much both ways before the cut that no run of before is open there. */
function isWorked({ entries }: Samples, cutMs: number): boolean {
  return (['chargeWh', 'dischargeWh'] as const).every((way) =>
    entries.some(
      ({ toMs, sums, configuration: { nameplateWh } }) =>
        toMs <= cutMs && nameplateWh !== null && sums[way] > 0.24 * nameplateWh,
    ),
  );
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
