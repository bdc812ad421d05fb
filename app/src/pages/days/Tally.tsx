import type { RangeReport, RollDay } from '@long-tally/core';
import { memo, useEffect, useRef } from 'react';
import { Link, useParams } from 'react-router';
import { workingOpened } from '../../store/selection.js';
import { useAppDispatch, useAppSelector } from '../../store/store.js';
import { FigureCell } from '../../ui/FigureCell.js';
import { counted, dateText, decimal } from '../../ui/format.js';
import { useKeys } from '../../ui/useKeys.js';
import { monthOf, yearOf, type DayRange } from '../../ui/useRange.js';
import { WorkingPanel } from '../../ui/WorkingPanel.js';
import { Balance } from './Balance.js';

/** The figures every selection leads with; the others follow under the working. */
const LEADING = [
  'account.selfSufficiency.grid',
  'account.selfSufficiency.supply',
  'account.selfSufficiency.solar',
  'losses.roundTrip.fullToFull',
  'wear.efc.nameplate',
  'wear.depth.mean',
];
const OTHERS = [
  'losses.roundTrip.counter',
  'account.selfConsumption',
  'wear.depth.max',
  'account.gridFreeDays',
  'account.trickle',
  'peak.headroom.batteryOnly',
  'account.closingError',
  'wear.throughput',
  'wear.soc.mean',
  'peak.load',
  'wear.efc.usable',
  'wear.efc.both',
];
const FINDINGS_SHOWN = 6;

interface Props {
  readonly report: RangeReport;
  readonly days: readonly RollDay[];
  readonly range: DayRange;
}

/** The tally of the selection: the account, the figures with their intervals, the working of one, and what is worth a look. */
export const Tally = memo(function Tally({ report, days, range }: Props) {
  const { homeId = '' } = useParams();
  const dispatch = useAppDispatch();
  const workingKey = useAppSelector(({ selection }) => selection.workingKey);
  const working = workingKey === null ? undefined : report.figures[workingKey];
  const panel = useRef<HTMLDivElement>(null);
  const opened = useRef(workingKey);
  const open = (key: string) => dispatch(workingOpened(key));
  useEffect(() => {
    if (opened.current !== workingKey && workingKey !== null)
      panel.current?.scrollIntoView({ block: 'nearest' });
    opened.current = workingKey;
  }, [workingKey]);
  useKeys({
    w: () => {
      const focused = document.activeElement?.closest<HTMLElement>('[data-figure]')?.dataset['figure'];
      dispatch(workingOpened(focused ?? workingKey ?? LEADING[0]!));
    },
    Escape: () => dispatch(workingOpened(null)),
  });
  const only = range.from === range.to ? days[range.from]! : null;
  return (
    <aside
      aria-label="Tally of the selection"
      className="min-h-0 overflow-y-auto px-4 pt-3 pb-6"
      tabIndex={0}
    >
      <h1 className="text-[18px]">{rangeTitle(days, range)}</h1>
      <p className="mb-2 text-faint">
        {counted(range.to - range.from + 1, 'day')} · coverage {decimal(report.coverage.share * 100, 1)} % ·
        step {decimal(report.coverage.stepSeconds / 60, report.coverage.stepSeconds % 60 ? 1 : 0)} min · times
        in {report.range.timeZone}
        {only && (
          <>
            {' · '}
            <Link className="quiet" to={`/h/${homeId}/day/${only.date}`}>
              open the day
            </Link>
          </>
        )}
      </p>
      <Balance figures={report.figures} onOpen={open} />
      <Figures keys={LEADING} report={report} workingKey={workingKey} onOpen={open} />
      <div ref={panel}>
        {working && workingKey !== null && (
          <WorkingPanel
            figureKey={workingKey}
            figure={working}
            onClose={() => dispatch(workingOpened(null))}
          />
        )}
      </div>
      <Findings report={report} />
      <h2 className="mt-4 mb-1 text-[15px]">Further figures</h2>
      <Figures keys={OTHERS} report={report} workingKey={workingKey} onOpen={open} />
    </aside>
  );
});

interface FiguresProps {
  readonly keys: readonly string[];
  readonly report: RangeReport;
  readonly workingKey: string | null;
  readonly onOpen: (key: string) => void;
}

function Figures({ keys, report, workingKey, onOpen }: FiguresProps) {
  return (
    <div className="mt-2 grid grid-cols-3 gap-x-2 border-b border-rule-2">
      {keys.flatMap((key) => {
        const figure = report.figures[key];
        return figure
          ? [
              <FigureCell
                key={key}
                figureKey={key}
                figure={figure}
                active={key === workingKey}
                onOpen={onOpen}
              />,
            ]
          : [];
      })}
    </div>
  );
}

function Findings({ report }: { readonly report: RangeReport }) {
  const { findings } = report;
  if (findings.length === 0) return null;
  return (
    <section aria-label="Worth a look">
      <h2 className="mt-4 mb-1 text-[15px]">Worth a look</h2>
      <ul className="text-[13px]">
        {findings.slice(0, FINDINGS_SHOWN).map(({ code, message, kWh, severity, source }, i) => (
          <li key={`${code}${i}`} className="grid grid-cols-[74px_1fr] gap-x-2.5 border-b border-rule py-0.5">
            <b
              className={`text-right font-semibold ${severity === 'note' && kWh === null ? 'text-faint' : 'text-red'}`}
            >
              {kWh === null ? severity : `${decimal(kWh, kWh < 100 ? 1 : 0)} kWh`}
            </b>
            <span>
              {source ? `${source}: ` : ''}
              {message}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What a range is called: a month, a year, a day, or from a day to a day. */
function rangeTitle(days: readonly RollDay[], range: DayRange): string {
  const [first, last] = [days[range.from]!.date, days[range.to]!.date];
  if (range.from === range.to) return dateText(first, 'long');
  const is = ({ from, to }: DayRange) => from === range.from && to === range.to;
  if (is(monthOf(days, range.from))) return dateText(first, 'month');
  if (is(yearOf(days, range.from))) return first.slice(0, 4);
  return `${dateText(first, 'plain')} – ${dateText(last, 'plain')}`;
}
