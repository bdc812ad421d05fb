import { use, useRef, useState } from 'react';
import { chartFile, pngOf } from '../charts/chartFile.js';
import type { ChartRows } from '../charts/chartRows.js';
import { save, stemOf } from './download.js';
import { useOverview } from './HomeLayout.js';
import { RangeWords } from './rangeWords.js';
import { Table } from './Table.js';
import { useWrite } from './useWrite.js';

interface Props {
  /** What the chart shows, as it stands above it in the file. */
  readonly title: string;
  /** What of the log it shows; the chosen range where nothing is given. */
  readonly range?: string;
  /** The same as a table; asked for when it is opened. */
  readonly rows: () => ChartRows;
  readonly children: React.ReactNode;
}

/** A chart that can be saved as a picture, with its title, its range and its source, and shown as a table. */
export function Saveable({ title, range, rows, children }: Props) {
  const [isTable, setTable] = useState(false);
  const chart = useRef<HTMLDivElement>(null);
  const { home } = useOverview();
  const chosen = use(RangeWords);
  const { write, failure } = useWrite();
  const saved = (kind: 'svg' | 'png') =>
    write(async () => {
      const drawing = chart.current!.querySelector('svg')!;
      const file = chartFile(drawing, title, [
        `${home.system.name}, ${range ?? chosen}.`,
        'Drawn with Long Tally from its log.',
      ]);
      const name = `${stemOf(home)}-${title
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '-')
        .slice(0, 60)}.${kind}`;
      save(name, kind === 'svg' ? new Blob([file.svg], { type: 'image/svg+xml' }) : await pngOf(file));
    });
  return (
    <div>
      <div ref={chart}>{children}</div>
      <p className="no-print mt-1 flex justify-end gap-3 text-[12px] text-faint">
        {(['svg', 'png'] as const).map((kind) => (
          <button
            key={kind}
            type="button"
            className="hover:underline"
            aria-label={`Save “${title}” as ${kind.toUpperCase()}`}
            onClick={() => void saved(kind)}
          >
            save as {kind.toUpperCase()}
          </button>
        ))}
        <button
          type="button"
          className="hover:underline"
          aria-label={`Show “${title}” as a table`}
          aria-expanded={isTable}
          onClick={() => setTable(!isTable)}
        >
          {isTable ? 'hide the table' : 'show as a table'}
        </button>
      </p>
      {isTable && <AsTable title={title} {...rows()} />}
      {failure}
    </div>
  );
}

function AsTable({ title, head, rows }: ChartRows & Pick<Props, 'title'>) {
  const isWords = (column: number) => rows.some((cells) => /^\p{L}/u.test(cells[column]!));
  const sides = head.map((_, column) =>
    column === 0 ? 'text-left' : isWords(column) ? 'pl-3 text-left' : 'pl-3 text-right',
  );
  const sideOf = (column: number) => sides[column]!;
  return (
    <div
      className="max-h-80 overflow-auto border-y border-rule-2"
      role="region"
      aria-label={`${title}, as a table`}
      tabIndex={0}
    >
      <Table className="w-full text-[13px]">
        <thead>
          <tr className="border-b border-rule-2 text-faint">
            {head.map((name, column) => (
              <th key={name} scope="col" className={`font-normal ${sideOf(column)}`}>
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((cells, at) => (
            <tr key={at} className="border-b border-rule">
              {cells.map((cell, column) =>
                column === 0 ? (
                  <th key={column} scope="row" className="text-left font-normal">
                    {cell}
                  </th>
                ) : (
                  <td key={column} className={sideOf(column)}>
                    {cell}
                  </td>
                ),
              )}
            </tr>
          ))}
        </tbody>
      </Table>
    </div>
  );
}
