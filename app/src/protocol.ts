import type {
  BestSettings,
  Statement,
  Surplus,
  Comparison,
  Coverage,
  Figure,
  Finding,
  LossesView,
  MoneyView,
  Mapping,
  OpenedOutage,
  OpenedStop,
  OutagesView,
  PartView,
  PowerSeries,
  PricePreview,
  Quantity,
  RangeReport,
  Reckoning,
  Recognition,
  ReserveAdvice,
  RollDay,
  Scenario,
  ScenarioFile,
  ScenarioOutcome,
  Strips,
  TrialFile,
  TrialResult,
  TrialStretch,
  TrialWorth,
  TypicalRuntime,
  WearView,
  WhatifBase,
  WhatifScenario,
  InverterCounts,
  StormPlan,
  Settings,
  SweepPoint,
  Appliance,
  CombinationsOfUnits,
  System,
  Offer,
  OfferOutcome,
  BatteryUse,
  StatedBill,
  StatedBillReading,
} from '@long-tally/core';
import type { Home } from './db/database.js';
import type { Reasoned } from './db/sources.js';

// What the interface and its workers say to each other. Plain data only: it is copied on its way.

/** A home as an overview showed it. */
export interface At {
  readonly homeId: string;
  readonly revision: number;
}

/** Everything the roll and the ribbon show of a home. Null when nothing is imported yet. */
export interface Overview {
  readonly home: Home;
  readonly roll: Roll | null;
}

export interface Roll {
  readonly days: readonly RollDay[];
  readonly strips: Strips;
  /** Sunrise and sunset as shares of each day, two for each; NaN where the place is not described. */
  readonly sun: Float32Array;
  readonly configurations: readonly { readonly name: string; readonly fromMs: number }[];
}

/** What the Sources view shows of a home's logs beside the list of them. */
export interface Checks {
  readonly coverage: readonly Coverage[];
  readonly findings: readonly Finding[];
  readonly comparisons: readonly Comparison[];
  /** Sources whose stored rows are damaged and count in no figure; their files can still be saved. */
  readonly damaged: readonly string[];
}

/** A text found in the chosen files, and how it would be read. */
export interface Found {
  readonly id: number;
  readonly name: string;
  /** Files of one shape are read alike. */
  readonly shape: string;
  /** Null for a canonical log, which needs no mapping. */
  readonly mapping: Mapping | null;
  readonly recognition: Recognition;
  /** True when the mapping was used before for a file of this shape. */
  readonly isRemembered: boolean;
}

/** A file that cannot be used, or need not be; a book is opened at the start page. */
export interface SetAside {
  readonly name: string;
  readonly kind: 'refused' | 'known' | 'put-back' | 'left-out';
  readonly problems: readonly string[];
}

/** What was read of a text and would be imported. */
export interface ReadSummary {
  readonly id: number;
  readonly name: string;
  readonly rows: number;
  readonly startMs: number;
  readonly endMs: number;
  readonly stepMs: number;
  readonly quantities: readonly { readonly quantity: Quantity; readonly share: number }[];
  /** Energies known without their course, how many. */
  readonly lumps: number;
  /** What a list of prices holds; empty where there is none. */
  readonly prices: readonly PricePreview[];
  readonly overlaps: readonly string[];
  readonly findings: readonly Finding[];
  /** What looks wrong in it, with what would mend it: a unit, a sign, a clock. */
  readonly checks: readonly Finding[];
}

export interface ImportProgress {
  readonly name: string;
  readonly share: number;
  readonly stage: 'looking' | 'reading' | 'storing';
}

/** A home as one file, and the files of it that could not be put in. */
export interface SavedBook {
  readonly name: string;
  readonly blob: Blob;
  readonly without: readonly string[];
}

/** A book in a file: what it is of, and whether that home is here already. */
export interface FoundBook {
  readonly name: string;
  readonly homeName: string;
  /** What it holds, to be said before it is opened. */
  readonly holds: {
    readonly logs: number;
    readonly notes: number;
    readonly readings: number;
    readonly trials: number;
  };
  /** The home of this browser that it would replace; null when it is not here. */
  readonly replaces: { readonly id: string; readonly name: string } | null;
  /** What of it is damaged, in words; empty when it is whole. */
  readonly lost: readonly string[];
}

export interface Restored {
  /** The home it is now; null when nothing was stored. */
  readonly homeId: string | null;
  /** How the book’s reader wanted things shown; null where it says nothing. */
  readonly settings: Settings | null;
  /** What was wrong, or could not be read of it. */
  readonly problems: readonly string[];
}

/** An answer of the model of a range, or why it cannot be told. */
export type OrProblem<T> = T | { readonly problem: string };

/** The home of a range as it is, modelled, and inverters against its load. */
export interface WhatifBaseAnswer {
  readonly base: WhatifBase;
  readonly hasGrid: boolean;
  readonly inverters: InverterCounts | null;
}

/** A point of a sweep that is asked for: what it is called, and the change that makes it. */
export interface AskedPoint {
  readonly at: readonly number[];
  readonly change: ScenarioFile['change'];
}

/** What a home comes to over all of its log. */
export interface Headlines {
  readonly fromMs: number;
  readonly toMs: number;
  readonly figures: Readonly<Record<string, Figure>>;
}

/** Settings that make the bill least, or why there are none. */
export type SettingsAnswer = OrProblem<{ readonly settings: BestSettings }>;

/** What it takes to be full before a storm, or why nothing tells. */
export type StormAnswer = OrProblem<{ readonly plan: StormPlan }>;

/** What the sun leaves over, or why nothing tells. */
export type SurplusAnswer = OrProblem<{ readonly surplus: Surplus }>;

/** The result of a trial, or why there is none. */
export type TrialAnswer = OrProblem<{ readonly result: TrialResult }>;

/** Answers, so that it is known to have been loaded. */
export interface Loadable {
  ready(): true;
}

/** Offers at a home's own use. */
export interface OffersAnswer {
  readonly use: BatteryUse;
  readonly outcomes: readonly OfferOutcome[];
}

/** Holds the open home and computes everything the views show. Ranges are ISO dates, first and last day included. */
export interface HomeWorker extends Loadable {
  overview(homeId: string): Promise<Overview>;
  report(at: At, from: string, to: string): Promise<RangeReport | null>;
  losses(at: At, from: string, to: string): Promise<LossesView | null>;
  wear(at: At, from: string, to: string): Promise<WearView | null>;
  outages(at: At, from: string, to: string): Promise<OutagesView | null>;
  money(at: At, from: string, to: string): Promise<MoneyView | null>;
  parts(at: At, from: string, to: string): Promise<readonly PartView[]>;
  /** Figures of all of a home's log, by which homes are set side by side; null without a log. */
  headlines(homeId: string): Promise<Headlines | null>;
  statement(at: At, from: string, to: string): Promise<Statement | null>;
  settings(at: At, from: string, to: string, hours: number, chance: number): Promise<SettingsAnswer>;
  surplus(at: At, from: string, to: string): Promise<SurplusAnswer>;
  /** The outage that begins at an instant, opened. */
  outage(at: At, fromMs: number): Promise<OpenedOutage | null>;
  /** The stop of the output, or the transfer to the grid, at an instant, opened. */
  stop(at: At, atMs: number): Promise<OpenedStop | null>;
  /** How long a charge lasts with the usual load of a month (0 for January) and hour; null where nothing tells. */
  usual(
    at: At,
    from: string,
    to: string,
    scenario: Scenario,
    month: number,
    hour: number,
  ): Promise<TypicalRuntime | null>;
  /** The least charge from which the whole home lasts so many hours in such a share of the starts. */
  reserve(at: At, from: string, to: string, hours: number, chance: number): Promise<ReserveAdvice | null>;
  /**
   * Sends from what an outage is begun in every hour of a range to other workers, each through a port of its own.
   * @returns false where something is missing for it
   */
  lendStarts(at: At, from: string, to: string, ports: readonly MessagePort[]): Promise<boolean>;
  /** Cycles, capacity estimates and the working of the wear's figures as tables in one zip. */
  wearEvidence(at: At, from: string, to: string): Promise<Blob | null>;
  /** @param stated share of self-sufficiency that somebody else states */
  reconciliation(at: At, from: string, to: string, stated: number): Promise<readonly Reckoning[]>;
  /** The home of a range as it is, modelled: kept ready for the scenarios and points that are asked for after it. */
  whatifBase(
    at: At,
    from: string,
    to: string,
    appliances: readonly Appliance[],
  ): Promise<OrProblem<WhatifBaseAnswer>>;
  whatifScenario(
    at: At,
    from: string,
    to: string,
    scenario: ScenarioFile,
  ): Promise<OrProblem<{ readonly scenario: WhatifScenario }>>;
  whatifPoint(
    at: At,
    from: string,
    to: string,
    point: AskedPoint,
  ): Promise<OrProblem<{ readonly point: SweepPoint<readonly number[]> }>>;
  /** @param moment by the home's clock, `2026-12-03T18:00` */
  storm(at: At, from: string, to: string, moment: string): Promise<StormAnswer>;
  /** What each of some trials gave, in their order; what cannot be evaluated says why. */
  trialResults(at: At, files: readonly TrialFile[]): Promise<readonly TrialAnswer[]>;
  /** Stretches of the log that qualify as trials, best first. */
  trialStretches(at: At): Promise<readonly TrialStretch[]>;
  /** What makes up a bill that somebody states; null where neither it nor the range tells energy and price. */
  statedBill(at: At, from: string, to: string, stated: StatedBill): Promise<StatedBillReading | null>;
  /** Offers at the use of a range; null where too few days tell it. */
  offers(at: At, from: string, to: string, offers: readonly Offer[]): Promise<OffersAnswer | null>;
  /** The smallest combinations of appliances over a limit, with one to three inverters. */
  combinations(system: System, appliances: readonly Appliance[]): Promise<readonly CombinationsOfUnits[]>;
  /** What each kind of trial would add, the one that would sharpen most first. */
  trialWorth(at: At): Promise<readonly TrialWorth[]>;
  checks(at: At): Promise<Checks>;
  /** The log of all sources in the canonical shape, and the energies without a course; null for what the home has not. */
  exported(at: At): Promise<{ readonly log: Blob | null; readonly totals: Blob | null }>;
  /** Everything of a home as one file. */
  book(homeId: string, settings: Settings | null): Promise<SavedBook>;
  day(at: At, date: string): Promise<PowerSeries | null>;
}

type OnProgress = (progress: ImportProgress) => void;

/** Looks at files, reads and stores them; opens books. */
export interface ImportWorker extends Loadable {
  /** Looks at files: what is in them and how each would be read. Nothing is stored, but what was taken out comes back. */
  look(
    home: Home,
    files: readonly File[],
    onProgress: OnProgress,
  ): Promise<{ found: readonly Found[]; aside: readonly SetAside[] }>;
  /** Reads texts whole, each through the mapping given for it. Nothing is stored. */
  read(
    home: Home,
    choices: readonly { readonly id: number; readonly mapping: Mapping | null }[],
    onProgress: OnProgress,
  ): Promise<{ summaries: readonly ReadSummary[]; aside: readonly SetAside[] }>;
  /** Stores everything that was read, with the home it founds and the corrections chosen for it: all of it or nothing. */
  store(home: Home, corrections: readonly Reasoned[], onProgress: OnProgress): Promise<SetAside | null>;
  /** Looks at a file of books: the homes in it. */
  books(file: File): Promise<{ books: readonly FoundBook[]; problems: readonly string[] }>;
  /**
   * Stores the home of a book that was looked at, with everything in it: all of it or nothing.
   * @param place `new` beside the homes that are here, or in the place of the one it is of
   */
  restore(index: number, place: 'new' | 'replace', damaged: 'refuse' | 'salvage'): Promise<Restored>;
}

/** Begins an outage in every hour, for one scenario at a time. */
export interface ReplayWorker {
  /** Waits for what the outages are begun from, which comes from the worker that holds the home; kept for all scenarios. */
  hold(port: MessagePort): Promise<void>;
  run(scenario: Scenario): ScenarioOutcome;
}
