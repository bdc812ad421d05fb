import type { Fault } from '@long-tally/core';
import { Link } from 'react-router';
import type { Home } from '../../db/database.js';
import { counted, localDateOf, momentText, shortTimeText } from '../../ui/format.js';
import { Table } from '../../ui/Table.js';

const LISTED = 20;

/** The faults that the equipment reported, the most frequent first, each with its first and last day. */
export function Faults({ home, faults }: { readonly home: Home; readonly faults: readonly Fault[] }) {
  if (faults.length === 0) return null;
  const { timeZone } = home.system;
  const moment = (ms: number) => (
    <Link className="quiet" to={`/h/${home.id}/day/${localDateOf(ms, timeZone)}`}>
      {momentText(ms, timeZone)}
    </Link>
  );
  return (
    <>
      <h3 className="mt-3 text-[14px] font-semibold">Faults the equipment reported</h3>
      <Table className="text-[13px]">
        <thead>
          <tr className="border-b border-rule-2 text-left text-faint">
            {['fault', 'times', 'in all', 'first', 'last'].map((name) => (
              <th key={name} scope="col" className="pr-4 font-normal">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {faults.slice(0, LISTED).map(({ text, runs, hours }) => (
            <tr key={text} className="border-b border-rule">
              <th scope="row" className="pr-4 text-left font-normal">
                {text}
              </th>
              <td className="pr-4">{runs.length}</td>
              <td className="pr-4">{shortTimeText(hours * 3600)}</td>
              <td className="pr-4">{moment(runs[0]!.fromMs)}</td>
              <td>{moment(runs.at(-1)!.fromMs)}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      {faults.length > LISTED && (
        <p className="mt-1 text-faint">and {counted(faults.length - LISTED, 'other fault')}</p>
      )}
    </>
  );
}
