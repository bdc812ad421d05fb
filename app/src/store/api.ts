import type {
  PowerSeries,
  LossesView,
  MoneyView,
  OpenedOutage,
  OpenedStop,
  Scenario,
  OutagesView,
  PartView,
  RangeReport,
  Reckoning,
  ReserveAdvice,
  TrialFile,
  TrialStretch,
  TrialWorth,
  TypicalRuntime,
  WearView,
  Appliance,
  CombinationsOfUnits,
  System,
  Offer,
  Statement,
  StatedBill,
  StatedBillReading,
} from '@long-tally/core';
import type { Remote } from 'comlink';
import { createApi, type BaseQueryFn } from '@reduxjs/toolkit/query/react';
import type { Home } from '../db/database.js';
import { askHome } from '../workers/client.js';
import type {
  At,
  Checks,
  Headlines,
  HomeWorker,
  OffersAnswer,
  Overview,
  SettingsAnswer,
  SurplusAnswer,
  TrialAnswer,
  StormAnswer,
} from '../protocol.js';

/** A home as its overview showed it, to ask for the figures of just that. */
export function atOf({ id, revision }: Home): At {
  return { homeId: id, revision };
}

/** A range of a home, by its days. */
export interface Ranged {
  readonly at: At;
  readonly from: string;
  readonly to: string;
}

type Ask =
  | { readonly what: 'overview'; readonly homeId: string }
  | { readonly what: 'report'; readonly at: At; readonly from: string; readonly to: string }
  | { readonly what: 'outages'; readonly at: At; readonly from: string; readonly to: string }
  | { readonly what: 'outage'; readonly at: At; readonly fromMs: number }
  | { readonly what: 'stop'; readonly at: At; readonly atMs: number }
  | {
      readonly what: 'usual';
      readonly at: At;
      readonly from: string;
      readonly to: string;
      readonly option: Scenario;
      readonly month: number;
      readonly hour: number;
    }
  | {
      readonly what: 'reserve';
      readonly at: At;
      readonly from: string;
      readonly to: string;
      readonly hours: number;
      readonly chance: number;
    }
  | { readonly what: 'wear'; readonly at: At; readonly from: string; readonly to: string }
  | { readonly what: 'losses'; readonly at: At; readonly from: string; readonly to: string }
  | {
      readonly what: 'reconciliation';
      readonly at: At;
      readonly from: string;
      readonly to: string;
      readonly stated: number;
    }
  | { readonly what: 'trialResults'; readonly at: At; readonly files: readonly TrialFile[] }
  | { readonly what: 'money'; readonly at: At; readonly from: string; readonly to: string }
  | (Ranged & { readonly what: 'storm'; readonly moment: string })
  | { readonly what: 'trialStretches'; readonly at: At }
  | { readonly what: 'trialWorth'; readonly at: At }
  | (Ranged & { readonly what: 'parts' })
  | (Ranged & { readonly what: 'settings'; readonly hours: number; readonly chance: number })
  | (Ranged & { readonly what: 'surplus' })
  | (Ranged & { readonly what: 'statement' })
  | { readonly what: 'headlines'; readonly at: At }
  | (Ranged & { readonly what: 'statedBill'; readonly stated: StatedBill })
  | (Ranged & { readonly what: 'offers'; readonly offers: readonly Offer[] })
  | { readonly what: 'combinations'; readonly system: System; readonly appliances: readonly Appliance[] }
  | { readonly what: 'checks'; readonly at: At }
  | { readonly what: 'day'; readonly at: At; readonly date: string };

/** Every question goes to the worker; the interface computes nothing itself. */
const askWorker: BaseQueryFn<Ask, unknown, { message: string }> = async (ask) => {
  try {
    // Frozen at its top, an answer is taken into the store as it is; else all of it is gone through for drafts.
    return { data: Object.freeze(await askHome<unknown>((home) => answer(home, ask))) };
  } catch (error) {
    return { error: { message: (error as Error).message } };
  }
};

function answer(home: Remote<HomeWorker>, ask: Ask): Promise<unknown> {
  switch (ask.what) {
    case 'overview':
      return home.overview(ask.homeId);
    case 'report':
      return home.report(ask.at, ask.from, ask.to);
    case 'reconciliation':
      return home.reconciliation(ask.at, ask.from, ask.to, ask.stated);
    case 'outages':
      return home.outages(ask.at, ask.from, ask.to);
    case 'outage':
      return home.outage(ask.at, ask.fromMs);
    case 'stop':
      return home.stop(ask.at, ask.atMs);
    case 'usual':
      return home.usual(ask.at, ask.from, ask.to, ask.option, ask.month, ask.hour);
    case 'reserve':
      return home.reserve(ask.at, ask.from, ask.to, ask.hours, ask.chance);
    case 'wear':
      return home.wear(ask.at, ask.from, ask.to);
    case 'losses':
      return home.losses(ask.at, ask.from, ask.to);
    case 'money':
      return home.money(ask.at, ask.from, ask.to);
    case 'storm':
      return home.storm(ask.at, ask.from, ask.to, ask.moment);
    case 'trialResults':
      return home.trialResults(ask.at, ask.files);
    case 'trialStretches':
      return home.trialStretches(ask.at);
    case 'combinations':
      return home.combinations(ask.system, ask.appliances);
    case 'settings':
      return home.settings(ask.at, ask.from, ask.to, ask.hours, ask.chance);
    case 'headlines':
      return home.headlines(ask.at.homeId);
    case 'statement':
      return home.statement(ask.at, ask.from, ask.to);
    case 'surplus':
      return home.surplus(ask.at, ask.from, ask.to);
    case 'parts':
      return home.parts(ask.at, ask.from, ask.to);
    case 'statedBill':
      return home.statedBill(ask.at, ask.from, ask.to, ask.stated);
    case 'offers':
      return home.offers(ask.at, ask.from, ask.to, ask.offers);
    case 'trialWorth':
      return home.trialWorth(ask.at);
    case 'checks':
      return home.checks(ask.at);
    case 'day':
      return home.day(ask.at, ask.date);
  }
}

export const api = createApi({
  baseQuery: askWorker,
  endpoints: (build) => ({
    overview: build.query<Overview, string>({
      query: (homeId) => ({ what: 'overview', homeId }),
    }),
    report: build.query<RangeReport | null, { at: At; from: string; to: string }>({
      query: (range) => ({ what: 'report', ...range }),
      keepUnusedDataFor: 30,
    }),
    losses: build.query<LossesView | null, { at: At; from: string; to: string }>({
      query: (range) => ({ what: 'losses', ...range }),
      keepUnusedDataFor: 30,
    }),
    outages: build.query<OutagesView | null, { at: At; from: string; to: string }>({
      query: (range) => ({ what: 'outages', ...range }),
      keepUnusedDataFor: 30,
    }),
    settings: build.query<SettingsAnswer, Ranged & { hours: number; chance: number }>({
      query: (asked) => ({ what: 'settings', ...asked }),
      keepUnusedDataFor: 30,
    }),
    headlines: build.query<Headlines | null, At>({
      query: (at) => ({ what: 'headlines', at }),
      keepUnusedDataFor: 600,
    }),
    statement: build.query<Statement | null, Ranged>({
      query: (range) => ({ what: 'statement', ...range }),
      keepUnusedDataFor: 30,
    }),
    surplus: build.query<SurplusAnswer, Ranged>({
      query: (range) => ({ what: 'surplus', ...range }),
      keepUnusedDataFor: 30,
    }),
    parts: build.query<readonly PartView[], Ranged>({
      query: (range) => ({ what: 'parts', ...range }),
      keepUnusedDataFor: 30,
    }),
    stop: build.query<OpenedStop | null, { at: At; atMs: number }>({
      query: (stop) => ({ what: 'stop', ...stop }),
      keepUnusedDataFor: 30,
    }),
    outage: build.query<OpenedOutage | null, { at: At; fromMs: number }>({
      query: (outage) => ({ what: 'outage', ...outage }),
      keepUnusedDataFor: 30,
    }),
    usual: build.query<
      TypicalRuntime | null,
      { at: At; from: string; to: string; option: Scenario; month: number; hour: number }
    >({
      query: (usual) => ({ what: 'usual', ...usual }),
      keepUnusedDataFor: 30,
    }),
    reserve: build.query<
      ReserveAdvice | null,
      { at: At; from: string; to: string; hours: number; chance: number }
    >({
      query: (reserve) => ({ what: 'reserve', ...reserve }),
      keepUnusedDataFor: 30,
    }),
    wear: build.query<WearView | null, { at: At; from: string; to: string }>({
      query: (range) => ({ what: 'wear', ...range }),
      keepUnusedDataFor: 30,
    }),
    reconciliation: build.query<readonly Reckoning[], { at: At; from: string; to: string; stated: number }>({
      query: (stated) => ({ what: 'reconciliation', ...stated }),
      keepUnusedDataFor: 5,
    }),
    money: build.query<MoneyView | null, { at: At; from: string; to: string }>({
      query: (range) => ({ what: 'money', ...range }),
      keepUnusedDataFor: 30,
    }),
    storm: build.query<StormAnswer, Ranged & { moment: string }>({
      query: (asked) => ({ what: 'storm', ...asked }),
      keepUnusedDataFor: 30,
    }),
    trialResults: build.query<readonly TrialAnswer[], { at: At; files: readonly TrialFile[] }>({
      query: (trials) => ({ what: 'trialResults', ...trials }),
      keepUnusedDataFor: 5,
    }),
    combinations: build.query<
      readonly CombinationsOfUnits[],
      { system: System; appliances: readonly Appliance[] }
    >({
      query: (of) => ({ what: 'combinations', ...of }),
      keepUnusedDataFor: 30,
    }),
    statedBill: build.query<StatedBillReading | null, Ranged & { stated: StatedBill }>({
      query: (of) => ({ what: 'statedBill', ...of }),
      keepUnusedDataFor: 30,
    }),
    offers: build.query<OffersAnswer | null, Ranged & { offers: readonly Offer[] }>({
      query: (of) => ({ what: 'offers', ...of }),
      keepUnusedDataFor: 30,
    }),
    trialWorth: build.query<readonly TrialWorth[], At>({
      query: (at) => ({ what: 'trialWorth', at }),
    }),
    trialStretches: build.query<readonly TrialStretch[], At>({
      query: (at) => ({ what: 'trialStretches', at }),
      keepUnusedDataFor: 30,
    }),
    checks: build.query<Checks, At>({
      query: (at) => ({ what: 'checks', at }),
      keepUnusedDataFor: 30,
    }),
    day: build.query<PowerSeries | null, { at: At; date: string }>({
      query: (day) => ({ what: 'day', ...day }),
      keepUnusedDataFor: 30,
    }),
  }),
});

export const {
  useChecksQuery,
  useMoneyQuery,
  useStormQuery,
  useTrialResultsQuery,
  useTrialStretchesQuery,
  useTrialWorthQuery,
  useStatedBillQuery,
  useOffersQuery,
  useCombinationsQuery,
  useDayQuery,
  useLossesQuery,
  useOutageQuery,
  useStopQuery,
  useOutagesQuery,
  useOverviewQuery,
  usePartsQuery,
  useSettingsQuery,
  useHeadlinesQuery,
  useStatementQuery,
  useSurplusQuery,
  useReconciliationQuery,
  useReportQuery,
  useReserveQuery,
  useUsualQuery,
  useWearQuery,
} = api;
