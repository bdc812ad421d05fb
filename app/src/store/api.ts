import type {
  PowerCourse,
  LossCourse,
  OpenedOutage,
  Option,
  OutageCourse,
  RangeReport,
  Reckoning,
  ReserveAdvice,
  UsualRuntime,
  WearCourse,
} from '@long-tally/core';
import { createApi, type BaseQueryFn } from '@reduxjs/toolkit/query/react';
import type { Home } from '../db/database.js';
import { home } from '../workers/client.js';
import type { At, Checks, Overview } from '../workers/homeWorker.js';

/** A home as its overview showed it, to ask for the figures of just that. */
export function atOf({ id, revision }: Home): At {
  return { homeId: id, revision };
}

type Ask =
  | { readonly what: 'overview'; readonly homeId: string }
  | { readonly what: 'report'; readonly at: At; readonly from: string; readonly to: string }
  | { readonly what: 'outages'; readonly at: At; readonly from: string; readonly to: string }
  | { readonly what: 'outage'; readonly at: At; readonly fromMs: number }
  | {
      readonly what: 'usual';
      readonly at: At;
      readonly from: string;
      readonly to: string;
      readonly option: Option;
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
  | { readonly what: 'checks'; readonly at: At }
  | { readonly what: 'day'; readonly at: At; readonly date: string };

/** Every question goes to the worker; the interface computes nothing itself. */
const askWorker: BaseQueryFn<Ask, unknown, { message: string }> = async (ask) => {
  try {
    if (ask.what === 'overview') return { data: await home.overview(ask.homeId) };
    if (ask.what === 'report') return { data: await home.report(ask.at, ask.from, ask.to) };
    if (ask.what === 'reconciliation')
      return { data: await home.reconciliation(ask.at, ask.from, ask.to, ask.stated) };
    if (ask.what === 'outages') return { data: await home.outages(ask.at, ask.from, ask.to) };
    if (ask.what === 'outage') return { data: await home.outage(ask.at, ask.fromMs) };
    if (ask.what === 'usual')
      return { data: await home.usual(ask.at, ask.from, ask.to, ask.option, ask.month, ask.hour) };
    if (ask.what === 'reserve')
      return { data: await home.reserve(ask.at, ask.from, ask.to, ask.hours, ask.chance) };
    if (ask.what === 'wear') return { data: await home.wear(ask.at, ask.from, ask.to) };
    if (ask.what === 'losses') return { data: await home.losses(ask.at, ask.from, ask.to) };
    if (ask.what === 'checks') return { data: await home.checks(ask.at) };
    return { data: await home.day(ask.at, ask.date) };
  } catch (error) {
    return { error: { message: (error as Error).message } };
  }
};

export const api = createApi({
  baseQuery: askWorker,
  tagTypes: ['Home'],
  endpoints: (build) => ({
    overview: build.query<Overview, string>({
      query: (homeId) => ({ what: 'overview', homeId }),
      providesTags: (_result, _error, homeId) => [{ type: 'Home', id: homeId }],
    }),
    report: build.query<RangeReport | null, { at: At; from: string; to: string }>({
      query: (range) => ({ what: 'report', ...range }),
      keepUnusedDataFor: 30,
    }),
    losses: build.query<LossCourse | null, { at: At; from: string; to: string }>({
      query: (range) => ({ what: 'losses', ...range }),
      keepUnusedDataFor: 30,
    }),
    outages: build.query<OutageCourse | null, { at: At; from: string; to: string }>({
      query: (range) => ({ what: 'outages', ...range }),
      keepUnusedDataFor: 30,
    }),
    outage: build.query<OpenedOutage | null, { at: At; fromMs: number }>({
      query: (outage) => ({ what: 'outage', ...outage }),
      keepUnusedDataFor: 30,
    }),
    usual: build.query<
      UsualRuntime | null,
      { at: At; from: string; to: string; option: Option; month: number; hour: number }
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
    wear: build.query<WearCourse | null, { at: At; from: string; to: string }>({
      query: (range) => ({ what: 'wear', ...range }),
      keepUnusedDataFor: 30,
    }),
    reconciliation: build.query<readonly Reckoning[], { at: At; from: string; to: string; stated: number }>({
      query: (stated) => ({ what: 'reconciliation', ...stated }),
      keepUnusedDataFor: 5,
    }),
    checks: build.query<Checks, At>({
      query: (at) => ({ what: 'checks', at }),
      keepUnusedDataFor: 30,
    }),
    day: build.query<PowerCourse | null, { at: At; date: string }>({
      query: (day) => ({ what: 'day', ...day }),
      keepUnusedDataFor: 30,
    }),
  }),
});

export const {
  useChecksQuery,
  useDayQuery,
  useLossesQuery,
  useOutageQuery,
  useOutagesQuery,
  useOverviewQuery,
  useReconciliationQuery,
  useReportQuery,
  useReserveQuery,
  useUsualQuery,
  useWearQuery,
} = api;
