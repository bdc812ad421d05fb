import type { MoneyView } from '@long-tally/core';
import { decimal } from '../../ui/format.js';
import { Table } from '../../ui/Table.js';

interface Props {
  readonly hours: MoneyView['hours'];
  readonly currency: string;
}

/** What was bought and sold in each hour of the day, over the rate that holds in it. */
export function Hours({ hours, currency }: Props) {
  const rows = [
    [`mean rate, ${currency || 'a kWh'}`, hours.map(({ rate }) => (rate === null ? '–' : decimal(rate, 2)))],
    ['bought, kWh', hours.map(({ boughtKWh }) => decimal(boughtKWh, 0))],
    ['sold, kWh', hours.map(({ soldKWh }) => decimal(soldKWh, 0))],
  ] as const;
  return (
    <section aria-label="Through the day" className="mt-5">
      <h2 className="text-[16px]">Through the day</h2>
      <div className="overflow-x-auto" role="region" aria-label="Prices by hour" tabIndex={0}>
        <Table className="w-full text-[11.5px]">
          <thead>
            <tr className="text-faint">
              <th scope="col" className="text-left font-normal">
                hour
              </th>
              {hours.map((_, hour) => (
                <th key={hour} scope="col" className="text-right font-normal">
                  {hour}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map(([name, cells]) => (
              <tr key={name} className="border-b border-rule text-right">
                <th scope="row" className="text-left font-normal whitespace-nowrap">
                  {name}
                </th>
                {cells.map((cell, hour) => (
                  <td key={hour}>{cell}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </Table>
      </div>
    </section>
  );
}
