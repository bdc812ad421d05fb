import type { RangeReport, WearView, DayRange } from '@long-tally/core';
import { useDeferredValue } from 'react';
import { Link } from 'react-router';
import { CapacityChart } from '../../charts/CapacityChart.js';
import { DepthBars } from '../../charts/DepthBars.js';
import { HoursBars } from '../../charts/HoursBars.js';
import { RangeRibbon } from '../../charts/RangeRibbon.js';
import { HourTable } from '../../charts/HourTable.js';
import type { Home } from '../../db/database.js';
import { atOf, useWearQuery } from '../../store/api.js';
import { save, stemOf } from '../../ui/download.js';
import { Saveable } from '../../ui/Saveable.js';
import { AfterPaint } from '../../ui/AfterPaint.js';
import { Figures } from '../../ui/Figures.js';
import { Findings } from '../../ui/Findings.js';
import { betweenText, temperatureText } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { NoLog } from '../../ui/NoLog.js';
import { RangeFrame, Waiting } from '../../ui/RangeFrame.js';
import { useRangeKeys } from '../../ui/useRangeKeys.js';
import { useRangeReport } from '../../ui/useRangeReport.js';
import { halfWidth } from '../../ui/halfWidth.js';
import { useWidth } from '../../ui/useSize.js';
import { useWorking } from '../../ui/useWorking.js';
import { localized } from '../../ui/localized.js';
import { askHome } from '../../workers/client.js';
import type { Roll } from '../../protocol.js';
import { Counters } from './Counters.js';
import { LifeCurve } from './LifeCurve.js';
import { Warranty } from './Warranty.js';
import { capacityRows, depthRows } from '../../charts/chartRows.js';

const AREA = ['wear.', 'capacity.', 'warranty.'];
const FIGURES = [
  'capacity.now',
  'capacity.stateOfHealth',
  'capacity.stateOfHealth.trial',
  'capacity.trial.delivered',
  'capacity.trial.modules',
  'capacity.stateOfHealth.firstDays',
  'capacity.stateOfHealth.nameplate',
  'capacity.fadePerYear',
  'capacity.fadePerYear.yearOnYear',
  'capacity.now.fromCharge',
  'capacity.cutOff',
  'capacity.cutOff.drift',
  'capacity.endOfLife.80',
  'capacity.endOfLife.70',
  'capacity.endOfLife.60',
  'warranty.first',
  'warranty.years',
  'warranty.throughput',
  'warranty.cycles',
];
const USE = [
  'wear.throughput',
  'wear.efc.nameplate',
  'wear.efc.usable',
  'wear.efc.warranty',
  'wear.efc.both',
  'wear.cycles.rainflow',
  'wear.cycles.rainflowDepth',
  'wear.depth.mean',
  'wear.depth.max',
  'wear.damage',
  'wear.soc.mean',
  'wear.timeAbove95',
  'wear.timeBelow10',
  'wear.rate.p50',
  'wear.rate.p95',
  'wear.rate.max',
  'wear.rate.hoursAboveHalf',
  'wear.coldCharge',
  'wear.hotHours',
];
const OWN = new Set([
  'capacity-step',
  'monitor-scale',
  'cut-off-drift',
  'recalibration',
  'counted-twice',
  'cold-charge',
  'long-full',
  'heat',
  'warranty-early',
  'above-rating',
]);
const HARD_RATE = 0.5;

/** How hard the battery is worked, how it ages, and which limit of its warranty comes first. */
export default function WearPage() {
  const { home, roll } = useOverview();
  return roll ? <Wear home={home} roll={roll} /> : <NoLog home={home} />;
}

function Wear({ home, roll }: { readonly home: Home; readonly roll: Roll }) {
  const { days } = roll;
  const { range, select, last, error } = useRangeReport(home, roll, 'all');
  useRangeKeys(days, range, select);
  const { currentData: answer } = useWearQuery({
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
          title="Wear"
          doing="Counting the cycles"
          failed="The wear could not be worked out"
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
  readonly course: WearView | null;
  readonly range: DayRange;
}

function Page({ home, roll, report, course, range }: PageProps) {
  const { workingKey, open, panel } = useWorking(report, 'capacity.now', AREA);
  const [ref, width] = useWidth<HTMLDivElement>();
  const evidence = async () => {
    const [from, to] = [roll.days[range.from]!.date, roll.days[range.to]!.date];
    const file = await askHome((worker) => worker.wearEvidence(atOf(home), from, to));
    if (file) save(`${stemOf(home)}-wear-${from}-${to}.zip`, file);
  };
  return (
    <RangeFrame
      title="Wear"
      days={roll.days}
      range={range}
      report={report}
      asideLabel="Figures of the wear"
      aside={
        <>
          <Findings findings={report.findings.filter(({ code }) => OWN.has(code))} most={6} />
          <Figures keys={FIGURES} report={report} workingKey={workingKey} onOpen={open} />
          {panel}
          <h2 className="mt-4 text-[15px]">How it is used</h2>
          <Figures keys={USE} report={report} workingKey={workingKey} onOpen={open} />
          <p className="mt-3 text-[12.5px] text-faint">
            <button type="button" className="quiet" onClick={() => void evidence()}>
              Save the evidence
            </button>{' '}
            (cycles, capacity estimates and the working of these figures, as tables). It is evidence, not a
            certificate; warranty terms differ, so read the document itself.{' '}
            <Link className="quiet" to={`/h/${home.id}/handbook`}>
              How wear is counted
            </Link>
          </p>
        </>
      }
    >
      <div ref={ref}>
        {width > 0 && course && (
          <Courses
            course={course}
            report={report}
            onOpen={open}
            home={home}
            nowMs={roll.days[range.to]!.toMs}
            width={width}
          />
        )}
      </div>
    </RangeFrame>
  );
}

interface CoursesProps {
  readonly course: WearView;
  readonly report: RangeReport;
  readonly onOpen: (key: string) => void;
  readonly home: Home;
  readonly nowMs: number;
  readonly width: number;
}

function Courses({ course, report, onOpen, home, nowMs, width }: CoursesProps) {
  const { verdict, estimates, depths, hours, rates, temperatures, life } = course;
  const half = halfWidth(width);
  const hasCycles = depths.some(({ count }) => count > 0);
  return (
    <>
      <section aria-label="Verdict" className="my-2 max-w-4xl">
        <p className="text-[15px]">{localized(verdict.says)}</p>
        <p className="text-faint">{localized(`${verdict.restsOn} ${verdict.sharpen}`)}</p>
      </section>
      <section aria-label="Capacity" className="mt-3">
        <h2 className="text-[16px]">Capacity</h2>
        {estimates.length > 0 ? (
          <>
            <p className="mb-1 text-faint">
              a point for each discharge of 30 % or more, ◆ from full to the cut-off, ⊕ a trial, + from a
              charge · line in its band: their course · dashed: straight on, dotted: with the root of time
            </p>
            <Saveable title="Capacity" rows={() => capacityRows(course, home.system.timeZone)}>
              <CapacityChart course={course} width={width} />
            </Saveable>
          </>
        ) : (
          <p className="text-faint">{localized(verdict.restsOn)}</p>
        )}
      </section>
      <Counters report={report} onOpen={onOpen} />
      <Warranty course={course} home={home} nowMs={nowMs} width={width} />
      <AfterPaint>
        <div
          className="mt-4 grid gap-x-7 gap-y-4"
          style={{ gridTemplateColumns: `repeat(auto-fit, ${half}px)` }}
        >
          <section aria-label="Depth of discharge">
            <h2 className="text-[16px]">Cycles by depth</h2>
            {hasCycles ? (
              <Saveable title="Cycles by depth" rows={() => depthRows(course)}>
                <DepthBars depths={depths} width={half} />
              </Saveable>
            ) : (
              <p className="text-faint">The state of charge makes no full swing in this range.</p>
            )}
          </section>
          <section aria-label="Cycle life">
            <h2 className="text-[16px]">Cycle life</h2>
            <LifeCurve home={home} life={life} />
          </section>
          <section aria-label="Charge rates">
            <h2 className="text-[16px]">Charge rates</h2>
            {rates.length > 0 ? (
              <HoursBars
                caption="hours at work, by power ÷ nameplate capacity"
                rows={rates.map(({ from, to, hours: own }) => ({
                  name: `${betweenText(from, to, 1)} C`,
                  hours: own,
                  isHarsh: from >= HARD_RATE - 1e-9,
                }))}
              />
            ) : (
              <p className="text-faint">
                Charge rates need the battery’s power in the log and its nameplate capacity in the system.
              </p>
            )}
          </section>
          <section aria-label="Temperatures">
            <h2 className="text-[16px]">Temperature of the battery</h2>
            {temperatures.length > 0 ? (
              <HoursBars
                caption="hours, by band"
                rows={temperatures.map(({ from, to, hours: own }) => ({
                  name:
                    from === null
                      ? `below ${temperatureText(to!, 0)}`
                      : to === null
                        ? `above ${temperatureText(from, 0)}`
                        : `${temperatureText(from, 0)} – ${temperatureText(to, 0)}`,
                  hours: own,
                  isHarsh: from === null || to === null,
                }))}
              />
            ) : (
              <p className="text-faint">It is not logged; a column battery_temp_c would supply it.</p>
            )}
          </section>
        </div>
        <section aria-label="Charge by hour" className="mt-4">
          <h2 className="text-[16px]">Time at charge</h2>
          <HourTable
            label="Mean state of charge by hour"
            caption="mean charge in %, by month and hour from midnight"
            rows={hours.map((row) => row.map((soc) => (soc === null ? null : 100 * soc)))}
            most={100}
          />
        </section>
      </AfterPaint>
    </>
  );
}
