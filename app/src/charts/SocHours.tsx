import type { WearCourse } from '@long-tally/core';
import { decimal } from '../ui/format.js';

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** Mean state of charge by month and hour: the darker, the fuller; the number is in every field. */
export function SocHours({ hours }: { readonly hours: WearCourse['hours'] }) {
  return (
    <div className="overflow-x-auto" role="region" aria-label="Mean state of charge by hour" tabIndex={0}>
      <table className="w-full table-fixed text-[11px] leading-[15px]">
        <caption className="text-left text-[13px] text-faint">
          mean charge in %, by month and hour from midnight
        </caption>
        <thead>
          <tr className="text-faint">
            <td className="w-8" />
            {Array.from({ length: 24 }, (_, hour) => (
              <th key={hour} scope="col" className="text-center font-normal">
                {hour}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {hours.map((row, month) => (
            <tr key={MONTHS[month]}>
              <th scope="row" className="pr-1 text-left font-normal text-faint">
                {MONTHS[month]}
              </th>
              {row.map((soc, hour) => (
                <td
                  key={hour}
                  className="text-center"
                  style={
                    soc === null
                      ? undefined
                      : {
                          background: `color-mix(in srgb, var(--battery) ${Math.round(38 * soc)}%, var(--paper))`,
                        }
                  }
                >
                  {soc === null ? <span className="text-faint">–</span> : decimal(100 * soc, 0)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
