import {
  type RangeReport,
  type RollDay,
  type DayRange,
  byMeter,
  CAUSES,
  contactsOf,
  GRAINS,
  periodsOf,
  type Cause,
  type Grain,
} from '@long-tally/core';
import { Choice } from '../../ui/Choice.js';
import { Saveable } from '../../ui/Saveable.js';
import { useId, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { FlowBars } from '../../charts/FlowBars.js';
import { RangeRibbon } from '../../charts/RangeRibbon.js';
import type { Home } from '../../db/database.js';
import { atOf } from '../../store/api.js';
import { AfterPaint } from '../../ui/AfterPaint.js';
import { Balance } from '../../ui/Balance.js';
import { Figures } from '../../ui/Figures.js';
import { Findings } from '../../ui/Findings.js';
import { dateText, decimal, gridLimitText } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { NoLog } from '../../ui/NoLog.js';
import { useMore } from '../../ui/useMore.js';
import { RadioChoice } from '../../ui/RadioChoice.js';
import { RangeFrame, Waiting } from '../../ui/RangeFrame.js';
import { useRangeKeys } from '../../ui/useRangeKeys.js';
import { useRangeReport } from '../../ui/useRangeReport.js';
import { useWidth } from '../../ui/useSize.js';
import { schoolsFrom } from '../../ui/schools.js';
import { useSettings } from '../../ui/useSettings.js';
import { useWorking } from '../../ui/useWorking.js';
import type { Roll } from '../../protocol.js';
import { DayNotes } from '../days/DayNotes.js';
import { DaySpread } from './DaySpread.js';
import { Parts } from './Parts.js';
import { Stated } from './Stated.js';
import { Table } from '../../ui/Table.js';
import { localized } from '../../ui/localized.js';
import { flowRows } from '../../charts/chartRows.js';

const OTHERS = [
  'account.selfConsumption',
  'account.gridFreeDays',
  'account.gridFreeShare',
  'account.gridFreeDays.beyondTrickle',
  'account.trickle',
  'account.closingError',
  'account.closingShare',
];
const OWN = new Set([
  'gaps',
  'battery-empty',
  'grid-charged',
  'outage',
  'closing-error',
  'gap-filled',
  'meter-leads',
]);
/** More days than this are told by the month at first. */
const SHORT_DAYS = 62;
const LISTED = 62;

/** The double-entry account of a range: sources and uses, the flows between them, periods, and the days that touched the grid. */
export default function AccountPage() {
  const { home, roll } = useOverview();
  return roll ? <Account home={home} roll={roll} /> : <NoLog home={home} />;
}

function Account({ home, roll }: { readonly home: Home; readonly roll: Roll }) {
  const { range, select, last, error } = useRangeReport(home, roll);
  useRangeKeys(roll.days, range, select);
  return (
    <>
      <RangeRibbon roll={roll} range={range} onSelect={select} />
      {last.report ? (
        <Page home={home} days={roll.days} report={last.report} range={last.range} />
      ) : (
        <Waiting
          title="Account"
          doing="Drawing up the account"
          failed="The account could not be drawn up"
          error={error}
        />
      )}
    </>
  );
}

interface PageProps {
  readonly home: Home;
  readonly days: readonly RollDay[];
  readonly report: RangeReport;
  readonly range: DayRange;
}

function Page({ home, days, report, range }: PageProps) {
  const leading = schoolsFrom(useSettings().leadingSchool);
  const { workingKey, open, panel } = useWorking(report, leading[0]!, ['account.']);
  const [ref, width] = useWidth<HTMLDivElement>();
  const schools = report.findings.find(({ code }) => code === 'schools-differ');
  return (
    <RangeFrame
      title="Account"
      days={days}
      range={range}
      report={report}
      asideLabel="Figures of the account"
      aside={
        <>
          <h2 className="text-[15px]">Self-sufficiency, three schools</h2>
          <Figures keys={leading} report={report} workingKey={workingKey} onOpen={open} />
          <p className="mt-1 text-[13px]">
            {schools
              ? localized(schools.message)
              : leading.every((key) => report.figures[key]?.value != null) &&
                'They lie within two points of each other here: little is charged from the grid.'}
          </p>
          <Stated at={atOf(home)} from={days[range.from]!.date} to={days[range.to]!.date} />
          <Figures keys={OTHERS} report={report} workingKey={workingKey} onOpen={open} />
          {panel}
          <Findings findings={report.findings.filter(({ code }) => OWN.has(code))} most={6} />
        </>
      }
    >
      <div ref={ref} className="max-w-5xl">
        <Balance figures={report.figures} onOpen={open} />
        <h2 className="mt-4 mb-1 text-[16px]">Where each source went</h2>
        {width > 0 && (
          <Saveable title="Where the energy went" rows={() => flowRows(report.figures)}>
            <FlowBars figures={report.figures} width={width} onOpen={open} />
          </Saveable>
        )}
      </div>
      <AfterPaint>
        <Periods days={days} range={range} />
        <Parts home={home} from={days[range.from]!.date} to={days[range.to]!.date} />
        <AfterPaint>
          <DaySpread homeId={home.id} days={days} range={range} />
          <Contacts home={home} days={days} range={range} />
        </AfterPaint>
      </AfterPaint>
    </RangeFrame>
  );
}

interface RangeProps {
  readonly days: readonly RollDay[];
  readonly range: DayRange;
}

function Periods({ days, range }: RangeProps) {
  const short = range.to - range.from < SHORT_DAYS;
  const [chosen, setChosen] = useState<Grain | null>(null);
  const grain = chosen ?? (short ? 'day' : 'month');
  const all = useMemo(() => periodsOf(days, range, grain), [days, range, grain]);
  const { items: periods, more } = useMore(all, LISTED, grain, `${grain} ${range.from} ${range.to}`);
  const energy = (kWh: number | null) => (kWh === null ? '–' : decimal(kWh, kWh < 100 ? 1 : 0));
  const share = (value: number | null) => (value === null ? '–' : `${decimal(100 * value, 1)} %`);
  return (
    <section aria-label="By period" className="mt-5 max-w-5xl">
      <div className="flex items-baseline gap-4">
        <h2 className="text-[16px]">By {grain}</h2>
        <RadioChoice
          label="Length of a period"
          value={grain}
          choices={GRAINS.map((one) => [one, one] as const)}
          onChange={setChosen}
        />
      </div>
      <div className="overflow-x-auto" role="region" aria-label="Periods of the range" tabIndex={0}>
        <Table className="mt-1 w-full text-[13px]">
          <thead>
            <tr className="text-left text-faint">
              <td />
              <th colSpan={7} className="text-center font-normal">
                kWh
              </th>
              <th colSpan={3} className="border-l border-rule-2 pl-2 text-center font-normal">
                the same period of the year before
              </th>
            </tr>
            <tr className="border-b border-rule-2 text-right text-faint">
              <th className="text-left font-normal">{grain}</th>
              {['solar', 'load', 'import', 'export', 'discharge', 'grid-free', 'by the meter'].map((name) => (
                <th key={name} className="pl-2 font-normal">
                  {name}
                </th>
              ))}
              {['load', 'import', 'by the meter'].map((name, i) => (
                <th key={name} className={`pl-2 font-normal ${i === 0 ? 'border-l border-rule-2' : ''}`}>
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {periods.map(({ key, sum, before }) => (
              <tr key={key} className="border-b border-rule text-right">
                <th scope="row" className="text-left font-normal whitespace-nowrap">
                  {grain === 'day'
                    ? dateText(key, 'day')
                    : grain === 'month'
                      ? dateText(`${key}-01`, 'month')
                      : key}
                </th>
                <td>{energy(sum.solar)}</td>
                <td>{energy(sum.load)}</td>
                <td>{energy(sum.import)}</td>
                <td>{energy(sum.export)}</td>
                <td>{energy(sum.discharge)}</td>
                <td>{sum.gridFree ?? '–'}</td>
                <td>{share(byMeter(sum))}</td>
                <td className="border-l border-rule-2 text-faint">{energy(before?.load ?? null)}</td>
                <td className="text-faint">{energy(before?.import ?? null)}</td>
                <td className="text-faint">{share(before && byMeter(before))}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      </div>
      {more}
    </section>
  );
}

function Contacts({ home, days, range }: RangeProps & { readonly home: Home }) {
  const id = useId();
  const [cause, setCause] = useState<Cause | 'all'>('all');
  const contacts = useMemo(() => contactsOf(days, range), [days, range]);
  const chosen = contacts.filter(({ causes }) => cause === 'all' || causes.includes(cause));
  const { items: shown, more } = useMore(chosen, LISTED, 'day', `${cause} ${range.from} ${range.to}`);
  const count = (one: Cause) => contacts.filter(({ causes }) => causes.includes(one)).length;
  return (
    <section aria-label="Days that touched the grid" className="mt-5 max-w-5xl">
      <div className="flex items-baseline gap-4">
        <h2 className="text-[16px]">Days that touched the grid</h2>
        <div className="flex items-baseline gap-2">
          <label htmlFor={id} className="text-faint">
            cause
          </label>
          <Choice
            id={id}
            label="cause"
            className="!w-auto"
            value={cause}
            choices={[
              ['all', `any (${contacts.length})`],
              ...CAUSES.filter(([one]) => count(one) > 0).map(
                ([one, text]) => [one, `${text} (${count(one)})`] as const,
              ),
            ]}
            onChange={setCause}
          />
        </div>
      </div>
      {shown.length === 0 ? (
        <p className="text-faint">
          {days.slice(range.from, range.to + 1).some(({ gridFree }) => gridFree !== null)
            ? `No day of this range bought more than ${gridLimitText(home.system)}.`
            : 'The grid is not known for nine tenths of any day of this range; a column grid_w without gaps would tell.'}
        </p>
      ) : (
        <ul className="mt-1">
          {shown.map(({ index, causes }) => {
            const day = days[index]!;
            return (
              <li
                key={day.date}
                className="grid grid-cols-[110px_70px_1fr] gap-x-3 border-b border-rule py-0.5 sm:grid-cols-[150px_90px_1fr]"
              >
                <Link className="quiet" to={`/h/${home.id}/day/${day.date}`}>
                  {dateText(day.date, 'plain')}
                </Link>
                <span className="text-right font-semibold text-grid">{decimal(day.import ?? 0, 1)} kWh</span>
                <span>
                  {causes[0] === 'none' ? (
                    <span className="text-faint">
                      no cause found: write what you know into the journal (n)
                    </span>
                  ) : (
                    <DayNotes notes={day.notes} timeZone={home.system.timeZone} />
                  )}
                </span>
              </li>
            );
          })}
        </ul>
      )}
      {more}
    </section>
  );
}
