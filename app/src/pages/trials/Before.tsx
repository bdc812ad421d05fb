import { figureEntry, trialDifferences, type TrialResult } from '@long-tally/core';
import { Link } from 'react-router';
import type { StoredTrial } from '../../db/database.js';
import { localDateText, unitText, valueText } from '../../ui/format.js';
import { firstMs } from './firstMs.js';
import { protocolOf } from './protocols.js';
import { Table } from '../../ui/Table.js';

interface Props {
  readonly earlier: StoredTrial;
  readonly before: TrialResult;
  readonly after: TrialResult;
  readonly timeZone: string;
}

/** A trial beside the one of its kind before it: this year beside last year, with the interval of the difference. */
export function Before({ earlier, before, after, timeZone }: Props) {
  const differences = trialDifferences(before, after);
  if (differences.length === 0) return null;
  return (
    <section aria-label="Beside the one before" className="mt-4 max-w-3xl">
      <h2 className="text-[16px]">
        Beside the one of{' '}
        <Link className="quiet" to={`/h/${earlier.homeId}/trials/${earlier.id}`}>
          {localDateText(firstMs(earlier), timeZone)}
        </Link>
      </h2>
      <Table className="w-full text-[13.5px]">
        <thead>
          <tr className="border-b border-rule-2 text-right text-faint">
            {['figure', 'then', 'now', 'difference'].map((name, k) => (
              <th key={name} scope="col" className={`font-normal ${k === 0 ? 'text-left' : ''}`}>
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {differences.map(({ key, before: was, after: is, difference }) => {
            const { label, unit } = figureEntry(key);
            const text = (value: number) => `${valueText(value, unit)} ${unitText(unit)}`;
            const isSure = difference.low > 0 || difference.high < 0;
            return (
              <tr key={key} className="border-b border-rule text-right">
                <th scope="row" className="text-left font-normal">
                  {label}
                </th>
                <td>{text(was)}</td>
                <td>{text(is)}</td>
                <td>
                  {difference.value > 0 ? '+' : ''}
                  {text(difference.value)}{' '}
                  <span className="text-faint">
                    {valueText(difference.low, unit)} to {valueText(difference.high, unit)}
                    {isSure ? '' : '; may be none'}
                  </span>
                </td>
              </tr>
            );
          })}
        </tbody>
      </Table>
      <p className="mt-1 text-[13px] text-faint">
        Two {protocolOf(earlier.file.kind).title.toLowerCase()} trials of one home, each with its own doubt.
      </p>
    </section>
  );
}
