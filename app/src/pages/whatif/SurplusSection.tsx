import { HourTable } from '../../charts/HourTable.js';
import { useSurplusQuery, type Ranged } from '../../store/api.js';
import { counted, decimal } from '../../ui/format.js';
import { Table } from '../../ui/Table.js';

/** What the sun leaves over by month and hour, and what another load could have of it. */
export function SurplusSection(asked: Ranged) {
  const { currentData: answer } = useSurplusQuery(asked);
  if (!answer || 'problem' in answer || answer.surplus.kWhADay < 0.05) return null;
  const { kWhADay, bounds, byHour, loads, days, modules } = answer.surplus;
  const heldText = ({ low, high }: typeof bounds) => `${decimal(low, 1)} – ${decimal(high, 1)}`;
  const rows = byHour.map((row) => row.map((kW) => (kW === null ? null : Math.round(10 * kW))));
  const most = Math.max(1, ...rows.flat().map((value) => value ?? 0));
  return (
    <section aria-label="Surplus" className="mt-5 max-w-4xl">
      <h2 className="text-[16px]">What the sun leaves over</h2>
      <p>
        {decimal(kWhADay, 1)} kWh a day ({heldText(bounds)}) are sold or held back when the load and the
        battery are served; on {days.surplus} of {counted(days.known, 'day')} it is 2 kWh or more, at most{' '}
        {counted(days.longestRun, 'day')} on end.
        {modules &&
          ` A summer’s day would fill ${decimal(modules.summer, 1)} more modules, one of the darkest four months ${decimal(modules.winter, 1)}.`}
      </p>
      <HourTable
        label="Surplus by month and hour"
        caption="Mean surplus by month and hour, in tenths of a kilowatt"
        rows={rows}
        most={most}
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
              days with an hour or more
            </th>
          </tr>
        </thead>
        <tbody>
          {loads.map(({ kW, kWhADay: taken, bounds: held, hoursADay, days: share }) => (
            <tr key={kW} className="border-b border-rule text-right">
              <th scope="row" className="text-left font-normal">
                {decimal(kW, 1)} kW
              </th>
              <td>
                {decimal(taken, 1)} <span className="text-[12px] text-faint">{heldText(held)}</span>
              </td>
              <td>{decimal(hoursADay, 1)}</td>
              <td>{decimal(100 * share, 0)} %</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </section>
  );
}
