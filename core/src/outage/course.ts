import { viewOf, type Prepared } from '../prepare.js';
import type { Range } from '../series/log.js';
import { configurationAt } from '../system/configuration.js';
import { lastingCourse, type LastingCourse } from './lasting.js';
import type { Outage } from './ledger.js';

/** What the Outages view shows of a range. */
export interface OutageCourse extends LastingCourse {
  readonly outages: readonly Outage[];
  /** Reserve that is set, as a share; null where it is not described. */
  readonly reserveSet: number | null;
}

/** The interruptions of a range, and how long the home would last in the next one. */
export function outageCourse(prepared: Prepared, range: Range): OutageCourse {
  const view = viewOf(prepared, range);
  const { described } = configurationAt(view.configurations, range.toMs - 1);
  return {
    ...lastingCourse(view),
    outages: view.outages,
    reserveSet: described?.battery?.reserve ?? null,
  };
}
