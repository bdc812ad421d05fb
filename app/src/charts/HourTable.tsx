import { MONTHS_SHORT } from '@long-tally/core';
import { decimal } from '../ui/format.js';
import { Table } from '../ui/Table.js';

interface Props {
  readonly label: string;
  readonly caption: string;
  /** By month, January first, and hour; `longer` where it is longer than was seen, null where nothing is known. */
  readonly rows: readonly (readonly (number | 'longer' | null)[])[];
  /** The value that is shaded most. */
  readonly most: number;
  /** A column behind the hours: what it is, and a text for each month. */
  readonly last?: { readonly heading: string; readonly texts: readonly string[] };
}

/** Values by month and hour: the darker, the higher; the number is in every field. */
export function HourTable({ label, caption, rows, most, last }: Props) {
  const hasLonger = rows.some((row) => row.includes('longer'));
  const shade = (value: number | 'longer') =>
    Math.round(38 * (value === 'longer' ? 1 : Math.min(1, value / most)));
  return (
    <div className="overflow-x-auto" role="region" aria-label={label} tabIndex={0}>
      <Table className="w-full table-fixed text-[11px] leading-[15px]">
        <caption className="text-left text-[13px] text-faint">
          {caption}
          {hasLonger && '; > longer than seen: the log or the 14 days end before half of the starts do'}
        </caption>
        <thead>
          <tr className="text-faint">
            <td className="w-8" />
            {Array.from({ length: 24 }, (_, hour) => (
              <th key={hour} scope="col" className="text-center font-normal">
                {hour}
              </th>
            ))}
            {last && (
              <th scope="col" className="w-28 text-right font-normal">
                {last.heading}
              </th>
            )}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, month) => (
            <tr key={MONTHS_SHORT[month]}>
              <th scope="row" className="pr-1 text-left font-normal text-faint">
                {MONTHS_SHORT[month]}
              </th>
              {row.map((value, hour) => (
                <td
                  key={hour}
                  className="text-center"
                  style={
                    value === null
                      ? undefined
                      : {
                          background: `color-mix(in srgb, var(--battery) ${shade(value)}%, var(--paper))`,
                        }
                  }
                >
                  {value === null ? (
                    <span className="text-faint">–</span>
                  ) : value === 'longer' ? (
                    <span title="longer than seen">&gt;</span>
                  ) : (
                    decimal(value, 0)
                  )}
                </td>
              ))}
              {last && <td className="text-right whitespace-nowrap">{last.texts[month]}</td>}
            </tr>
          ))}
        </tbody>
      </Table>
    </div>
  );
}
