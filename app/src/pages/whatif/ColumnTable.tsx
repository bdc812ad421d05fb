import type { ReactNode } from 'react';
import { Table } from '../../ui/Table.js';

interface Props {
  readonly label: string;
  /** What the rows are. */
  readonly corner: string;
  readonly columns: readonly string[];
  readonly rows: readonly { readonly name: string; readonly cells: readonly ReactNode[] }[];
}

/** The home as it is and its scenarios side by side, a row for each figure or month. */
export function ColumnTable({ label, corner, columns, rows }: Props) {
  return (
    <div className="overflow-x-auto" role="region" aria-label={label} tabIndex={0}>
      <Table className="mt-1 text-[13px]">
        <thead>
          <tr className="border-b border-rule-2 text-right align-bottom text-faint">
            <th scope="col" className="pr-3 text-left font-normal">
              {corner}
            </th>
            {columns.map((name, k) => (
              <th key={`${k} ${name}`} scope="col" className="max-w-44 pl-6 font-normal">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ name, cells }) => (
            <tr key={name} className="border-b border-rule text-right align-top">
              <th scope="row" className="pr-3 text-left font-normal">
                {name}
              </th>
              {cells.map((cell, k) => (
                <td key={`${k} ${columns[k]}`} className="pl-6">
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </Table>
    </div>
  );
}
