import type { At, HomeWorker, Overview, Checks, SavedBook, TrialAnswer, OrProblem } from '../protocol.js';
import {
  canonicalCsv,
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
  reconcile,
  report,
  reserveAdvice,
  rollOf,
  stripsOf,
  trialOf,
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
  type PowerSeries,
  type OpenedOutage,
  type Scenario,
  type Prepared,
  type Range,
  type Reckoning,
  type ReserveAdvice,
  type TrialFile,
  type TrialStretch,
  type TypicalRuntime,
} from '@long-tally/core';
import { expose } from 'comlink';
import { strToU8, zipSync } from 'fflate';
import { badSources } from '../db/sources.js';
import { openAt, openHome } from './openHome.js';
import { bookOfHome } from './saveBook.js';

/** Numbers of inverters with which combinations are tried. */
const UNITS_TRIED = [1, 2, 3];

/** What is answered of the days of a range, both included; null where the log has nothing of them. */
async function inRange<T>(
  at: At,
  from: string,
  to: string,
  answer: (prepared: Prepared, range: Range) => T,
): Promise<T | null> {
  const { prepared } = await openAt(at);
  const range = prepared && rangeOfDates(prepared.log, from, to);
  return range ? answer(prepared, range) : null;
}

/** An answer, or in words why there is none. */
function orProblem<T>(answer: () => T): OrProblem<T> {
  try {
    return answer();
  } catch (error) {
    if (!(error instanceof InputError)) throw error;
    return { problem: error.problems.map(({ found, mend }) => `${found} ${mend}`).join(' ') };
  }
}

/** What is answered of the days of a range, or in words why nothing is. */
async function orProblemInRange<T>(
  at: At,
  from: string,
  to: string,
  answer: (prepared: Prepared, range: Range) => T,
): Promise<OrProblem<T>> {
  const answered = await inRange(at, from, to, (...home) => orProblem(() => answer(...home)));
  return answered ?? { problem: 'The log has nothing of this range.' };
}

/** The model of the range that was asked for last: readying it takes as long as several scenarios. */
let held: { readonly of: string; readonly runner: ScenarioRunner } | null = null;

async function runnerOf(at: At, from: string, to: string): Promise<OrProblem<{ runner: ScenarioRunner }>> {
  const of = `${at.homeId} ${at.revision} ${from} ${to}`;
  return orProblemInRange(at, from, to, (...home) => {
    if (held?.of !== of) held = { of, runner: scenarioRunner(...home, report(...home).figures) };
    return held;
  });
}

const homeWorker: HomeWorker = {
  async overview(homeId: string): Promise<Overview> {
    const { home, prepared } = await openHome(homeId);
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

  report: (at, from, to) => inRange(at, from, to, (prepared, range) => report(prepared, range, 'days')),

  losses: (at, from, to) => inRange(at, from, to, lossesView),

  wear: (at, from, to) => inRange(at, from, to, wearView),

  outages: (at, from, to) => inRange(at, from, to, outagesView),

  money: (at, from, to) => inRange(at, from, to, moneyView),

  async parts(at, from, to) {
    const { readings } = await openAt(at);
    const parts = await inRange(at, from, to, (prepared, range) => partsView(prepared, range, readings));
    return parts ?? [];
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
    const starts = await inRange(at, from, to, outageStarts);
    return starts && typicalRuntime(starts, option, month, hour);
  },

  /** The least charge from which the whole home lasts so many hours in such a share of the starts. */
  async reserve(
    at: At,
    from: string,
    to: string,
    hours: number,
    chance: number,
  ): Promise<ReserveAdvice | null> {
    const starts = await inRange(at, from, to, outageStarts);
    return starts && reserveAdvice(starts, WHOLE_HOME, hours, chance);
  },

  async lendStarts(at, from, to, ports): Promise<boolean> {
    const starts = await inRange(at, from, to, outageStarts);
    for (const port of ports) port.postMessage(starts);
    return starts !== null;
  },

  /** Cycles, capacity estimates and the working of the wear's figures as tables in one zip. */
  async wearEvidence(at: At, from: string, to: string): Promise<Blob | null> {
    const tables = await inRange(at, from, to, wearEvidence);
    if (!tables) return null;
    const files = Object.entries(tables);
    const zip = zipSync(Object.fromEntries(files.map(([name, text]) => [name, strToU8(text)])));
    return new Blob([zip], { type: 'application/zip' });
  },

  /** @param stated share of self-sufficiency that somebody else states */
  async reconciliation(at: At, from: string, to: string, stated: number): Promise<readonly Reckoning[]> {
    return (await inRange(at, from, to, (prepared, range) => reconcile(prepared, range, stated))) ?? [];
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
    return orProblemInRange(at, from, to, (...home) => ({ plan: stormPlan(...home, moment) }));
  },

  async settings(at, from, to, hours, chance) {
    return orProblemInRange(at, from, to, (...home) => ({ settings: bestSettings(...home, hours, chance) }));
  },

  async headlines(homeId) {
    const { prepared } = await openHome(homeId);
    if (!prepared) return null;
    const range = { fromMs: prepared.log.startMs, toMs: endMs(prepared.log) };
    return { ...range, figures: report(prepared, range).figures };
  },

  statement: (at, from, to) => inRange(at, from, to, statementOf),

  async surplus(at, from, to) {
    return orProblemInRange(at, from, to, (...home) => ({ surplus: surplusOf(...home) }));
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
    return readStatedBill(stated, await inRange(at, from, to, knownBill));
  },

  async offers(at, from, to, offers) {
    const use = await inRange(at, from, to, (...home) => batteryUse(rangeDataOf(...home)));
    return use && { use, outcomes: compareOffers(offers, use) };
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
    const { home, prepared } = await openHome(homeId);
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
