import type { OutagesView, RangeReport, DayRange } from '@long-tally/core';
import { useDeferredValue } from 'react';
import { Link, useLocation } from 'react-router';
import { RangeRibbon } from '../../charts/RangeRibbon.js';
import type { Home } from '../../db/database.js';
import { atOf, useOutagesQuery } from '../../store/api.js';
import { AfterPaint } from '../../ui/AfterPaint.js';
import { Figures } from '../../ui/Figures.js';
import { Findings } from '../../ui/Findings.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { RangeFrame, Waiting } from '../../ui/RangeFrame.js';
import { useRangeKeys } from '../../ui/useRangeKeys.js';
import { useRangeReport } from '../../ui/useRangeReport.js';
import { useWidth } from '../../ui/useSize.js';
import { useWorking } from '../../ui/useWorking.js';
import { localized } from '../../ui/localized.js';
import type { Roll } from '../../protocol.js';
import { CAUTIONS } from './cautions.js';
import { Ledger } from './Ledger.js';
import { Options } from './Scenarios.js';
import { NotMade } from './NotMade.js';
import { Peaks } from './Peaks.js';
import { Reserves } from './Reserves.js';
import { Runtime } from './Runtime.js';
import { Stops } from './Stops.js';
import { WithoutLog } from './WithoutLog.js';

const AREA = ['outage.', 'peak.', 'solar.'];
const SEEN = ['outage.count', 'outage.hours', 'outage.carriedShare', 'outage.unservedHours'];
const OWN = new Set(['outage', 'outage-dark', 'battery-only-limit', 'journal-outage']);
const AHEAD = [
  'outage.runtime.now',
  'outage.survive.12h',
  'outage.survive.24h',
  'outage.replay.p10',
  'outage.replay.p50',
  'outage.replay.p90',
  'outage.reserve.12h90',
];
const PEAKS = [
  'peak.load',
  'peak.load.p999',
  'peak.headroom.batteryOnly',
  'peak.hoursAbove.batteryOnly',
  'peak.hoursAbove.continuous',
  'peak.leg.load',
  'peak.leg.imbalance',
  'peak.hoursAbove.leg',
  'peak.headroom.leg',
  'peak.leg.held',
  'peak.leg.tripped',
  'peak.transfers',
  'peak.stops',
];
const SUN = ['solar.clipped', 'solar.heldBack', 'solar.dcGain', 'solar.surplus'];

/** What outages there were, how long the home would last in the next one, and what reserve to keep. */
export default function OutagesPage() {
  const { home, roll } = useOverview();
  return roll ? <Outages home={home} roll={roll} /> : <WithoutLog home={home} />;
}

function Outages({ home, roll }: { readonly home: Home; readonly roll: Roll }) {
  const { days } = roll;
  const { range, select, last, error } = useRangeReport(home, roll, 'all');
  useRangeKeys(days, range, select);
  const { currentData: answer } = useOutagesQuery({
    at: atOf(home),
    from: days[last.range.from]!.date,
    to: days[last.range.to]!.date,
  });
  // What is drawn of it may be drawn bit by bit: the page goes on meanwhile.
  const course = useDeferredValue(answer);
  return (
    <>
      <RangeRibbon roll={roll} range={range} onSelect={select} />
      {last.report && course ? (
        <Page home={home} roll={roll} report={last.report} course={course} range={last.range} />
      ) : (
        <Waiting
          title="Outages"
          doing="Beginning an outage in every hour of the range"
          failed="The outages could not be worked out"
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
  readonly course: OutagesView;
  readonly range: DayRange;
}

function Page({ home, roll, report, course, range }: PageProps) {
  const all = {
    ...report,
    figures: { ...report.figures, ...course.figures, ...course.peaks.figures, ...course.sun.figures },
  };
  const { workingKey, open, panel } = useWorking(all, 'outage.survive.12h', AREA);
  const [ref, width] = useWidth<HTMLDivElement>();
  const { search } = useLocation();
  const { whole, runsOn } = course;
  const now = course.figures['outage.runtime.now'];
  const basis = (key: 'soc' | 'loadW') => (typeof now?.basis[key] === 'number' ? now.basis[key] : null);
  return (
    <RangeFrame
      title="Outages"
      days={roll.days}
      range={range}
      report={report}
      asideLabel="Figures of the outages"
      aside={
        <>
          <Findings
            findings={[...course.findings, ...report.findings.filter(({ code }) => OWN.has(code))]}
            most={5}
          />
          <h2 className="mt-3 text-[15px]">Seen</h2>
          <Figures keys={SEEN} report={all} workingKey={workingKey} onOpen={open} />
          <h2 className="mt-3 text-[15px]">In the next one</h2>
          <Figures keys={AHEAD} report={all} workingKey={workingKey} onOpen={open} />
          <h2 className="mt-3 text-[15px]">Peaks and legs</h2>
          <Figures keys={PEAKS} report={all} workingKey={workingKey} onOpen={open} />
          <h2 className="mt-3 text-[15px]">Solar not made</h2>
          <Figures keys={SUN} report={all} workingKey={workingKey} onOpen={open} />
          {panel}
          <p className="mt-3">
            <Link className="action inline-block" to={`/h/${home.id}/outage-sheet${search}`}>
              Outage sheet to print
            </Link>
          </p>
          <h2 className="mt-4 text-[15px]">Before you rely on it</h2>
          <ul className="mt-1 list-disc pl-4 text-[12.5px]">
            {CAUTIONS.map((text) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
        </>
      }
    >
      <Ledger
        outages={course.outages}
        home={home}
        reason={report.figures['outage.count']?.reason ?? null}
        range={range}
      />
      {runsOn && (
        <Runtime
          key={`${range.from} ${range.to}`}
          at={atOf(home)}
          from={roll.days[range.from]!.date}
          to={roll.days[range.to]!.date}
          runsOn={runsOn}
          parts={course.parts}
          hasUsual={whole !== null}
          socNow={basis('soc')}
          loadW={basis('loadW')}
        />
      )}
      <section aria-label="Survival" className="mt-4" ref={ref}>
        <h2 className="text-[16px]">If it had begun in any hour of this range</h2>
        {whole && whole.curve.length > 1 ? (
          <>
            <p className="mb-1 text-faint">
              measured load and sun carried on from every full hour, on the battery alone, up to 14 days; runs
              that the log cuts off are counted as far as they are seen
            </p>
            <Options
              at={atOf(home)}
              from={roll.days[range.from]!.date}
              to={roll.days[range.to]!.date}
              whole={whole}
              parts={course.parts.map(({ name }) => name)}
              timeZone={home.system.timeZone}
              width={width}
            />
          </>
        ) : (
          <p className="text-faint">
            {localized(
              course.figures['outage.replay.p50']?.reason ??
                'No outage begun in this range ends within the log.',
            )}
          </p>
        )}
      </section>
      <AfterPaint>
        <Reserves
          at={atOf(home)}
          from={roll.days[range.from]!.date}
          to={roll.days[range.to]!.date}
          course={course}
          currency={home.system.currency ?? null}
        />
        <Stops home={home} peaks={course.peaks} />
        <NotMade sun={course.sun} />
        <Peaks peaks={course.peaks} timeZone={home.system.timeZone} />
      </AfterPaint>
    </RangeFrame>
  );
}
