import { isoOf, type OutagesView } from '@long-tally/core';
import { Link, useLocation } from 'react-router';
import type { Home } from '../../db/database.js';
import { clockText, decimal, localDateText, shortTimeText } from '../../ui/format.js';
import { useMore } from '../../ui/useMore.js';
import { Faults } from './Faults.js';
import { CAUSES } from './stopWords.js';
import { Table } from '../../ui/Table.js';

const LISTED = 12;

interface Props {
  readonly home: Home;
  readonly peaks: OutagesView['peaks'];
}

/** Stops of the output and loads that went over to the grid, newest first, and what each leg was seen to hold. */
export function Stops({ home, peaks: { stops, transfers, faults, proven, stepMs } }: Props) {
  const { timeZone } = home.system;
  const events = [
    ...stops.map((one) => ({
      ...one,
      kind: 'stopped' as const,
      seconds: one.restartMs === null ? null : (one.restartMs - one.atMs) / 1000,
    })),
    ...transfers.map((one) => ({
      ...one,
      kind: one.wasCharging ? ('to the grid, in the sun' as const) : ('to the grid' as const),
      seconds: (one.toMs - one.atMs) / 1000,
      limitW: null,
      fault: null,
    })),
  ].sort((one, other) => other.atMs - one.atMs);
  const { items, more } = useMore(events, LISTED, 'stop', home.id);
  const kW = (watts: number) => (Number.isNaN(watts) ? '–' : decimal(watts / 1000, 2));
  const { search } = useLocation();
  const hasLegs = events.some(({ legsW }) => legsW.length > 0);
  return (
    <section aria-label="Overloads and stops" className="mt-5 max-w-4xl">
      <h2 className="text-[16px]">Overloads and stops</h2>
      {events.length === 0 ? (
        <p className="text-faint">
          In this range no load stopped the output or sent the home to the grid, as far as the log’s step
          shows.
        </p>
      ) : (
        <>
          <Table className="w-full text-[13px]">
            <thead>
              <tr className="border-b border-rule-2 text-left text-faint">
                {[
                  'began',
                  'what came',
                  'why',
                  'load, kW',
                  ...(hasLegs ? ['legs, kW'] : []),
                  'charge, %',
                  'lasted',
                ].map((name) => (
                  <th key={name} scope="col" className="pr-3 font-normal">
                    {name}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {items.map(({ atMs, kind, cause, loadW, legsW, limitW, soc, seconds, fault }) => (
                <tr key={`${atMs} ${kind}`} className="border-b border-rule">
                  <th scope="row" className="pr-3 text-left font-normal whitespace-nowrap">
                    <Link className="quiet" to={`/h/${home.id}/outages/stops/${isoOf(atMs)}${search}`}>
                      {localDateText(atMs, timeZone)}, {clockText(atMs, timeZone, stepMs)}
                    </Link>
                  </th>
                  <td className={kind === 'stopped' ? 'text-red' : ''}>{kind}</td>
                  <td>
                    {CAUSES[cause]}
                    {limitW !== null && ` of ${kW(limitW)} kW`}
                    {fault !== null && `: ${fault}`}
                  </td>
                  <td>{kW(loadW)}</td>
                  {hasLegs && <td>{legsW.map(kW).join(' · ')}</td>}
                  <td>{Number.isNaN(soc) ? '–' : decimal(100 * soc, 0)}</td>
                  <td>{seconds === null ? 'to the end of the log' : shortTimeText(seconds)}</td>
                </tr>
              ))}
            </tbody>
          </Table>
          {more}
          <p className="mt-1 text-faint">
            Find out why before you restart. Whether the inverter restarts by itself is a setting to decide
            on.
          </p>
        </>
      )}
      <Faults home={home} faults={faults} />
      {proven.length > 0 && (
        <>
          <h3 className="mt-3 text-[14px] font-semibold">What was held without the grid, and what was not</h3>
          <Table className="text-[13px]">
            <thead>
              <tr className="border-b border-rule-2 text-left text-faint">
                {['what', 'charge', 'highest held, kW', 'lowest that stopped it, kW'].map((name) => (
                  <th key={name} scope="col" className="pr-4 font-normal">
                    {name}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {proven.map(({ leg, charge, heldW, trippedW }) => (
                <tr key={`${leg} ${charge}`} className="border-b border-rule">
                  <th scope="row" className="pr-4 text-left font-normal">
                    {leg === 0 ? 'all together' : `leg ${leg}`}
                  </th>
                  <td className="pr-4">{charge === 'above' ? '10 % and more' : 'below 10 %'}</td>
                  <td className="pr-4">{kW(heldW)}</td>
                  <td>{kW(trippedW)}</td>
                </tr>
              ))}
            </tbody>
          </Table>
          <p className="mt-1 text-faint">The real limit lies between the two.</p>
        </>
      )}
    </section>
  );
}
