import { isoOf, type ToldOutage, type DayRange } from '@long-tally/core';
import { Link, useLocation } from 'react-router';
import type { Home } from '../../db/database.js';
import { clockText, dateText, decimal, hoursText, localDateOf } from '../../ui/format.js';
import { useMore } from '../../ui/useMore.js';
import { evidenceText, expectedHours } from './words.js';
import { Table } from '../../ui/Table.js';
import { localized } from '../../ui/localized.js';

const LISTED = 40;

interface LedgerProps {
  readonly outages: readonly ToldOutage[];
  readonly home: Home;
  readonly reason: string | null;
  readonly range: DayRange;
}

/** The ledger of outages, newest first; each opens. */
export function Ledger({ outages, home, reason, range }: LedgerProps) {
  const { timeZone } = home.system;
  const { search } = useLocation();
  const { items, more } = useMore([...outages].reverse(), LISTED, 'outage', `${range.from} ${range.to}`);
  const share = (soc: number) => (Number.isNaN(soc) ? '–' : decimal(100 * soc, 0));
  const kWh = (wh: number) => (Number.isNaN(wh) ? '–' : decimal(wh / 1000, 1));
  const dateOf = (ms: number) => localDateOf(ms, timeZone);
  return (
    <section aria-label="Ledger of outages" className="mt-3">
      <h2 className="text-[16px]">Ledger of outages</h2>
      {outages.length === 0 ? (
        <p className="text-faint">
          {localized(reason ?? 'The grid was not down in this range, as far as the log’s step shows.')}
        </p>
      ) : (
        <div className="overflow-x-auto" role="region" aria-label="Outages of the range" tabIndex={0}>
          <Table className="w-full text-[13px]">
            <thead>
              <tr className="border-b border-rule-2 text-right text-faint">
                <th scope="col" className="text-left font-normal">
                  began
                </th>
                {[
                  'lasted',
                  'expected',
                  'charge, %',
                  'load, kWh',
                  'solar',
                  'battery',
                  'peak, kW',
                  'without power',
                ].map((name) => (
                  <th key={name} scope="col" className="pl-2 font-normal">
                    {name}
                  </th>
                ))}
                <th scope="col" className="pl-3 text-left font-normal">
                  known by
                </th>
              </tr>
            </thead>
            <tbody>
              {items.map((one) => (
                <tr key={one.fromMs} className="border-b border-rule text-right">
                  <th scope="row" className="text-left font-normal whitespace-nowrap">
                    <Link className="quiet" to={`/h/${home.id}/outages/${isoOf(one.fromMs)}${search}`}>
                      {dateText(dateOf(one.fromMs), 'plain')} {clockText(one.fromMs, timeZone)}
                    </Link>
                  </th>
                  <td>{hoursText((one.toMs - one.fromMs) / 3_600_000)}</td>
                  <td className={one.expected?.isHeld === false ? 'text-red' : 'text-faint'}>
                    {one.expected?.expectedH ? expectedHours(one.expected.expectedH.value) : '–'}
                  </td>
                  <td>
                    {share(one.socStart)} → {share(one.socEnd)}
                    {one.isPlanned && !Number.isNaN(one.lowestMs) && (
                      <span className="block text-[12px] text-faint">
                        lowest {share(one.socLowest)} at {clockText(one.lowestMs, timeZone)}
                      </span>
                    )}
                  </td>
                  <td>{kWh(one.loadWh)}</td>
                  <td>{kWh(one.solarWh)}</td>
                  <td>{kWh(one.batteryWh)}</td>
                  <td>{Number.isNaN(one.peakW) ? '–' : decimal(one.peakW / 1000, 2)}</td>
                  <td className={one.unservedS > 0 ? 'text-red' : 'text-faint'}>
                    {one.unservedS > 0 ? hoursText(one.unservedS / 3600) : '·'}
                  </td>
                  <td className="pl-3 text-left text-faint">
                    {evidenceText(one)}
                    {one.heldBack ? ', solar held back' : ''}
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </div>
      )}
      {more}
    </section>
  );
}
