import type { RangeReport, RollDay, DayRange } from '@long-tally/core';
import { counted, dateText, decimal } from './format.js';
import { RangeWords } from './rangeWords.js';
import { rangeTitle } from './useRange.js';

interface FrameProps {
  readonly title: string;
  readonly days: readonly RollDay[];
  readonly range: DayRange;
  readonly report: RangeReport;
  readonly asideLabel: string;
  /** The figures, at the right. */
  readonly aside: React.ReactNode;
  readonly children: React.ReactNode;
}

/**
 * A view of a range of days: what it tells at the left, its figures at the right, each scrolling by itself. On a narrow page the
 * figures stand beneath, and the page scrolls as one.
 */
export function RangeFrame({ title, days, range, report, asideLabel, aside, children }: FrameProps) {
  const [first, last] = [days[range.from]!.date, days[range.to]!.date].map((date) => dateText(date, 'plain'));
  const words = first === last ? first! : `${first} to ${last}`;
  return (
    <div className="min-h-0 flex-1 overflow-y-auto lg:grid lg:grid-cols-[minmax(0,1fr)_340px] lg:overflow-hidden xl:grid-cols-[minmax(0,1fr)_412px]">
      <main
        id="view"
        className="min-w-0 border-rule-2 px-5 pt-3 pb-8 lg:min-h-0 lg:overflow-y-auto lg:border-r"
        tabIndex={0}
      >
        <h1 className="text-xl">{title}</h1>
        <p className="text-faint">
          {rangeTitle(days, range)}
          {range.from === 0 && range.to === days.length - 1 && ', the whole history'} ·{' '}
          {counted(range.to - range.from + 1, 'day')} · coverage {decimal(report.coverage.share * 100, 1)} %
        </p>
        <RangeWords value={words}>{children}</RangeWords>
      </main>
      <aside
        aria-label={asideLabel}
        className="border-rule-2 px-4 pt-1 pb-6 max-lg:border-t lg:min-h-0 lg:overflow-y-auto"
        tabIndex={0}
      >
        {aside}
      </aside>
    </div>
  );
}

interface WaitingProps {
  readonly title: string;
  /** What is being done. */
  readonly doing: string;
  /** What did not come about, with the error after it. */
  readonly failed: string;
  readonly error: string | null;
}

/** In the place of a view whose first figures are not there yet, or could not be made. */
export function Waiting({ title, doing, failed, error }: WaitingProps) {
  return (
    <main id="view" className="p-5">
      <h1 className="text-xl">{title}</h1>
      <p role="status" className="text-faint">
        {error === null ? `${doing} …` : `${failed}: ${error}`}
      </p>
    </main>
  );
}
