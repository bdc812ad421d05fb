import type { CombinationsOfUnits } from '@long-tally/core';
import { groups } from 'd3';
import { decimal } from '../../ui/format.js';
import { Table } from '../../ui/Table.js';

const LIMITS = {
  continuous: 'the continuous rating',
  batteryOnly: 'the battery-only rating',
  surge: 'the surge rating, as one starts',
  leg: 'what one leg carries',
} as const;
const SHOWN = 15;

/** Combinations with all legs together on which they are alike: an appliance of which the leg is not known may sit on either. */
function alike(combinations: CombinationsOfUnits['combinations']) {
  return groups(combinations, ({ limit, appliances, watts }) => [limit, ...appliances, watts].join()).map(
    ([, own]) => ({ ...own[0]!, legs: own.flatMap(({ leg }) => leg ?? []) }),
  );
}

interface Props {
  readonly result: CombinationsOfUnits;
  /** Units of the inverter that the home has. */
  readonly installed: number;
}

/** The smallest combinations of appliances that are too much for so many inverters. */
export function Failing({ result, installed }: Props) {
  const { units, moves } = result;
  const combinations = alike(result.combinations);
  const title = `With ${units === 1 ? 'one inverter' : `${units} inverters`}${units === installed ? ', as installed' : ''}`;
  return (
    <section aria-label={title} className="mt-4">
      <h2 className="text-[16px]">{title}</h2>
      {combinations.length === 0 ? (
        <p>Everything may run at once.</p>
      ) : (
        <Table className="text-[13.5px]">
          <thead>
            <tr className="border-b border-rule-2 text-left text-faint">
              {['never together', 'over', 'W', 'of W'].map((name) => (
                <th key={name} scope="col" className="pr-5 font-normal">
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {combinations.slice(0, SHOWN).map(({ appliances, limit, legs, watts, limitW }) => (
              <tr key={`${limit} ${legs.join()} ${appliances.join()}`} className="border-b border-rule">
                <th scope="row" className="pr-5 text-left font-normal">
                  {appliances.join(' + ')}
                </th>
                <td className="pr-5">
                  {LIMITS[limit]}
                  {legs.length > 0 && ` (leg ${legs.join(' or ')})`}
                </td>
                <td className="pr-5 text-right">{decimal(watts, 0)}</td>
                <td className="text-right">{decimal(limitW, 0)}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      {combinations.length > SHOWN && (
        <p className="text-faint">
          and {combinations.length - SHOWN} more, each of more appliances or less over
        </p>
      )}
      {units === installed && moves.length > 0 && (
        <p className="mt-1">
          Least imbalance: {moves.map(({ appliance, toLeg }) => `${appliance} on leg ${toLeg}`).join(', ')}
          {` (${decimal(100 * moves.at(-1)!.imbalance, 0)} %)`}.
        </p>
      )}
    </section>
  );
}
