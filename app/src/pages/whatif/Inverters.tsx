import type { Interval, InverterCounts } from '@long-tally/core';
import { Link } from 'react-router';
import { betweenText, counted, decimal } from '../../ui/format.js';
import { Table } from '../../ui/Table.js';

interface Props {
  readonly inverters: InverterCounts;
  readonly homeId: string;
  readonly hasAppliances: boolean;
}

/** How many inverters carry the highest measured load, each leg of it and each start. */
export function Inverters({
  inverters: { highestW, usualPeakW, counts, least },
  homeId,
  hasAppliances,
}: Props) {
  const hours = (above: Interval | null) => {
    if (above === null) return '–';
    const digits = above.high < 10 ? 1 : 0;
    return (
      <>
        {decimal(above.value, digits)}{' '}
        <span className="text-[12px] text-faint">{betweenText(above.low, above.high, digits)}</span>
      </>
    );
  };
  const kW = (watts: number | null) => (watts === null ? '–' : decimal(watts / 1000, 1));
  return (
    <section aria-label="How many inverters" className="mt-5 max-w-4xl">
      <h2 className="text-[16px]">How many inverters</h2>
      <p>
        The highest load of the range is {kW(highestW)} kW; 999 of {decimal(1000, 0)} intervals lie at or
        below {kW(usualPeakW)} kW.{' '}
        {least === null
          ? `${counted(counts.length, 'inverter')} would still not carry all of it without the grid.`
          : `${counted(least, 'inverter')} ${least === 1 ? 'carries' : 'carry'} all of it without the grid.`}
      </p>
      <Table className="mt-1 text-[13px]">
        <thead>
          <tr className="border-b border-rule-2 text-right align-bottom text-faint">
            <th scope="col" className="text-left font-normal">
              inverters
            </th>
            {[
              'limit, kW',
              'hours above it',
              'limit of a leg, kW',
              'hours above it',
              'starts it cannot carry',
            ].map((text, k) => (
              <th key={k} scope="col" className="pl-5 font-normal">
                {text}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {counts.map(({ units, limitW, hoursAbove, perLegW, hoursAboveLeg, failingStarts }) => (
            <tr key={units} className="border-b border-rule text-right">
              <th scope="row" className="text-left font-normal">
                {units}
              </th>
              <td>{kW(limitW)}</td>
              <td>{hours(hoursAbove)}</td>
              <td>{kW(perLegW)}</td>
              <td>{hours(hoursAboveLeg)}</td>
              <td>{failingStarts.length > 0 ? failingStarts.join(', ') : hasAppliances ? 'none' : '–'}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      {!hasAppliances && (
        <p className="text-faint">
          <Link to={`/h/${homeId}/trials/appliances`} className="underline decoration-dotted">
            List the appliances
          </Link>{' '}
          to see what the starts of motors ask for.
        </p>
      )}
    </section>
  );
}
