import { configurationsOf, type LossesView, type RangeReport, type DayRange } from '@long-tally/core';
import { useDeferredValue } from 'react';
import { Link } from 'react-router';
import { LossBudget } from '../../charts/LossBudget.js';
import { RangeRibbon } from '../../charts/RangeRibbon.js';
import type { Home } from '../../db/database.js';
import { atOf, useLossesQuery } from '../../store/api.js';
import { Figures } from '../../ui/Figures.js';
import { Findings } from '../../ui/Findings.js';
import { decimal } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { RangeFrame, Waiting } from '../../ui/RangeFrame.js';
import { useRangeKeys } from '../../ui/useRangeKeys.js';
import { useRangeReport } from '../../ui/useRangeReport.js';
import { useWidth } from '../../ui/useSize.js';
import { useWorking } from '../../ui/useWorking.js';
import { NoLog } from '../../ui/NoLog.js';
import { Changes } from './Changes.js';
import { Charts } from './Charts.js';
import { ShortRunForm } from './ShortRunForm.js';
import type { Roll } from '../../protocol.js';
import { lossRows } from '../../charts/chartRows.js';
import { Saveable } from '../../ui/Saveable.js';

/** Findings that belong to the losses. */
const OWN = new Set(['losses', 'idle-step', 'idle-draw', 'inverter-idle', 'closing-error', 'above-rating']);
const FIGURES = [
  'losses.roundTrip.fullToFull',
  'losses.roundTrip.counter',
  'losses.conversion.discharge',
  'losses.idle.battery',
  'losses.idle.inverter',
  'losses.idle.rest',
  'losses.idle.gridStandby',
  'losses.unexplained',
  'account.closingShare',
];

/** The figures of this view, by the beginning of their keys. */
const AREA = ['losses.', 'account.losses', 'account.closing', 'account.storeChange'];

/** Where the energy went that never reached a socket or the grid. */
export default function LossesPage() {
  const { home, roll } = useOverview();
  return roll ? (
    <Losses home={home} roll={roll} />
  ) : (
    <NoLog home={home}>
      <ShortRunForm
        usableKWh={(configurationsOf(home.system).at(-1)!.usableWh ?? 0) / 1000 || null}
        idle={undefined}
        conversion={undefined}
      />
    </NoLog>
  );
}

function Losses({ home, roll }: { readonly home: Home; readonly roll: Roll }) {
  const { days } = roll;
  const { range, select, last, error } = useRangeReport(home, roll);
  useRangeKeys(days, range, select);
  const { currentData: answer } = useLossesQuery({
    at: atOf(home),
    from: days[last.range.from]!.date,
    to: days[last.range.to]!.date,
  });
  // What is drawn of it may be drawn bit by bit: the page goes on meanwhile.
  const course = useDeferredValue(answer);
  return (
    <>
      <RangeRibbon roll={roll} range={range} onSelect={select} />
      {last.report ? (
        <Page home={home} roll={roll} report={last.report} course={course ?? null} range={last.range} />
      ) : (
        <Waiting
          title="Losses"
          doing="Adding up the losses"
          failed="The losses could not be added up"
          error={error}
        />
      )}
    </>
  );
}

interface PageProps {
  readonly home: Home;
  readonly roll: Roll;
  readonly report: RangeReport;
  readonly course: LossesView | null;
  readonly range: DayRange;
}

function Page({ home, roll, report, course, range }: PageProps) {
  const { workingKey, open, panel } = useWorking(report, 'losses.idle.battery', AREA);
  const [ref, width] = useWidth<HTMLDivElement>();
  const usable = configurationsOf(home.system).at(-1)!.usableWh;
  return (
    <RangeFrame
      title="Losses"
      days={roll.days}
      range={range}
      report={report}
      asideLabel="Figures of the losses"
      aside={
        <>
          <Findings findings={report.findings.filter(({ code }) => OWN.has(code))} most={6} />
          <Figures keys={FIGURES} report={report} workingKey={workingKey} onOpen={open} />
          {panel}
          <p className="mt-3 text-[12.5px] text-faint">
            Before you change anything at an inverter or battery read its manual; work on its wiring is for
            licensed people and follows local codes.{' '}
            <Link className="quiet" to={`/h/${home.id}/handbook`}>
              How losses are told apart
            </Link>
          </p>
        </>
      }
    >
      <p className="my-2 max-w-4xl text-[15px]">{lead(report)}</p>
      <div ref={ref}>
        {width > 0 && (
          <>
            {report.figures['account.losses']?.value != null && (
              <Saveable title="Where the missing energy went" rows={() => lossRows(report.figures)}>
                <LossBudget figures={report.figures} width={width} onOpen={open} />
              </Saveable>
            )}
            {course && (
              <Charts course={course} report={report} timeZone={home.system.timeZone} width={width} />
            )}
          </>
        )}
      </div>
      <Changes
        changes={course?.changes ?? []}
        timeZone={home.system.timeZone}
        currency={home.system.currency ?? null}
      />
      <ShortRunForm
        usableKWh={usable === null ? null : Number((usable / 1000).toFixed(2))}
        idle={report.figures['losses.idle.battery']}
        conversion={report.figures['losses.conversion.discharge']}
      />
    </RangeFrame>
  );
}

/** The losses in a sentence. */
function lead({ figures }: RangeReport): React.ReactNode {
  const losses = figures['account.losses'];
  if (losses?.value == null) return losses?.reason ?? 'The losses are not known.';
  const came =
    (figures['account.solar']?.value ?? 0) +
    (figures['account.import']?.value ?? 0) +
    Math.max(0, -(figures['account.storeChange']?.value ?? 0));
  const idle = (figures['losses.part.idle']?.value ?? 0) + (figures['losses.part.inverter']?.value ?? 0);
  const share = idle / losses.value;
  return (
    <>
      Of {decimal(came, 0)} kWh that came in, <b>{decimal(losses.value, 0)} kWh</b> ({decimal(losses.low!, 0)}{' '}
      to {decimal(losses.high!, 0)}) never reached a socket or the grid.
      {idle > 0 &&
        ` ${share > 0.5 ? 'More than half' : `About ${decimal(100 * share, 0)} %`} of that is drawn by equipment doing nothing.`}
    </>
  );
}
