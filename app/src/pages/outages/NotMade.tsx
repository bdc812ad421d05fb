import type { OutagesView } from '@long-tally/core';
import { decimal } from '../../ui/format.js';
import { Table } from '../../ui/Table.js';
import { localized } from '../../ui/localized.js';

const CAUSES = {
  clipped: 'clipped at the AC limit',
  full: 'battery full, nothing sold',
  'export-limit': 'at the export limit',
  frequency: 'frequency raised',
  island: 'battery full, without the grid',
} as const;
type Cause = keyof typeof CAUSES;
const ORDER = Object.keys(CAUSES) as Cause[];

/** Solar that was not made, by month and cause, each with its interval. */
export function NotMade({ sun }: { readonly sun: OutagesView['sun'] }) {
  const months = sun.months.filter(({ causes }) => ORDER.some((cause) => (causes[cause]?.wh ?? 0) >= 500));
  const shown = ORDER.filter((cause) => months.some(({ causes }) => causes[cause]));
  const reason = sun.figures['solar.heldBack']?.reason ?? sun.figures['solar.clipped']?.reason;
  return (
    <section aria-label="Solar not made" className="mt-5 max-w-4xl">
      <h2 className="text-[16px]">Solar not made</h2>
      {months.length === 0 ? (
        <p className="text-faint">{localized(reason ?? 'No hour of this range held solar back.')}</p>
      ) : (
        <>
          <p className="text-[13px] text-faint">
            kWh that the sun would have given besides, and for how many hours, by the days around
          </p>
          <Table className="text-[13px]" aria-label="Solar not made by month and cause">
            <thead>
              <tr className="border-b border-rule-2 text-left text-faint">
                <th scope="col" className="pr-4 font-normal">
                  month
                </th>
                {shown.map((cause) => (
                  <th key={cause} scope="col" className="pr-4 text-right font-normal">
                    {CAUSES[cause]}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {months.map(({ month, causes }) => (
                <tr key={month} className="border-b border-rule text-right">
                  <th scope="row" className="pr-4 text-left font-normal">
                    {month}
                  </th>
                  {shown.map((cause) => {
                    const one = causes[cause];
                    return (
                      <td key={cause} className="pr-4">
                        {one ? (
                          <>
                            {decimal(one.wh / 1000, 0)}{' '}
                            <span className="text-[12px] text-faint">
                              {decimal(one.low / 1000, 0)} to {decimal(one.high / 1000, 0)},{' '}
                              {decimal(one.hours, 0)} h
                            </span>
                          </>
                        ) : (
                          '·'
                        )}
                      </td>
                    );
                  })}
                </tr>
              ))}
            </tbody>
          </Table>
          <p className="mt-1 text-faint">
            Rebuilt from the course of the twenty days before and after, as bright as each day was around
            those hours. A load that can wait, more storage or a larger inverter could have had a part of it.
          </p>
        </>
      )}
    </section>
  );
}
