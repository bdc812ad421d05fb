import type { DayRange, ReportLayout, RollDay, Statement } from '@long-tally/core';
import type { Home } from '../../db/database.js';

/** What every part of a report is written from. */
export interface WrittenProps {
  readonly home: Home;
  readonly days: readonly RollDay[];
  readonly range: DayRange;
  readonly statement: Statement;
  readonly layout: ReportLayout;
  readonly title: string;
}
