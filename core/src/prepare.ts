import { dailySums } from './ledger/dailySums.js';
import type { Finding, Gap } from './check/finding.js';
import { checkLog } from './check/checkLog.js';
import { compareSources, comparisonFindings, type Comparison } from './check/compareSources.js';
import { corrected, type Correction } from './check/correction.js';
import { findGaps } from './check/gaps.js';
import { floorFinding, meterFloor } from './check/meterFloor.js';
import { ledgerColumns, type LedgerColumns } from './ledger/columns.js';
import { keepLedger, type Entry } from './ledger/ledger.js';
import type { Log, Range, SourceLog } from './series/log.js';
import { discharges, nightDepths, type Discharge } from './ledger/nights.js';
import { addSums, noSums } from './ledger/sums.js';
import { restsOf, type Rest } from './ledger/rests.js';
import { tarePoints, type TarePoints } from './ledger/tare.js';
import { fullWindows, type FullWindow } from './ledger/windows.js';
import { idleSteps, idleStretches, type IdleStep } from './losses/windowFit.js';
import { mergeSources } from './merge/mergeSources.js';
import { accuracyOf, configurationAt, configurationsOf, type Configuration } from './system/configuration.js';
import type { System } from './system/schema.js';
import { partsOf, type View } from './view.js';

/** A home whose samples have been gone through once; any range of days is then a matter of adding up. */
export interface Prepared {
  readonly system: System;
  readonly configurations: readonly Configuration[];
  readonly log: Log;
  readonly findings: readonly Finding[];
  /** How the sources that give the same go together. */
  readonly comparisons: readonly Comparison[];
  readonly columns: LedgerColumns;
  readonly entries: readonly Entry[];
  readonly windows: readonly FullWindow[];
  readonly nights: readonly Discharge[];
  readonly discharges: readonly Discharge[];
  readonly gaps: readonly Gap[];
  /** Changes of the idle draw that no configuration explains. */
  readonly steps: readonly IdleStep[];
  readonly rests: readonly Rest[];
  readonly tare: TarePoints | null;
  /** Power below which the battery's meter reads zero, W. */
  readonly floorW: number;
}

/**
 * Lays the corrections over a home's logs, merges and checks them, and goes through the samples: day sums, full-to-full
 * windows, discharges, gaps.
 * @param before what was prepared of this home earlier: days that have not changed are not added up again
 */
export function prepare(
  system: System,
  logs: readonly SourceLog[],
  corrections: readonly Correction[] = [],
  before?: Prepared,
): Prepared {
  const configurations = configurationsOf(system);
  const sources = logs.map((source) => corrected(source, corrections));
  const leads = corrections.flatMap((one) =>
    one.kind === 'lead' ? [[one.quantity, one.source] as const] : [],
  );
  const { log, findings } = mergeSources(
    sources,
    system.timeZone,
    configurations.filter(({ described }) => described?.grid === 'none'),
    new Map(leads),
  );
  const comparisons = compareSources(sources, log);
  const columns = ledgerColumns(log, configurations);
  const windows = fullWindows(log, configurations);
  const floorW = meterFloor(log);
  return {
    system,
    configurations,
    log,
    findings: [
      ...findings,
      ...checkLog(log, configurations, system),
      ...floorFinding(log, floorW),
      ...comparisonFindings(comparisons),
    ],
    comparisons,
    columns,
    entries: keepLedger(
      log,
      columns,
      configurations,
      undefined,
      JSON.stringify(before?.system) === JSON.stringify(system) ? before : undefined,
    ),
    windows,
    steps: idleSteps(windows),
    rests: restsOf(log, configurations),
    tare: tarePoints(log),
    floorW,
    nights: nightDepths(log, configurations),
    discharges: discharges(log, configurations),
    gaps: findGaps(log),
  };
}

/** What the books read of a range. Days that the range cuts are added up again; all others are taken as they are. */
export function viewOf(prepared: Prepared, range: Range): View {
  const { log, configurations, system } = prepared;
  const entries = prepared.entries
    .filter(({ fromMs, toMs }) => fromMs < range.toMs && toMs > range.fromMs)
    .flatMap((entry) => {
      const fromMs = Math.max(entry.fromMs, range.fromMs);
      const toMs = Math.min(entry.toMs, range.toMs);
      const whole = fromMs === entry.fromMs && toMs === entry.toMs;
      return whole ? [entry] : keepLedger(log, prepared.columns, [entry.configuration], { fromMs, toMs });
    });
  const parts = partsOf(entries);
  const total = noSums();
  for (const { sums } of parts) addSums(total, sums);
  const batterySide = log.channels.has('battery') || !log.channels.has('batteryDc') ? 'ac' : 'dc';
  const windows = prepared.windows.filter(({ fromMs, toMs }) => fromMs >= range.fromMs && toMs <= range.toMs);
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
    steps: prepared.steps.filter(({ atMs }) => atMs > range.fromMs && atMs < range.toMs),
    stretches: idleStretches(windows, prepared.steps),
    rests: prepared.rests.filter(({ fromMs, toMs }) => fromMs >= range.fromMs && toMs <= range.toMs),
    tare: prepared.tare,
    floorW: prepared.floorW,
    nights: prepared.nights.filter(begins),
    discharges: prepared.discharges.filter(begins),
  };
}
