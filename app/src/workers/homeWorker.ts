import type { At, HomeWorker, Overview, Checks, SavedBook, TrialAnswer, OrProblem } from '../protocol.js';
import {
  canonicalCsv,
  countingTrials,
  coverageOfSource,
  powerSeries,
  dayNumberOfDate,
  dayOf,
  endMs,
  evaluateTrial,
  InputError,
  lossesView,
  moneyView,
  noteOfTrial,
  notesOfDay,
  openedOutage,
  openedStop,
  partsView,
  outagesView,
  outageStarts,
  prepare,
  extendPrepared,
  reconcile,
  report,
  reserveAdvice,
  readingsLog,
  rollOf,
  stripsOf,
  trialOf,
  trialRecords,
  trialStretches,
  batteryUse,
  bestSettings,
  statementOf,
  surplusOf,
  combinationsOf,
  compareOffers,
  knownBill,
  rangeDataOf,
  readStatedBill,
  trialWorth,
  totalsCsv,
  wearView,
  typicalRuntime,
  wearEvidence,
  scenarioRunner,
  type ScenarioRunner,
  stormPlan,
  WHOLE_HOME,
  rangeOfDates,
  sunTimes,
  zoneOf,
  type Coverage,
  type PowerSeries,
  type OpenedOutage,
  type Scenario,
  type Prepared,
  type Reading,
  type Reckoning,
  type ReserveAdvice,
  type SourceLog,
  type TrialFile,
  type TrialStretch,
  type TypicalRuntime,
} from '@long-tally/core';
import { expose } from 'comlink';
import { strToU8, zipSync } from 'fflate';
import { db, type Home } from '../db/database.js';
import { correctionsOf } from '../db/corrections.js';
import { homeOf } from '../db/homes.js';
import { checkedRows, noteRow, readingRow, trialRow } from '../db/rows.js';
import { badSources, loadSources } from '../db/sources.js';
import { bookOfHome } from './saveBook.js';

interface Opened {
  readonly home: Home;
  readonly stored: ReadonlyMap<number, SourceLog>;
  readonly prepared: Prepared | null;
  readonly readings: readonly Reading[];
  readonly coverage: readonly Coverage[];
}

/** Numbers of inverters with which combinations are tried. */
const UNITS_TRIED = [1, 2, 3];

let opened: Opened | null = null;
let opening: Promise<Opened> | null = null;

/** The prepared home as it is stored now, gone through again only when it has changed. */
async function open(homeId: string): Promise<Opened> {
  const home = await homeOf(homeId);
  if (opened?.home.id === homeId && opened.home.revision === home.revision) return opened;
  opening ??= (async () => {
    try {
      // What is known of this home stays known: a month added to ten years is not ten years again.
      const before = opened?.home.id === homeId ? opened : null;
      const [stored, corrections, noteRows, readingRows, trialRows] = await Promise.all([
        loadSources(homeId, before?.stored),
        correctionsOf(homeId),
        db.journal.where('homeId').equals(homeId).toArray(),
        db.readings.where('homeId').equals(homeId).toArray(),
        db.trials.where('homeId').equals(homeId).toArray(),
      ]);
      const trials = trialRecords(countingTrials(checkedRows(trialRow, trialRows).good), home.system);
      const journal = checkedRows(noteRow, noteRows).good;
      const readings = checkedRows(readingRow, readingRows).good;
      const byHand = readingsLog(readings);
      const logs = [...stored.values(), ...(byHand ? [byHand] : [])];
      const isSameZone = before?.home.system.timeZone === home.system.timeZone;
      const covered = new Map(
        isSameZone ? [...before.stored.values()].map((log, i) => [log, before.coverage[i]!]) : [],
      );
      const fresh = () =>
        before?.prepared
          ? extendPrepared(before.prepared, home.system, logs, corrections, journal, trials)
          : prepare(home.system, logs, corrections, journal, trials);
      opened = {
        home,
        stored,
        readings,
        prepared: logs.length > 0 ? fresh() : null,
        coverage: logs.map((log) => covered.get(log) ?? coverageOfSource(log, home.system.timeZone)),
      };
      return opened;
    } finally {
      opening = null;
    }
  })();
  await opening;
  return open(homeId);
}

/** The home of an overview that was given before: no look into the store, which would cost more than the figures. */
async function openAt({ homeId, revision }: At): Promise<Opened> {
  return opened?.home.id === homeId && opened.home.revision >= revision ? opened : open(homeId);
}

const NO_RANGE = 'The log has nothing of this range.';

/** An answer, or in words why there is none. */
function orProblem<T>(answer: () => T): OrProblem<T> {
  try {
    return answer();
  } catch (error) {
    if (!(error instanceof InputError)) throw error;
    return { problem: error.problems.map(({ found, mend }) => `${found} ${mend}`).join(' ') };
  }
}

/** The model of the range that was asked for last: readying it takes as long as several scenarios. */
let held: { readonly of: string; readonly runner: ScenarioRunner } | null = null;

async function runnerOf(at: At, from: string, to: string): Promise<OrProblem<{ runner: ScenarioRunner }>> {
  const { prepared } = await openAt(at);
  const range = prepared && rangeOfDates(prepared.log, from, to);
  if (!range) return { problem: NO_RANGE };
  const of = `${at.homeId} ${at.revision} ${from} ${to}`;
  if (held?.of !== of) held = null;
  return orProblem(
    () => (held ??= { of, runner: scenarioRunner(prepared, range, report(prepared, range).figures) }),
  );
}

const homeWorker: HomeWorker = {
  async overview(homeId: string): Promise<Overview> {
    const { home, prepared } = await open(homeId);
    if (!prepared) return { home, roll: null };
    const notes = [...prepared.journal, ...prepared.trials.map(noteOfTrial)];
    const days = rollOf(prepared).map((day) => {
      const own = notesOfDay(notes, day);
      return own.length > 0 ? { ...day, notes: [...own, ...day.notes] } : day;
    });
    const configurations = prepared.configurations
      .filter(({ fromMs }) => fromMs > prepared.log.startMs && fromMs < endMs(prepared.log))
      .map(({ name, fromMs }) => ({ name, fromMs }));
    return {
      home,
      roll: {
        days,
        strips: stripsOf(prepared.log, prepared.columns),
        sun: sunTimes(days, home.system),
        configurations,
      },
    };
  },

  async report(at, from, to) {
    const { prepared } = await openAt(at);
    const range = prepared && rangeOfDates(prepared.log, from, to);
    return range ? report(prepared, range, 'days') : null;
  },

  async losses(at, from, to) {
    const { prepared } = await openAt(at);
    const range = prepared && rangeOfDates(prepared.log, from, to);
    return range ? lossesView(prepared, range) : null;
  },

  async wear(at, from, to) {
    const { prepared } = await openAt(at);
    const range = prepared && rangeOfDates(prepared.log, from, to);
    return range ? wearView(prepared, range) : null;
  },

  async outages(at, from, to) {
    const { prepared } = await openAt(at);
    const range = prepared && rangeOfDates(prepared.log, from, to);
    return range ? outagesView(prepared, range) : null;
  },

  async money(at, from, to) {
    const { prepared } = await openAt(at);
    const range = prepared && rangeOfDates(prepared.log, from, to);
    return range ? moneyView(prepared, range) : null;
  },

  async parts(at, from, to) {
    const { prepared, readings } = await openAt(at);
    const range = prepared && rangeOfDates(prepared.log, from, to);
    return range ? partsView(prepared, range, readings) : [];
  },

  /** The outage that begins at an instant, opened. */
  async outage(at: At, fromMs: number): Promise<OpenedOutage | null> {
    const { prepared } = await openAt(at);
    return prepared ? openedOutage(prepared, fromMs) : null;
  },

  async stop(at, atMs) {
    const { prepared } = await openAt(at);
    return prepared ? openedStop(prepared, atMs) : null;
  },

  /** How long a charge lasts with the usual load of a month (0 for January) and hour; null where nothing tells. */
  async usual(
    at: At,
    from: string,
    to: string,
    option: Scenario,
    month: number,
    hour: number,
  ): Promise<TypicalRuntime | null> {
    const { prepared } = await openAt(at);
    const range = prepared && rangeOfDates(prepared.log, from, to);
    const starts = range && outageStarts(prepared, range);
    return starts ? typicalRuntime(starts, option, month, hour) : null;
  },

  /** The least charge from which the whole home lasts so many hours in such a share of the starts. */
  async reserve(
    at: At,
    from: string,
    to: string,
    hours: number,
    chance: number,
  ): Promise<ReserveAdvice | null> {
    const { prepared } = await openAt(at);
    const range = prepared && rangeOfDates(prepared.log, from, to);
    const starts = range && outageStarts(prepared, range);
    return starts ? reserveAdvice(starts, WHOLE_HOME, hours, chance) : null;
  },

  async lendStarts(at, from, to, ports): Promise<boolean> {
    const { prepared } = await openAt(at);
    const range = prepared && rangeOfDates(prepared.log, from, to);
    const starts = range && outageStarts(prepared, range);
    for (const port of ports) port.postMessage(starts);
    return starts !== null;
  },

  /** Cycles, capacity estimates and the working of the wear's figures as tables in one zip. */
  async wearEvidence(at: At, from: string, to: string): Promise<Blob | null> {
    const { prepared } = await openAt(at);
    const range = prepared && rangeOfDates(prepared.log, from, to);
    if (!range) return null;
    const files = Object.entries(wearEvidence(prepared, range));
    const zip = zipSync(Object.fromEntries(files.map(([name, text]) => [name, strToU8(text)])));
    return new Blob([zip], { type: 'application/zip' });
  },

  /** @param stated share of self-sufficiency that somebody else states */
  async reconciliation(at: At, from: string, to: string, stated: number): Promise<readonly Reckoning[]> {
    const { prepared } = await openAt(at);
    const range = prepared && rangeOfDates(prepared.log, from, to);
    return range ? reconcile(prepared, range, stated) : [];
  },

  async trialResults(at: At, files: readonly TrialFile[]): Promise<readonly TrialAnswer[]> {
    const { home, prepared } = await openAt(at);
    return files.map((file) => {
      return orProblem(() => ({
        result: evaluateTrial(trialOf(file), home.system, prepared, file.name ?? 'This trial'),
      }));
    });
  },

  async whatifBase(at, from, to, appliances) {
    const ready = await runnerOf(at, from, to);
    if ('problem' in ready) return ready;
    const { base, hasGrid, inverters } = ready.runner;
    return { base, hasGrid, inverters: inverters(appliances) };
  },

  async whatifScenario(at, from, to, scenario) {
    const ready = await runnerOf(at, from, to);
    return 'problem' in ready ? ready : orProblem(() => ({ scenario: ready.runner.scenario(scenario) }));
  },

  async whatifPoint(at, from, to, { at: values, change }) {
    const ready = await runnerOf(at, from, to);
    return 'problem' in ready
      ? ready
      : orProblem(() => ({ point: ready.runner.point(values, change, values.join(' and '), 'energies') }));
  },

  async storm(at, from, to, moment) {
    const { prepared } = await openAt(at);
    const range = prepared && rangeOfDates(prepared.log, from, to);
    return range ? orProblem(() => ({ plan: stormPlan(prepared, range, moment) })) : { problem: NO_RANGE };
  },

  async settings(at, from, to, hours, chance) {
    const { prepared } = await openAt(at);
    const range = prepared && rangeOfDates(prepared.log, from, to);
    return range
      ? orProblem(() => ({ settings: bestSettings(prepared, range, hours, chance) }))
      : { problem: NO_RANGE };
  },

  async headlines(homeId) {
    const { prepared } = await open(homeId);
    if (!prepared) return null;
    const range = { fromMs: prepared.log.startMs, toMs: endMs(prepared.log) };
    return { ...range, figures: report(prepared, range).figures };
  },

  async statement(at, from, to) {
    const { prepared } = await openAt(at);
    const range = prepared && rangeOfDates(prepared.log, from, to);
    return range ? statementOf(prepared, range) : null;
  },

  async surplus(at, from, to) {
    const { prepared } = await openAt(at);
    const range = prepared && rangeOfDates(prepared.log, from, to);
    return range ? orProblem(() => ({ surplus: surplusOf(prepared, range) })) : { problem: NO_RANGE };
  },

  async trialStretches(at: At): Promise<readonly TrialStretch[]> {
    const { prepared } = await openAt(at);
    return prepared
      ? trialStretches(prepared, { fromMs: prepared.log.startMs, toMs: endMs(prepared.log) })
      : [];
  },

  async combinations(system, appliances) {
    return Promise.resolve(combinationsOf(appliances, system, UNITS_TRIED));
  },

  async statedBill(at, from, to, stated) {
    const { prepared } = await openAt(at);
    const range = prepared && rangeOfDates(prepared.log, from, to);
    return readStatedBill(stated, range ? knownBill(prepared, range) : null);
  },

  async offers(at, from, to, offers) {
    const { prepared } = await openAt(at);
    const range = prepared && rangeOfDates(prepared.log, from, to);
    const use = range && batteryUse(rangeDataOf(prepared, range));
    return use ? { use, outcomes: compareOffers(offers, use) } : null;
  },

  async trialWorth(at) {
    const { home, prepared } = await openAt(at);
    const whole = prepared && { fromMs: prepared.log.startMs, toMs: endMs(prepared.log) };
    return trialWorth(home.system, whole ? report(prepared, whole).figures : {});
  },

  async checks(at: At): Promise<Checks> {
    const { prepared, coverage } = await openAt(at);
    const damaged = await badSources(at.homeId);
    return {
      coverage,
      findings: prepared?.findings ?? [],
      comparisons: prepared?.comparisons ?? [],
      damaged,
    };
  },

  /**
   * The home's log as a canonical log file, its corrections laid over it, and the energies without a course beside it;
   * null for what the home has not.
   */
  async exported(at: At): Promise<{ readonly log: Blob | null; readonly totals: Blob | null }> {
    const { prepared } = await openAt(at);
    const csv = (text: string[]) => new Blob(text, { type: 'text/csv' });
    const totals = prepared && totalsCsv(prepared);
    const hasCourse =
      prepared && [...prepared.log.channels.values()].some(({ origin }) => origin === 'logged');
    return {
      log: hasCourse ? csv([...canonicalCsv(prepared.log)]) : null,
      totals: totals ? csv([totals]) : null,
    };
  },

  /** Everything of a home as one file. */
  async book(homeId, settings): Promise<SavedBook> {
    const { home, prepared } = await open(homeId);
    return bookOfHome(home, prepared, settings);
  },

  ready: () => true,

  async day(at: At, date: string): Promise<PowerSeries | null> {
    const { prepared } = await openAt(at);
    const number = dayNumberOfDate(date);
    if (!prepared || Number.isNaN(number)) return null;
    const day = dayOf(zoneOf(prepared.log.zone), number);
    return day.toMs <= prepared.log.startMs || day.fromMs >= endMs(prepared.log)
      ? null
      : powerSeries(prepared, day);
  },
};

expose(homeWorker);
