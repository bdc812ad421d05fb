import type { RangeReport, DayRange } from '@long-tally/core';
import { useState } from 'react';
import type { Home } from '../db/database.js';
import { api, atOf, useReportQuery } from '../store/api.js';
import type { Roll } from '../protocol.js';
import { useRange, type OpensOn } from './useRange.js';

/** The selected range with its report. */
export interface RangeReading {
  readonly range: DayRange;
  /** Begins the report of another range and selects it. */
  readonly select: (range: DayRange) => void;
  /** Begins the report of a range that may be asked for next. */
  readonly prepare: (range: DayRange) => void;
  /** The last report that is done, with its range: while the next is computed it stays, a page that blinks cannot be read. */
  readonly last: { readonly report: RangeReport | null | undefined; readonly range: DayRange };
  readonly error: string | null;
}

/** A home's selected range and the figures of it. */
export function useRangeReport(home: Home, { days }: Roll, opensOn?: OpensOn): RangeReading {
  const [range, setRange] = useRange(days, opensOn);
  const ask = api.usePrefetch('report');
  const questionOf = ({ from, to }: DayRange) => ({
    at: atOf(home),
    from: days[from]!.date,
    to: days[to]!.date,
  });
  const prepare = (next: DayRange) => ask(questionOf(next));
  const select = (next: DayRange) => {
    // The worker begins before anything is drawn anew, not after.
    prepare(next);
    setRange(next);
  };
  const { currentData: report, error } = useReportQuery(questionOf(range));
  const [last, setLast] = useState({ report, range });
  if (report && (last.report !== report || last.range !== range)) setLast({ report, range });
  return { range, select, prepare, last, error: error ? (error.message ?? 'unknown error') : null };
}
