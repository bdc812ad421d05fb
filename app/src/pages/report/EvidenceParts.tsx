import { correctionText } from '@long-tally/core';
import { useLiveQuery } from 'dexie-react-hooks';
import { sourcesOf } from '../../db/sources.js';
import { estimateText } from '../../charts/chartRows.js';
import { counted, decimal, localDateText } from '../../ui/format.js';
import { described } from './described.js';
import { ListHead } from './ListHead.js';
import type { WrittenProps } from './writtenProps.js';
import { Table } from '../../ui/Table.js';

export function SystemTable({ home }: WrittenProps) {
  const configurations = home.system.configurations ?? [];
  if (configurations.length === 0) return <p>The system is not described.</p>;
  return (
    <Table className="w-full">
      <tbody>
        {configurations.map((configuration) => (
          <tr key={configuration.from} className="border-b border-rule align-top">
            <th scope="row" className="pr-3 text-left font-normal whitespace-nowrap">
              {configuration.name && `${configuration.name}, `}from{' '}
              {localDateText(Date.parse(configuration.from), home.system.timeZone)}
            </th>
            <td>
              {described(configuration).map((part) => (
                <p key={part}>{part}</p>
              ))}
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

export function Measured({ statement: { accuracy, coverage, corrections } }: WrittenProps) {
  const share = (value: number) => `${decimal(100 * value, 1)} %`;
  return (
    <>
      <p>
        Meters taken to {share(accuracy.solar)} (solar), {share(accuracy.load)} (load), {share(accuracy.grid)}{' '}
        (grid), {share(accuracy.battery)} (battery), each with a zero of {decimal(accuracy.offsetW, 0)} W, and
        the state of charge to {share(accuracy.soc)} of full. {share(coverage)} of the range is measured;
        nothing is scaled up.
      </p>
      <p>
        {corrections.length === 0
          ? 'No correction lies over the logs.'
          : `Corrections over the logs, which stay as they came: ${corrections.map(correctionText).join(' ')}`}
      </p>
    </>
  );
}

/** So many of the latest estimates are listed. */
const LISTED = 24;

export function Capacity({ home, statement: { capacity } }: WrittenProps) {
  if (capacity.length === 0)
    return <p className="text-faint">No discharge of this range measures the capacity.</p>;
  return (
    <>
      <Table className="w-full">
        <ListHead names={['on', 'kWh from full to empty', 'about 95 %', 'depth', 'from']} />
        <tbody>
          {capacity.slice(-LISTED).map((estimate, i) => (
            <tr key={`${estimate.at} ${i}`} className="border-b border-rule">
              <td>{localDateText(Date.parse(estimate.at), home.system.timeZone)}</td>
              <td className="font-semibold">{decimal(estimate.kWh, 2)}</td>
              <td className="text-faint">
                {decimal(estimate.low, 2)} – {decimal(estimate.high, 2)}
              </td>
              <td>{decimal(100 * estimate.depth, 0)} %</td>
              <td>{estimateText(estimate)}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      {capacity.length > LISTED && (
        <p className="text-faint">
          The latest {LISTED} of {capacity.length}; all of them are in evidence/capacity.csv of the book.
        </p>
      )}
    </>
  );
}

export function Files({ home }: WrittenProps) {
  const sources = useLiveQuery(() => sourcesOf(home.id), [home.id]) ?? [];
  return (
    <Table className="w-full">
      <tbody>
        {sources
          .filter(({ removedAt }) => removedAt === null)
          .map(({ id, name, rows, bytes, hash }) => (
            <tr key={id} className="border-b border-rule align-top">
              <th scope="row" className="pr-3 text-left font-normal">
                {name}
              </th>
              <td className="pr-3 text-right whitespace-nowrap">
                {counted(rows, 'row')}, {decimal(bytes / 1e6, 1)} MB
              </td>
              <td className="text-[11px] break-all text-faint">
                {hash ? `SHA-256 ${hash}` : 'no checksum was taken'}
              </td>
            </tr>
          ))}
      </tbody>
    </Table>
  );
}

export function Limits({ statement: { now, coverage, capacity } }: WrittenProps) {
  const health = now['capacity.stateOfHealth'];
  return (
    <ul className="list-disc pl-5">
      <li>
        The meters are the equipment’s own; none was checked against a calibrated one unless a remark says so.
      </li>
      <li>
        What a log shows is how the battery was used. A test under the maker’s own conditions may come out
        otherwise.
      </li>
      {capacity.length < 20 && (
        <li>Few discharges measure the capacity here; a drawdown trial would say more.</li>
      )}
      {coverage < 0.98 && <li>{decimal(100 * (1 - coverage), 1)} % of the range is not measured.</li>}
      {health?.status === 'estimated' && (
        <li>The state of health rests on assumptions, which its working names.</li>
      )}
      <li>It does not say why the battery is as it is, nor who is liable for it.</li>
    </ul>
  );
}
