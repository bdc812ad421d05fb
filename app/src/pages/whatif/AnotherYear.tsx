import { YEAR_KEYS, type WhatifScenario } from '@long-tally/core';
import { decimal } from '../../ui/format.js';
import { Table } from '../../ui/Table.js';
import { boundsText, rowLabel, signedText } from './differenceText.js';

interface Props {
  readonly scenarios: readonly WhatifScenario[];
  readonly currency: string;
}

/** What each scenario would change in a year whose weather is another than that of the log. */
export function AnotherYear({ scenarios, currency }: Props) {
  const [first] = scenarios;
  if (!first) return null;
  const { yearsKnown, reason } = first.anotherYear;
  const rows = YEAR_KEYS.filter((key) => scenarios.some(({ anotherYear }) => anotherYear.differences[key]));
  return (
    <section aria-label="In another year" className="mt-5">
      <h2 className="text-[16px]">In another year</h2>
      {reason !== null && <p className="my-1 max-w-4xl">{reason} Choose a longer range.</p>}
      {rows.length > 0 && (
        <>
          <p className="my-1 max-w-4xl text-faint">
            No two years have the same weather. From the {decimal(yearsKnown, 1)} years of this range a
            thousand years are put together week by week, each week drawn from its own season. This is what a
            scenario would change in such a year, with the bounds that hold 95 of 100 of them, at the use and
            the prices of the range.
          </p>
          <div className="overflow-x-auto" role="region" aria-label="In another year, table" tabIndex={0}>
            <Table className="mt-1 text-[13px]">
              <thead>
                <tr className="border-b border-rule-2 text-right align-bottom text-faint">
                  <th scope="col" className="text-left font-normal">
                    difference a year
                  </th>
                  {scenarios.map(({ name }) => (
                    <th key={name} scope="col" className="max-w-44 pl-6 font-normal">
                      {name}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {rows.map((key) => (
                  <tr key={key} className="border-b border-rule text-right align-top">
                    <th scope="row" className="text-left font-normal">
                      {rowLabel(key, first.figures[key]!.unit, currency)}
                    </th>
                    {scenarios.map(({ name, anotherYear, figures }) => {
                      const difference = anotherYear.differences[key];
                      return (
                        <td key={name} className="pl-6 whitespace-nowrap">
                          {difference ? (
                            <>
                              <b>{signedText(difference.value, figures[key]!.unit)}</b>
                              <span className="block text-[12px] text-faint">
                                {boundsText(difference, figures[key]!.unit)}
                              </span>
                            </>
                          ) : (
                            '–'
                          )}
                        </td>
                      );
                    })}
                  </tr>
                ))}
              </tbody>
            </Table>
          </div>
        </>
      )}
    </section>
  );
}
