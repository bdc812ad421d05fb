import type { LossCourse, RangeReport } from '@long-tally/core';
import { Link } from 'react-router';
import { LossBudget } from '../../charts/LossBudget.js';
import { RangeRibbon } from '../../charts/RangeRibbon.js';
import { RoundTripMonths } from '../../charts/RoundTripMonths.js';
import { TareLine } from '../../charts/TareLine.js';
import { WindowScatter } from '../../charts/WindowScatter.js';
import type { Home } from '../../db/database.js';
import { atOf, useLossesQuery } from '../../store/api.js';
import { Figures } from '../../ui/Figures.js';
import { Findings } from '../../ui/Findings.js';
import { counted, decimal, localDateText } from '../../ui/format.js';
import { useOverview } from '../../ui/HomeLayout.js';
import { rangeTitle, type DayRange } from '../../ui/useRange.js';
import { useRangeKeys } from '../../ui/useRangeKeys.js';
import { useRangeReport } from '../../ui/useRangeReport.js';
import { useWidth } from '../../ui/useSize.js';
import { useWorking } from '../../ui/useWorking.js';
import { NoLog } from '../../ui/NoLog.js';
import { ShortRunForm } from './ShortRunForm.js';
import type { Roll } from '../../workers/homeWorker.js';

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
  return roll ? <Losses home={home} roll={roll} /> : <NoLog home={home} />;
}

function Losses({ home, roll }: { readonly home: Home; readonly roll: Roll }) {
  const { days } = roll;
  const { range, select, last, error } = useRangeReport(home, roll);
  useRangeKeys(days, range, select);
  const { currentData: course } = useLossesQuery({
    at: atOf(home),
    from: days[last.range.from]!.date,
    to: days[last.range.to]!.date,
  });
  return (
    <>
      <RangeRibbon roll={roll} range={range} onSelect={select} />
      {last.report ? (
        <Page home={home} roll={roll} report={last.report} course={course ?? null} range={last.range} />
      ) : (
        <main id="view" className="p-5">
          <p role="status" className="text-faint">
            {error === null ? 'Adding up the losses …' : `The losses could not be added up: ${error}`}
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
  readonly course: LossCourse | null;
  readonly range: DayRange;
}

function Page({ home, roll, report, course, range }: PageProps) {
  const { workingKey, open, panel } = useWorking(report, 'losses.idle.battery', AREA);
  const [ref, width] = useWidth<HTMLDivElement>();
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_340px] xl:grid-cols-[minmax(0,1fr)_412px]">
      <main
        id="view"
        className="min-h-0 min-w-0 overflow-y-auto border-r border-rule-2 px-5 pt-3 pb-8"
        tabIndex={0}
      >
        <h1 className="text-xl">Losses</h1>
        <p className="text-faint">
          {rangeTitle(roll.days, range)} · coverage {decimal(report.coverage.share * 100, 1)} %
        </p>
        <p className="my-2 max-w-4xl text-[15px]">{lead(report)}</p>
        <div ref={ref}>
          {width > 0 && (
            <>
              {report.figures['account.losses']?.value != null && (
                <LossBudget figures={report.figures} width={width} onOpen={open} />
              )}
              {course && (
                <Charts course={course} report={report} timeZone={home.system.timeZone} width={width} />
              )}
            </>
          )}
        </div>
        <ShortRunForm
          usableKWh={usableOf(home)}
          idle={report.figures['losses.idle.battery']}
          conversion={report.figures['losses.conversion.discharge']}
        />
      </main>
      <aside
        aria-label="Figures of the losses"
        className="min-h-0 overflow-y-auto px-4 pt-1 pb-6"
        tabIndex={0}
      >
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
      </aside>
    </div>
  );
}

/** Usable capacity of the latest configuration, kWh. */
function usableOf({ system }: Home): number | null {
  const { modules, moduleKWh, usableShare } = system.configurations?.at(-1)?.battery ?? {};
  if (modules === undefined || moduleKWh === undefined || usableShare === undefined) return null;
  return Number((modules * moduleKWh * usableShare).toFixed(2));
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

interface ChartsProps {
  readonly course: LossCourse;
  readonly report: RangeReport;
  readonly timeZone: string;
  readonly width: number;
}

function Charts({ course, report, timeZone, width }: ChartsProps) {
  const { stretches, months, tare, bands, windowBands } = course;
  const windows = stretches.reduce((sum, { windows: own }) => sum + own.length, 0);
  const half = Math.floor((width - 28) / 2);
  const side = report.figures['losses.roundTrip.fullToFull']?.basis['side'];
  return (
    <div className="mt-4 grid grid-cols-2 gap-x-7 gap-y-4">
      <section aria-label="Loss of each window">
        <h2 className="text-[16px]">Loss of each full-to-full window</h2>
        {windows > 0 ? (
          <>
            <p className="mb-1 text-faint">
              {counted(windows, 'window')} · the line’s foot is the idle draw, its slope the conversion
            </p>
            <WindowScatter stretches={stretches} width={half} />
            <ul className="text-[13px]">
              {stretches.map(({ fromMs, idleW, lambda }, s) => (
                <li key={fromMs}>
                  <span className="text-battery">{s === stretches.length - 1 ? '●' : '○'}</span>{' '}
                  {stretches.length > 1 ? `from ${localDateText(fromMs, timeZone)}: ` : ''}
                  {idleW === null || lambda === null
                    ? 'idle draw and conversion are not told apart'
                    : `foot ${decimal(idleW, 0)} W (${decimal(idleW * 0.024, 2)} kWh a day), slope ${decimal(lambda * 100, 1)} %`}
                </li>
              ))}
            </ul>
          </>
        ) : (
          <p className="text-faint">{report.figures['losses.idle.battery']?.reason}</p>
        )}
      </section>
      <section aria-label="Round trip by month">
        <h2 className="text-[16px]">Round trip by month{typeof side === 'string' ? `, ${side}` : ''}</h2>
        {months.length > 0 ? (
          <>
            <p className="mb-1 text-faint">line: all windows of a month · band: the middle half of them</p>
            <RoundTripMonths course={course} width={half} />
          </>
        ) : (
          <p className="text-faint">{report.figures['losses.roundTrip.fullToFull']?.reason}</p>
        )}
      </section>
      <section aria-label="Tare line">
        <h2 className="text-[16px]">The inverter’s tare line</h2>
        {tare ? (
          <>
            <p className="mb-1 text-faint">
              half hours by night on the battery alone · the foot is drawn whatever the home takes
            </p>
            <TareLine tare={tare} width={half} />
          </>
        ) : (
          <p className="text-faint">{report.figures['losses.idle.inverter']?.reason}</p>
        )}
      </section>
      <section aria-label="Idle draw and efficiency">
        <h2 className="text-[16px]">Idle draw and round trip over time</h2>
        <table className="w-full text-[13px]">
          <thead>
            <tr className="border-b border-rule-2 text-left text-faint">
              {['windows from', 'until', 'configuration', 'round trip', 'idle draw', 'kWh a year'].map(
                (name, i) => (
                  <th key={name} className={`font-normal ${i > 2 ? 'text-right' : ''}`}>
                    {name}
                  </th>
                ),
              )}
            </tr>
          </thead>
          <tbody>
            {stretches.map(({ fromMs, toMs, configuration, roundTrip, idleW, idleBounds }) => (
              <tr key={fromMs} className="border-b border-rule">
                <td>{localDateText(fromMs, timeZone)}</td>
                <td>{localDateText(toMs, timeZone)}</td>
                <td>{configuration}</td>
                <td className="text-right">{decimal(100 * roundTrip, 1)} %</td>
                <td className="text-right">
                  {idleW === null ? 'not told apart' : `${decimal(idleW, 0)} W`}
                  {idleBounds && (
                    <span className="block text-[12px] text-faint">
                      {decimal(idleBounds[0], 0)} – {decimal(idleBounds[1], 0)}
                    </span>
                  )}
                </td>
                <td className="text-right">{idleW === null ? '–' : decimal(idleW * 8.766, 0)}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <h2 className="mt-3 text-[16px]">Efficiency by power</h2>
        {windowBands.length > 0 && (
          <Bands
            title="mean discharge of a window"
            counts="windows"
            shares="round trip"
            rows={windowBands.map(({ fromW, toW, windows: own, roundTrip }) => ({
              fromW,
              toW,
              count: own,
              share: roundTrip,
            }))}
          />
        )}
        {bands.length > 0 ? (
          <Bands
            title="the home takes, by night"
            counts="hours"
            shares="of what the battery gave"
            rows={bands.map(({ fromW, toW, hours, efficiency }) => ({
              fromW,
              toW,
              count: hours,
              share: efficiency,
            }))}
          />
        ) : (
          <p className="text-faint">
            What the inverter makes of light loads needs the battery’s DC power beside the load.
          </p>
        )}
      </section>
    </div>
  );
}

interface BandsProps {
  readonly title: string;
  readonly counts: string;
  readonly shares: string;
  readonly rows: readonly {
    readonly fromW: number;
    readonly toW: number;
    readonly count: number;
    readonly share: number;
  }[];
}

function Bands({ title, counts, shares, rows }: BandsProps) {
  return (
    <table className="mb-2 w-full text-[13px]">
      <thead>
        <tr className="border-b border-rule-2 text-left text-faint">
          <th className="font-normal">{title}</th>
          <th className="text-right font-normal">{counts}</th>
          <th className="text-right font-normal">{shares}</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(({ fromW, toW, count, share }) => (
          <tr key={fromW} className="border-b border-rule">
            <th scope="row" className="text-left font-normal">
              {Number.isFinite(toW)
                ? `${decimal(fromW, 0)} – ${decimal(toW, 0)} W`
                : `above ${decimal(fromW, 0)} W`}
            </th>
            <td className="text-right">{decimal(count, 0)}</td>
            <td className="text-right">{decimal(100 * share, 1)} %</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
