import { homeStorage, runsOn, type RunsOn } from '../books/shared/homeStorage.js';
import type { Figure } from '../model/figure.js';
import { endMs } from '../model/log.js';
import type { Range } from '../model/range.js';
import type { TrialRecord } from '../model/trialRecord.js';
import { rangeDataOf, type Prepared } from '../passes/prepare.js';
import type { Correction } from '../model/correction.js';
import { report } from '../report/report.js';
import type { Report } from '../report/reportFormat.js';
import type { MeterAccuracy } from '../system/configuration.js';
import type { JournalNote } from '../system/journal.js';
import { dayNumberAt, dayOf } from '../time/days.js';
import { zoneOf } from '../time/zone.js';

/** What a statement tells, part by part, in the order in which it is told. */
export const STATEMENT_PARTS = [
  {
    id: 'account',
    title: 'Energy',
    keys: ['solar', 'load', 'import', 'export', 'charge', 'discharge', 'losses', 'closingShare'].map(
      (key) => `account.${key}`,
    ),
  },
  {
    id: 'schools',
    title: 'Self-sufficiency',
    keys: [
      'account.selfSufficiency.grid',
      'account.selfSufficiency.supply',
      'account.selfSufficiency.solar',
      'account.selfConsumption',
      'account.gridFreeDays',
    ],
  },
  {
    id: 'losses',
    title: 'Losses',
    keys: ['losses.roundTrip.fullToFull', 'losses.mean', 'losses.idle.battery', 'losses.idle.inverter'],
  },
  {
    id: 'battery',
    title: 'Battery',
    keys: [
      'wear.efc.nameplate',
      'wear.depth.mean',
      'capacity.now',
      'capacity.stateOfHealth',
      'capacity.fadePerYear',
      'warranty.first',
    ],
  },
  {
    id: 'outages',
    title: 'Outages',
    keys: [
      'outage.count',
      'outage.hours',
      'outage.carriedShare',
      'outage.survive.12h',
      'outage.survive.24h',
      'outage.runtime.now',
    ],
  },
  {
    id: 'money',
    title: 'Money',
    keys: ['money.bill', 'money.standing', 'money.saving', 'money.batterySavingPerYear', 'money.payback'],
  },
] as const;

export type StatementPart = (typeof STATEMENT_PARTS)[number]['id'];

/** A range told beside the same days of the year before and the year to date. */
export interface Statement {
  readonly range: Range;
  readonly now: Readonly<Record<string, Figure>>;
  /** Null where the log does not reach back so far. */
  readonly yearBefore: (Range & { readonly figures: Readonly<Record<string, Figure>> }) | null;
  /** From the first of January, or the beginning of the log; null where the range is that itself. */
  readonly toDate: (Range & { readonly figures: Readonly<Record<string, Figure>> }) | null;
  readonly findings: Report['findings'];
  readonly outages: Report['outages'];
  /** What a runtime is reckoned from; null without a described battery. */
  readonly runsOn: RunsOn | null;
  /** Estimates of the capacity, oldest first. */
  readonly capacity: Report['capacity'];
  readonly coverage: Report['coverage']['share'];
  readonly accuracy: MeterAccuracy;
  readonly configurations: readonly { readonly name: string; readonly fromMs: number }[];
  readonly corrections: readonly Correction[];
  readonly trials: readonly TrialRecord[];
  readonly journal: readonly JournalNote[];
}

/** Findings that a statement leads with. */
const MOST_FINDINGS = 6;

/** The statement of a range: all its figures, beside the same days a year before and the year so far. */
export function statementOf(prepared: Prepared, range: Range): Statement {
  const { log, journal } = prepared;
  const whole = report(prepared, range);
  const data = rangeDataOf(prepared, range);
  const storage = homeStorage(data);
  const zone = zoneOf(log.zone);
  const dayBefore = (ms: number) => {
    const date = new Date(dayNumberAt(zone, ms) * 86_400_000);
    const before = Date.UTC(date.getUTCFullYear() - 1, date.getUTCMonth(), date.getUTCDate());
    return dayOf(zone, before / 86_400_000).fromMs;
  };
  const before = { fromMs: dayBefore(range.fromMs), toMs: dayBefore(range.toMs) };
  const lastDay = new Date(dayNumberAt(zone, range.toMs - 1) * 86_400_000);
  const january = dayOf(zone, Date.UTC(lastDay.getUTCFullYear(), 0, 1) / 86_400_000).fromMs;
  const year = { fromMs: Math.max(log.startMs, january), toMs: range.toMs };
  const within = (one: Range) => one.fromMs >= log.startMs && one.toMs <= endMs(log) && one.toMs > one.fromMs;
  const figuresOf = (one: Range) => ({ ...one, figures: report(prepared, one).figures });
  return {
    range,
    now: whole.figures,
    yearBefore: within(before) ? figuresOf(before) : null,
    toDate: year.fromMs === range.fromMs ? null : figuresOf(year),
    findings: whole.findings.slice(0, MOST_FINDINGS),
    outages: whole.outages,
    runsOn: storage && runsOn(storage),
    capacity: whole.capacity,
    coverage: whole.coverage.share,
    accuracy: data.accuracy,
    configurations: data.configurations
      .filter(({ fromMs, toMs }) => fromMs < range.toMs && toMs > range.fromMs)
      .map(({ name, fromMs }) => ({ name, fromMs: Math.max(fromMs, range.fromMs) })),
    corrections: prepared.corrections,
    trials: data.trials.filter(({ fromMs, toMs }) => fromMs < range.toMs && toMs > range.fromMs),
    journal: journal.filter(({ fromMs, toMs }) => fromMs < range.toMs && toMs > range.fromMs),
  };
}
