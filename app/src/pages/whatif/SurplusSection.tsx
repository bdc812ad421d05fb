import type { Interval } from '@long-tally/core';
import { useDeferredValue } from 'react';
import { HourTable } from '../../charts/HourTable.js';
import { useSurplusQuery, type Ranged } from '../../store/api.js';
import { betweenText, counted, decimal } from '../../ui/format.js';
import { Table } from '../../ui/Table.js';

/** What the sun leaves over by month and hour, and what another load could have of it. */
export function SurplusSection(asked: Ranged) {
  // Its table of hours is drawn bit by bit: the page goes on meanwhile.
  const answer = useDeferredValue(useSurplusQuery(asked).currentData);
  if (!answer || 'problem' in answer || answer.surplus.kWhADay.value < 0.05) return null;
  const { kWhADay, byHour, byMonth, loads, days, modules } = answer.surplus;
  const rows = byHour.map((row) => row.map((kW) => (kW === null ? null : Math.round(10 * kW.value))));
  const most = Math.max(1, ...rows.flat().map((value) => value ?? 0));
  return (
    <section aria-label="Surplus" className="mt-5 max-w-4xl">
      <h2 className="text-[16px]">What the sun leaves over</h2>
      <p>
        {held(kWhADay, 1)} kWh a day are sold or held back when the load and the battery are served. On{' '}
        {held(days.surplus, 0)} of {counted(days.known, 'day')} it is 2 kWh or more, for up to{' '}
        {held(days.longestRun, 0)} days on end.
        {modules &&
          ` A summer’s day would fill ${held(modules.summer, 1)} more modules, one of the darkest four months ${held(modules.winter, 1)}.`}
      </p>
      <HourTable
        label="Surplus by month and hour"
        caption="Mean surplus by month and hour, in tenths of a kilowatt"
        rows={rows}
        most={most}
        last={{
          heading: 'kWh a day',
          texts: byMonth.map((kWh) => (kWh === null ? '–' : held(kWh, 1))),
        }}
      />
      <Table className="mt-2 text-[13px]">
        <caption className="text-left text-faint">
          A load that takes what is left over, without touching what the battery takes
        </caption>
        <thead>
          <tr className="border-b border-rule-2 text-right text-faint">
            <th scope="col" className="pr-4 text-left font-normal">
              power
            </th>
            <th scope="col" className="pl-4 font-normal">
              kWh a day
            </th>
            <th scope="col" className="pl-4 font-normal">
              hours a day at its power
            </th>
            <th scope="col" className="pl-4 font-normal">
              days with an hour or more, %
            </th>
          </tr>
        </thead>
        <tbody>
          {loads.map(({ kW, kWhADay: taken, hoursADay, days: share }) => (
            <tr key={kW} className="border-b border-rule text-right">
              <th scope="row" className="text-left font-normal">
                {decimal(kW, 1)} kW
              </th>
              <Held interval={taken} digits={1} />
              <Held interval={hoursADay} digits={1} />
              <Held interval={scaled(share, 100)} digits={0} />
            </tr>
          ))}
        </tbody>
      </Table>
    </section>
  );
}

const held = (interval: Interval, digits: number) =>
  `${decimal(interval.value, digits)} (${betweenText(interval.low, interval.high, digits)})`;
const scaled = ({ value, low, high }: Interval, by: number): Interval => ({
  value: by * value,
  low: by * low,
  high: by * high,
});

function Held({ interval, digits }: { readonly interval: Interval; readonly digits: number }) {
  return (
    <td className="pl-4">
      {decimal(interval.value, digits)}{' '}
      <span className="text-[12px] text-faint">{betweenText(interval.low, interval.high, digits)}</span>
    </td>
  );
}
