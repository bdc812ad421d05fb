import type { LossesView, RangeReport } from '@long-tally/core';
import { RoundTripMonths } from '../../charts/RoundTripMonths.js';
import { TareLine } from '../../charts/TareLine.js';
import { WindowScatter } from '../../charts/WindowScatter.js';
import { betweenText, counted, decimal, localDateText } from '../../ui/format.js';
import { halfWidth } from '../../ui/halfWidth.js';
import { Saveable } from '../../ui/Saveable.js';
import { Table } from '../../ui/Table.js';
import { localized } from '../../ui/localized.js';
import { roundTripRows, tareRows, windowRows } from '../../charts/chartRows.js';

interface ChartsProps {
  readonly course: LossesView;
  readonly report: RangeReport;
  readonly timeZone: string;
  readonly width: number;
}

export function Charts({ course, report, timeZone, width }: ChartsProps) {
  const { stretches, months, tare, bands, windowBands } = course;
  const windows = stretches.reduce((sum, { windows: own }) => sum + own.length, 0);
  const half = halfWidth(width);
  const side = report.figures['losses.roundTrip.fullToFull']?.basis['side'];
  return (
    <div className="mt-4 grid gap-x-7 gap-y-4" style={{ gridTemplateColumns: `repeat(auto-fit, ${half}px)` }}>
      <section aria-label="Loss of each window">
        <h2 className="text-[16px]">Loss of each full-to-full window</h2>
        {windows > 0 ? (
          <>
            <p className="mb-1 text-faint">
              {counted(windows, 'window')} · the line’s foot is the idle draw, its slope the conversion
            </p>
            <Saveable title="Loss of each full-to-full window" rows={() => windowRows(course, timeZone)}>
              <WindowScatter stretches={stretches} width={half} />
            </Saveable>
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
          <p className="text-faint">{localized(report.figures['losses.idle.battery']?.reason ?? '')}</p>
        )}
      </section>
      <section aria-label="Round trip by month">
        <h2 className="text-[16px]">Round trip by month{typeof side === 'string' ? `, ${side}` : ''}</h2>
        {months.length > 0 ? (
          <>
            <p className="mb-1 text-faint">line: all windows of a month · band: the middle half of them</p>
            <Saveable title="Round trip by month" rows={() => roundTripRows(course)}>
              <RoundTripMonths course={course} width={half} />
            </Saveable>
          </>
        ) : (
          <p className="text-faint">
            {localized(report.figures['losses.roundTrip.fullToFull']?.reason ?? '')}
          </p>
        )}
      </section>
      <section aria-label="Tare line">
        <h2 className="text-[16px]">The inverter’s tare line</h2>
        {tare ? (
          <>
            <p className="mb-1 text-faint">
              half hours by night on the battery alone · the foot is drawn whatever the home takes
            </p>
            <Saveable title="The inverter’s tare line" rows={() => tareRows(tare)}>
              <TareLine tare={tare} width={half} />
            </Saveable>
          </>
        ) : (
          <p className="text-faint">{localized(report.figures['losses.idle.inverter']?.reason ?? '')}</p>
        )}
      </section>
      <section aria-label="Idle draw and efficiency">
        <h2 className="text-[16px]">Idle draw and round trip over time</h2>
        <Table className="w-full text-[13px]">
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
        </Table>
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
    <Table className="mb-2 w-full text-[13px]">
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
              {Number.isFinite(toW) ? `${betweenText(fromW, toW, 0)} W` : `above ${decimal(fromW, 0)} W`}
            </th>
            <td className="text-right">{decimal(count, 0)}</td>
            <td className="text-right">{decimal(100 * share, 1)} %</td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}
