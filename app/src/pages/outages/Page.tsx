import type { Outage, OutageCourse, RangeReport } from '@long-tally/core';
import { Link } from 'react-router';
import { HourTable, MONTHS } from '../../charts/HourTable.js';
import { RangeRibbon } from '../../charts/RangeRibbon.js';
import { SurvivalCurve } from '../../charts/SurvivalCurve.js';
import type { Home } from '../../db/database.js';
import { atOf, useOutagesQuery } from '../../store/api.js';
import { Figures } from '../../ui/Figures.js';
import { clockText, counted, dateText, decimal, hoursText } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { NoLog } from '../../ui/NoLog.js';
import { useMore } from '../../ui/useMore.js';
import { useRangeKeys } from '../../ui/useRangeKeys.js';
import { useRangeReport } from '../../ui/useRangeReport.js';
import { rangeTitle, type DayRange } from '../../ui/useRange.js';
import { useWidth } from '../../ui/useSize.js';
import { useWorking } from '../../ui/useWorking.js';
import type { Roll } from '../../workers/homeWorker.js';
import { Runtime } from './Runtime.js';

const AREA = ['outage.', 'peak.'];
const SEEN = ['outage.count', 'outage.hours', 'outage.carriedShare'];
const AHEAD = [
  'outage.runtime.now',
  'outage.survive.12h',
  'outage.survive.24h',
  'outage.replay.p10',
  'outage.replay.p50',
  'outage.replay.p90',
  'outage.reserve.12h90',
  'peak.load',
  'peak.headroom.batteryOnly',
];
const HORIZON_H = 336;
const LISTED = 40;
const CAUTIONS = [
  'Run the home from the battery only through the installed and approved isolating gear. Never feed a dead grid.',
  'Know before a storm which circuits are backed up. Someone who depends on powered medical equipment plans with the supplier and the grid company, not with this page.',
  'Add loads in steps and stay below the battery-only rating, per leg as well as in total: motors draw several times their running power when they start.',
  'Below about 10 % many inverters limit their output. Stop above the cut-off and recharge the same day; a restart from empty may need a procedure of its own, see the manual.',
];

/** What outages there were, how long the home would last in the next one, and what reserve to keep. */
export default function OutagesPage() {
  const { home, roll } = useOverview();
  return roll ? <Outages home={home} roll={roll} /> : <NoLog home={home} />;
}

function Outages({ home, roll }: { readonly home: Home; readonly roll: Roll }) {
  const { days } = roll;
  const { range, select, last, error } = useRangeReport(home, roll);
  useRangeKeys(days, range, select);
  const { currentData: course } = useOutagesQuery({
    at: atOf(home),
    from: days[last.range.from]!.date,
    to: days[last.range.to]!.date,
  });
  return (
    <>
      <RangeRibbon roll={roll} range={range} onSelect={select} />
      {last.report && course ? (
        <Page home={home} roll={roll} report={last.report} course={course} range={last.range} />
      ) : (
        <main id="view" className="p-5">
          <h1 className="text-xl">Outages</h1>
          <p role="status" className="text-faint">
            {error === null
              ? 'Beginning an outage in every hour of the range …'
              : `The outages could not be told: ${error}`}
          </p>
        </main>
      )}
    </>
  );
}

interface PageProps {
  readonly home: Home;
  readonly roll: Roll;
  readonly report: RangeReport;
  readonly course: OutageCourse;
  readonly range: DayRange;
}

function Page({ home, roll, report, course, range }: PageProps) {
  const all = { ...report, figures: { ...report.figures, ...course.figures } };
  const { workingKey, open, panel } = useWorking(all, 'outage.survive.12h', AREA);
  const [ref, width] = useWidth<HTMLDivElement>();
  const { curve, table, runsOn } = course;
  const now = course.figures['outage.runtime.now'];
  const basis = (key: string) => (typeof now?.basis[key] === 'number' ? now.basis[key] : null);
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_340px] xl:grid-cols-[minmax(0,1fr)_412px]">
      <main
        id="view"
        className="min-h-0 min-w-0 overflow-y-auto border-r border-rule-2 px-5 pt-3 pb-8"
        tabIndex={0}
      >
        <h1 className="text-xl">Outages</h1>
        <p className="text-faint">
          {rangeTitle(roll.days, range)} · coverage {decimal(report.coverage.share * 100, 1)} %
        </p>
        <Ledger
          outages={course.outages}
          home={home}
          reason={report.figures['outage.count']?.reason ?? null}
          range={range}
        />
        {runsOn && (
          <Runtime
            key={`${range.from} ${range.to}`}
            runsOn={runsOn}
            socNow={basis('soc')}
            loadW={basis('loadW')}
          />
        )}
        <section aria-label="Survival" className="mt-4" ref={ref}>
          <h2 className="text-[16px]">If it had begun in any hour of this range</h2>
          {curve.length > 1 && width > 0 ? (
            <>
              <p className="mb-1 text-faint">
                measured load and sun carried on from every full hour, on the battery alone, up to 14 days;
                runs that the log cuts off are counted as far as they are seen
              </p>
              <SurvivalCurve curve={curve} horizonH={HORIZON_H} width={width} />
            </>
          ) : (
            <p className="text-faint">
              {course.figures['outage.replay.p50']?.reason ?? 'No start of this range is seen to end.'}
            </p>
          )}
        </section>
        {table.length > 0 && (
          <section aria-label="Lasting by hour" className="mt-4">
            <h2 className="text-[16px]">Hours that half of the starts last</h2>
            <HourTable
              label="Hours lasted by month and hour"
              caption="by month and hour at which it begins; up to 336"
              rows={table}
              most={72}
            />
          </section>
        )}
        <Reserves course={course} />
      </main>
      <aside
        aria-label="Figures of the outages"
        className="min-h-0 overflow-y-auto px-4 pt-1 pb-6"
        tabIndex={0}
      >
        <h2 className="mt-3 text-[15px]">Seen</h2>
        <Figures keys={SEEN} report={all} workingKey={workingKey} onOpen={open} />
        <h2 className="mt-3 text-[15px]">In the next one</h2>
        <Figures keys={AHEAD} report={all} workingKey={workingKey} onOpen={open} />
        {panel}
        <h2 className="mt-4 text-[15px]">Before you rely on it</h2>
        <ul className="mt-1 list-disc pl-4 text-[12.5px]">
          {CAUTIONS.map((text) => (
            <li key={text}>{text}</li>
          ))}
        </ul>
      </aside>
    </div>
  );
}

interface LedgerProps {
  readonly outages: readonly Outage[];
  readonly home: Home;
  readonly reason: string | null;
  readonly range: DayRange;
}

function Ledger({ outages, home, reason, range }: LedgerProps) {
  const { timeZone } = home.system;
  const { items, more } = useMore([...outages].reverse(), LISTED, 'outage', `${range.from} ${range.to}`);
  const share = (soc: number) => (Number.isNaN(soc) ? '–' : decimal(100 * soc, 0));
  const kWh = (wh: number) => (Number.isNaN(wh) ? '–' : decimal(wh / 1000, 1));
  const dateOf = (ms: number) => new Intl.DateTimeFormat('en-CA', { timeZone }).format(ms);
  return (
    <section aria-label="Ledger of outages" className="mt-3">
      <h2 className="text-[16px]">Ledger of outages</h2>
      {outages.length === 0 ? (
        <p className="text-faint">
          {reason ?? 'The grid was not down in this range, as far as the log’s step shows.'}
        </p>
      ) : (
        <div className="overflow-x-auto" role="region" aria-label="Outages of the range" tabIndex={0}>
          <table className="w-full text-[13px]">
            <thead>
              <tr className="border-b border-rule-2 text-right text-faint">
                <th scope="col" className="text-left font-normal">
                  began
                </th>
                {['lasted', 'charge, %', 'load, kWh', 'solar', 'battery', 'peak, kW', 'without power'].map(
                  (name) => (
                    <th key={name} scope="col" className="pl-2 font-normal">
                      {name}
                    </th>
                  ),
                )}
                <th scope="col" className="pl-3 text-left font-normal">
                  known by
                </th>
              </tr>
            </thead>
            <tbody>
              {items.map((one) => (
                <tr key={one.fromMs} className="border-b border-rule text-right">
                  <th scope="row" className="text-left font-normal whitespace-nowrap">
                    <Link className="quiet" to={`/h/${home.id}/day/${dateOf(one.fromMs)}`}>
                      {dateText(dateOf(one.fromMs), 'plain')}
                    </Link>{' '}
                    {clockText(one.fromMs, timeZone)}
                  </th>
                  <td>{hoursText((one.toMs - one.fromMs) / 3_600_000)}</td>
                  <td>
                    {share(one.socStart)} → {share(one.socEnd)}
                  </td>
                  <td>{kWh(one.loadWh)}</td>
                  <td>{kWh(one.solarWh)}</td>
                  <td>{kWh(one.batteryWh)}</td>
                  <td>{Number.isNaN(one.peakW) ? '–' : decimal(one.peakW / 1000, 2)}</td>
                  <td className={one.unservedS > 0 ? 'text-red' : 'text-faint'}>
                    {one.unservedS > 0 ? hoursText(one.unservedS / 3600) : '·'}
                  </td>
                  <td className="pl-3 text-left text-faint">
                    {one.isPlanned ? 'planned, by the journal; ' : ''}
                    {one.evidence}
                    {one.heldBack ? ', solar held back' : ''}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {more}
    </section>
  );
}

function Reserves({ course: { reserves, reserveSet } }: { readonly course: OutageCourse }) {
  if (reserves.length === 0) return null;
  const short = reserves.filter((soc) => soc !== null && reserveSet !== null && soc > reserveSet).length;
  return (
    <section aria-label="Reserve by month" className="mt-4 max-w-5xl">
      <h2 className="text-[16px]">Reserve that lasts 12 h in nine of ten starts</h2>
      <table className="mt-1 w-full text-[13px]">
        <thead>
          <tr className="border-b border-rule-2 text-right text-faint">
            {MONTHS.map((month) => (
              <th key={month} scope="col" className="font-normal">
                {month}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr className="text-right">
            {reserves.map((soc, month) => (
              <td
                key={MONTHS[month]}
                className={soc !== null && reserveSet !== null && soc > reserveSet ? 'text-red' : ''}
              >
                {soc === null ? '–' : `${decimal(100 * soc, 0)} %`}
              </td>
            ))}
          </tr>
        </tbody>
      </table>
      <p className="mt-1 text-faint">
        With the sun that there was; – where nothing is known or even full does not last.
        {reserveSet !== null &&
          ` The reserve set is ${decimal(100 * reserveSet, 0)} %: less than that in ${counted(short, 'month')}.`}
      </p>
    </section>
  );
}
