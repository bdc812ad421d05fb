import { happening, within } from './pass.js';
import { scanAll, sliced, type Kept } from './passes.js';
import { dailySums } from './dailySums.js';
import type { Finding } from '../model/finding.js';
import { checkLog } from '../check/checkLog.js';
import { implausibleSources } from '../check/plausibility.js';
import { compareSources, comparisonFindings, type Comparison } from '../check/compareSources.js';
import type { Correction } from '../model/correction.js';
import { withoutImpossible } from '../check/impossible.js';
import { corrected } from '../check/applyCorrections.js';
import { floorFinding, meterFloor } from '../check/meterFloor.js';
import { estimatesOf, withTrials, type Estimate } from './capacityEstimates.js';
import { busColumns, type BusColumns } from './busColumns.js';
import type { Log, SourceLog } from '../model/log.js';
import type { Range } from '../model/range.js';
import type { StoredShareState } from './storedSolarShare.js';
import { addSums, noSums } from './sums.js';
import { partsWithin, stressWithin } from './dayEntries.js';
import { turningPointsIn } from './turningPoints.js';
import { asleepWhenEmpty, idleSteps, idleStretches, type IdleStep } from './idleFit.js';
import { busChannel } from '../import/merge/derive.js';
import { mergeSources } from '../import/merge/mergeSources.js';
import { interruptionsOf } from './interruptions.js';
import { testsOf, withJournal } from './journalOutages.js';
import { outageLedger, type Outage } from './outages.js';
import {
  accuracyOf,
  degreeBases,
  configurationAt,
  configurationsOf,
  gridFreeWhOf,
  type Configuration,
} from '../system/configuration.js';
import { leftOut, type JournalNote } from '../system/journal.js';
import type { System } from '../system/schema.js';
import type { TrialRecord } from '../model/trialRecord.js';
import type { RangeData } from './rangeData.js';

/** What going through the samples of a log leaves behind. */
export interface Samples extends Kept {
  readonly columns: BusColumns;
}

/** A home's logs laid together. */
export interface Merged {
  readonly log: Log;
  /** What was met while the logs were read. */
  readonly read: readonly Finding[];
  /** What was met while they were merged. */
  readonly merging: readonly Finding[];
  /** How the sources that give the same go together. */
  readonly comparisons: readonly Comparison[];
}

/** A home whose samples have been gone through once; any range of days is then a matter of adding up. */
export interface Prepared extends Samples, Merged {
  readonly system: System;
  readonly corrections: readonly Correction[];
  readonly journal: readonly JournalNote[];
  /** What trials prove beside the log. */
  readonly trials: readonly TrialRecord[];
  /** As they were read, before corrections. */
  readonly sources: readonly SourceLog[];
  readonly configurations: readonly Configuration[];
  readonly findings: readonly Finding[];
  /** Changes of the idle draw that no configuration explains. */
  readonly steps: readonly IdleStep[];
  /** Configurations whose store feeds no draw while it stands empty. */
  readonly asleep: ReadonlySet<Configuration>;
  /** Power below which the battery's meter reads zero, W. */
  readonly floorW: number;
  /** Of the capacity, of the whole log. */
  readonly estimates: readonly Estimate[];
  readonly outages: readonly Outage[];
  /** Share of the time in which an interruption of the grid would show. */
  readonly outagesSeenShare: number;
}

/** What a home is prepared from. */
export type HomeInputs = Pick<
  Prepared,
  'system' | 'sources' | 'corrections' | 'journal' | 'trials' | 'configurations'
>;

/**
 * Lays the corrections over a home's logs, merges and checks them, and goes through the samples: day sums, full-to-full
 * windows, nights, gaps.
 * @param journal tells planned runs from outages and drawdown trials from discharges, and what to leave out
 * @param trials stand beside the log, and name the discharges of it that were trials
 */
export function prepare(
  system: System,
  sources: readonly SourceLog[],
  corrections: readonly Correction[] = [],
  journal: readonly JournalNote[] = [],
  trials: readonly TrialRecord[] = [],
): Prepared {
  const given = { system, sources, corrections, journal, trials, configurations: configurationsOf(system) };
  const logs = correctedSources(given);
  const { log, findings, ranked } = merge(given, logs);
  const alone = logs.length > 1 ? implausibleSources(logs, given.configurations, system) : [];
  const merged = {
    log,
    read: ranked.flatMap((source) => source.findings),
    merging: [...findings, ...alone],
    comparisons: compareSources(logs, log),
  };
  return concluded(given, merged, scanSamples(log, given.configurations));
}

/** What came of a log the last time, by what lay over it: a month more does not go through ten years before it again. */
const lastCorrected = new WeakMap<SourceLog, { readonly by: string; readonly log: SourceLog }>();

/** A home's logs with its corrections laid over them, without what its journal leaves out and what cannot be. */
export function correctedSources(given: HomeInputs): SourceLog[] {
  const { system, sources, corrections, journal, configurations } = given;
  const layers = [...corrections, ...leftOut(journal)];
  // All that the two steps below read beside the log itself.
  const by = JSON.stringify([configurations, system.timeZone, layers]);
  return sources.map((source) => {
    const known = lastCorrected.get(source);
    if (known?.by === by) return known.log;
    const log = withoutImpossible(corrected(source, layers), configurations, corrections, system.timeZone);
    lastCorrected.set(source, { by, log });
    return log;
  });
}

/** Lays corrected logs of a home together. */
export function merge({ system, corrections, configurations }: HomeInputs, logs: readonly SourceLog[]) {
  const leads = corrections.flatMap((one) =>
    one.kind === 'lead' ? [[one.quantity, one.source] as const] : [],
  );
  const offGrid = configurations.filter(({ hasGrid }) => !hasGrid);
  const sunless = configurations.filter(({ described }) => described?.arrays?.length === 0);
  return mergeSources(logs, system.timeZone, offGrid, new Map(leads), sunless);
}

/**
 * Goes through the samples of a log.
 * @param origin state of the trace of an earlier log, where this one goes on from it
 */
export function scanSamples(
  log: Log,
  configurations: readonly Configuration[],
  origin?: StoredShareState,
): Samples {
  const columns = busColumns(log, configurations, origin);
  return { columns, ...scanAll({ log, columns, configurations }) };
}

/** Last digit of the battery's counters, Wh; 0 for a power. */
function batteryDigitWh({ channels }: Log): number {
  return busChannel(channels, 'battery')?.counter?.digitWh ?? 0;
}

/** Draws from merged logs and their samples what holds for the whole of them. */
export function concluded(given: HomeInputs, merged: Merged, samples: Samples): Prepared {
  const { log, read, merging, comparisons } = merged;
  const floorW = meterFloor(log);
  const asleep = asleepWhenEmpty(samples.windows);
  const steps = idleSteps(samples.windows, asleep);
  const digitWh = batteryDigitWh(log);
  const { configurations, journal, trials } = given;
  const { interruptions, seenShare } = interruptionsOf(log, samples.columns, configurations);
  const tests = [...testsOf(journal), ...trials.filter(({ isOffGrid }) => isOffGrid)];
  const told = withJournal(log, samples.columns, configurations, journal, tests, interruptions);
  return {
    ...merged,
    ...samples,
    ...given,
    floorW,
    steps,
    asleep,
    outages: outageLedger(log, samples.columns, told.interruptions),
    outagesSeenShare: seenShare,
    estimates: withTrials(
      estimatesOf(
        samples.capacity.segments,
        idleStretches(samples.windows, steps, asleep, digitWh),
        [...testsOf(journal), ...trials.filter(({ kind }) => kind === 'drawdown')],
        digitWh,
      ),
      trials,
      configurations,
    ),
    findings: [
      ...read,
      ...merging,
      // What a file shows by itself is not told of all of them once more.
      ...checkLog(log, configurations, given.system).filter(
        ({ code, source }) => source !== null || !merging.some((one) => one.code === code && one.proposal),
      ),
      ...floorFinding(log, floorW),
      ...comparisonFindings(comparisons),
      ...told.findings,
    ],
  };
}

/** Ranges that are kept: the one that is looked at, and those that its views ask for beside it. */
const KEPT_RANGES = 4;

/** What was made of the ranges asked for last: the views of one range share it, and all that was worked out from it. */
const lastRanges = new WeakMap<Prepared, readonly RangeData[]>();

/** What the books read of a range. */
export function rangeDataOf(prepared: Prepared, range: Range): RangeData {
  const kept = lastRanges.get(prepared) ?? [];
  const known = kept.find(({ range: { fromMs, toMs } }) => fromMs === range.fromMs && toMs === range.toMs);
  const data = known ?? madeOf(prepared, range);
  lastRanges.set(prepared, [data, ...kept.filter((one) => one !== known)].slice(0, KEPT_RANGES));
  return data;
}

function madeOf(prepared: Prepared, range: Range): RangeData {
  const { log, configurations, system } = prepared;
  const own = <K extends keyof Kept>(name: K) => sliced(name, prepared, range);
  const entries = own('entries');
  const windows = own('windows');
  // What a warranty or a trend counts goes back to the beginning of the log.
  const untilEnd = { fromMs: -Infinity, toMs: range.toMs };
  const parts = partsWithin(prepared.entries, entries);
  const total = noSums();
  for (const { sums } of parts) addSums(total, sums);
  const gridFreeWh = gridFreeWhOf(system);
  const batterySide = log.channels.has('battery') || !log.channels.has('batteryDc') ? 'ac' : 'dc';
  return {
    range,
    log,
    configurations,
    accuracy: accuracyOf(system.accuracy, batterySide),
    bases: degreeBases(system),
    batterySide,
    gridFreeWh,
    days: dailySums(entries, log.lumps, gridFreeWh),
    total,
    parts:
      parts.length > 0
        ? parts
        : [{ configuration: configurationAt(configurations, range.fromMs), sums: noSums() }],
    lumps: within(log.lumps, range),
    lumpsAcross: log.lumps.filter(
      ({ fromMs, toMs }) =>
        fromMs < range.toMs && toMs > range.fromMs && (fromMs < range.fromMs || toMs > range.toMs),
    ),
    lumpsBefore: within(log.lumps, untilEnd),
    turningPoints: turningPointsIn(prepared.turningPoints, range, total.socFirst, total.socLast),
    turningPointsBefore: happening(prepared.turningPoints, untilEnd),
    stress: stressWithin(prepared.entries, entries),
    history: within(prepared.entries, untilEnd),
    steps: prepared.steps.filter(({ atMs }) => atMs > range.fromMs && atMs < range.toMs),
    stretches: idleStretches(windows, prepared.steps, prepared.asleep, batteryDigitWh(log)),
    windows,
    nights: own('nights'),
    rests: own('rests'),
    gaps: own('gaps'),
    tare: own('tare'),
    floorW: prepared.floorW,
    estimates: happening(prepared.estimates, untilEnd),
    trials: prepared.trials.filter(({ toMs }) => toMs <= range.toMs),
    outages: prepared.outages.filter(({ fromMs }) => fromMs >= range.fromMs && fromMs < range.toMs),
    outagesSeenShare: prepared.outagesSeenShare,
    resets: happening(prepared.capacity.resets, untilEnd),
    cutOffs: happening(prepared.cutOffs, untilEnd),
  };
}
