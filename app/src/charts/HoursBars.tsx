import { decimal } from '../ui/format.js';
import { Table } from '../ui/Table.js';

interface Props {
  readonly caption: string;
  readonly rows: readonly { readonly name: string; readonly hours: number; readonly isHarsh: boolean }[];
}

/** Hours by band, a bar beside each number. */
export function HoursBars({ caption, rows }: Props) {
  const most = Math.max(1e-9, ...rows.map(({ hours }) => hours));
  return (
    <Table className="w-full text-[13px]">
      <caption className="text-left text-faint">{caption}</caption>
      <tbody>
        {rows.map(({ name, hours, isHarsh }) => (
          <tr key={name} className="border-b border-rule">
            <th scope="row" className="w-24 text-left font-normal whitespace-nowrap">
              {name}
            </th>
            <td className="w-20 pr-3 text-right">{decimal(hours, hours < 10 ? 1 : 0)} h</td>
            <td aria-hidden>
              <div
                className={`h-2.5 ${isHarsh ? 'bg-red' : 'bg-battery'}`}
                style={{ width: `${(100 * hours) / most}%` }}
              />
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}
