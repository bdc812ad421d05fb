import { dailySums } from './dailySums.js';
import type { Finding, Gap } from '../model/finding.js';
import { checkLog } from '../check/checkLog.js';
import { implausibleSources } from '../check/plausibility.js';
import { compareSources, comparisonFindings, type Comparison } from '../check/compareSources.js';
import type { Correction } from '../model/correction.js';
import { corrected } from '../check/applyCorrections.js';
import { findGaps } from '../check/gaps.js';
import { floorFinding, meterFloor } from '../check/meterFloor.js';
import { estimatesOf, type Estimate } from './capacityEstimates.js';
import { cutOffsOf, type CutOff } from './cutOffs.js';
import { busColumns, type BusColumns } from './busColumns.js';
import { dayEntries, type Entry } from './dayEntries.js';
import type { Log, SourceLog } from '../model/log.js';
import type { Range } from '../model/range.js';
import { discharges, nightlyDischarges, type Discharge } from './depthOfDischarge.js';
import type { StoredShareState } from './storedSolarShare.js';
import { addSums, noSums } from './sums.js';
import { segmentsOf, type Reset, type Segment } from './capacitySegments.js';
import { restsOf, type Rest } from './rests.js';
import { addStress, noStress } from './stressHistogram.js';
import { tarePoints, type TarePoints } from './tare.js';
import { turningPointsIn, turningPointsOf, type TurningPoint } from './turningPoints.js';
import { fullWindows, type FullWindow } from './fullWindows.js';
import { idleSteps, idleStretches, type IdleStep } from './idleFit.js';
import { mergeSources } from '../import/merge/mergeSources.js';
import { interruptionsOf } from './interruptions.js';
import { testsOf, withJournal } from './journalOutages.js';
import { outageLedger, type Outage } from './outages.js';
import {
  accuracyOf,
  configurationAt,
  configurationsOf,
  type Configuration,
} from '../system/configuration.js';
import { leftOut, type JournalNote } from '../system/journal.js';
import type { System } from '../system/schema.js';
import { partsOf, type RangeData } from './rangeData.js';

/** What going through the samples of a log leaves behind. */
export interface Samples {
  readonly columns: BusColumns;
  readonly entries: readonly Entry[];
  readonly windows: readonly FullWindow[];
  readonly nights: readonly Discharge[];
  readonly discharges: readonly Discharge[];
  readonly turns: readonly TurningPoint[];
  readonly segments: readonly Segment[];
  readonly resets: readonly Reset[];
  readonly cutOffs: readonly CutOff[];
  readonly gaps: readonly Gap[];
  readonly rests: readonly Rest[];
  readonly tare: TarePoints | null;
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
  /** As they were read, before corrections. */
  readonly sources: readonly SourceLog[];
  readonly configurations: readonly Configuration[];
  readonly findings: readonly Finding[];
  /** Changes of the idle draw that no configuration explains. */
  readonly steps: readonly IdleStep[];
  /** Power below which the battery's meter reads zero, W. */
  readonly floorW: number;
  /** Of the capacity, of the whole log. */
  readonly estimates: readonly Estimate[];
  readonly outages: readonly Outage[];
}

/** What a home is prepared from. */
export type HomeInputs = Pick<Prepared, 'system' | 'sources' | 'corrections' | 'journal' | 'configurations'>;

/**
 * Lays the corrections over a home's logs, merges and checks them, and goes through the samples: day sums, full-to-full
 * windows, discharges, gaps.
 * @param journal tells planned runs from outages and drawdown trials from discharges, and what to leave out
 */
export function prepare(
  system: System,
  sources: readonly SourceLog[],
  corrections: readonly Correction[] = [],
  journal: readonly JournalNote[] = [],
): Prepared {
  const given = { system, sources, corrections, journal, configurations: configurationsOf(system) };
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

/** A home's logs with its corrections laid over them, and what its journal leaves out. */
export function correctedSources({ sources, corrections, journal }: HomeInputs): SourceLog[] {
  const layers = [...corrections, ...leftOut(journal)];
  return sources.map((source) => corrected(source, layers));
}

/** Lays corrected logs of a home together. */
export function merge({ system, corrections, configurations }: HomeInputs, logs: readonly SourceLog[]) {
  const leads = corrections.flatMap((one) =>
    one.kind === 'lead' ? [[one.quantity, one.source] as const] : [],
  );
  const offGrid = configurations.filter(({ hasGrid }) => !hasGrid);
  return mergeSources(logs, system.timeZone, offGrid, new Map(leads));
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
  return {
    columns,
    entries: dayEntries(log, columns, configurations),
    windows: fullWindows(log, configurations),
    nights: nightlyDischarges(log, configurations),
    discharges: discharges(log, configurations),
    turns: turningPointsOf(log, configurations),
    ...segmentsOf(log, configurations),
    cutOffs: cutOffsOf(log, configurations),
    gaps: findGaps(log),
    rests: restsOf(log, configurations),
    tare: tarePoints(log),
  };
}

/** Draws from merged logs and their samples what holds for the whole of them. */
export function concluded(given: HomeInputs, merged: Merged, samples: Samples): Prepared {
  const { log, read, merging, comparisons } = merged;
  const floorW = meterFloor(log);
  const steps = idleSteps(samples.windows);
  const { configurations, journal } = given;
  const interruptions = interruptionsOf(log, samples.columns, configurations);
  const told = withJournal(log, samples.columns, configurations, journal, interruptions);
  return {
    ...merged,
    ...samples,
    ...given,
    floorW,
    steps,
    outages: outageLedger(log, samples.columns, told.interruptions),
    estimates: estimatesOf(samples.segments, idleStretches(samples.windows, steps), testsOf(journal)),
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

/** What the books read of a range. Days that the range cuts are added up again; all others are taken as they are. */
export function rangeDataOf(prepared: Prepared, range: Range): RangeData {
  const { log, configurations, system } = prepared;
  const entries = prepared.entries
    .filter(({ fromMs, toMs }) => fromMs < range.toMs && toMs > range.fromMs)
    .flatMap((entry) => {
      const fromMs = Math.max(entry.fromMs, range.fromMs);
      const toMs = Math.min(entry.toMs, range.toMs);
      const whole = fromMs === entry.fromMs && toMs === entry.toMs;
      return whole ? [entry] : dayEntries(log, prepared.columns, [entry.configuration], { fromMs, toMs });
    });
  const parts = partsOf(entries);
  const total = noSums();
  for (const { sums } of parts) addSums(total, sums);
  const strain = noStress();
  for (const entry of entries) addStress(strain, entry.strain);
  const batterySide = log.channels.has('battery') || !log.channels.has('batteryDc') ? 'ac' : 'dc';
  const windows = prepared.windows.filter(({ fromMs, toMs }) => fromMs >= range.fromMs && toMs <= range.toMs);
  const begun = ({ fromMs }: Range) => fromMs >= range.fromMs && fromMs < range.toMs;
  const begins = ({ atMs }: Discharge) => atMs >= range.fromMs && atMs < range.toMs;
  return {
    range,
    log,
    configurations,
    accuracy: accuracyOf(system.accuracy, batterySide),
    batterySide,
    days: dailySums(entries, log.lumps),
    total,
    parts:
      parts.length > 0
        ? parts
        : [{ configuration: configurationAt(configurations, range.fromMs), sums: noSums() }],
    lumps: log.lumps.filter(({ fromMs, toMs }) => fromMs >= range.fromMs && toMs <= range.toMs),
    windows,
    turns: turningPointsIn(prepared.turns, range, total.socFirst, total.socLast),
    turningPointsBefore: prepared.turns.filter(({ atMs }) => atMs < range.toMs),
    strain,
    history: prepared.entries.filter(({ toMs }) => toMs <= range.toMs),
    steps: prepared.steps.filter(({ atMs }) => atMs > range.fromMs && atMs < range.toMs),
    stretches: idleStretches(windows, prepared.steps),
    rests: prepared.rests.filter(({ fromMs, toMs }) => fromMs >= range.fromMs && toMs <= range.toMs),
    tare: prepared.tare,
    floorW: prepared.floorW,
    estimates: prepared.estimates.filter(({ atMs }) => atMs < range.toMs),
    outages: prepared.outages.filter(begun),
    resets: prepared.resets.filter(({ atMs }) => atMs < range.toMs),
    cutOffs: prepared.cutOffs.filter(({ atMs }) => atMs < range.toMs),
    nights: prepared.nights.filter(begins),
    discharges: prepared.discharges.filter(begins),
  };
}
