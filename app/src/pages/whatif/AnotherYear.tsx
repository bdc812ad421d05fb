import { YEAR_KEYS, type Interval, type Unit, type WhatifScenario } from '@long-tally/core';
import { decimal } from '../../ui/format.js';
import { localized } from '../../ui/localized.js';
import { ColumnTable } from './ColumnTable.js';
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
      {reason !== null && <p className="my-1 max-w-4xl">{localized(reason)} Choose a longer range.</p>}
      {rows.length > 0 && (
        <>
          <p className="my-1 max-w-4xl text-faint">
            No two years have the same weather. From the {decimal(yearsKnown, 1)} years of this range a
            thousand years are put together week by week, each week drawn from its own season. This is what a
            scenario would change in such a year, with the bounds that hold 95 of 100 of them, at the use and
            the prices of the range.
          </p>
          <ColumnTable
            label="In another year, table"
            corner="difference a year"
            columns={scenarios.map(({ name }) => name)}
            rows={rows.map((key) => ({
              name: rowLabel(key, first.figures[key]!.unit, currency),
              cells: scenarios.map(({ anotherYear, figures }) => (
                <Difference difference={anotherYear.differences[key]} unit={figures[key]!.unit} />
              )),
            }))}
          />
        </>
      )}
    </section>
  );
}

/** A difference with its bounds under it. */
function Difference({
  difference,
  unit,
}: {
  readonly difference: Interval | undefined;
  readonly unit: Unit;
}) {
  if (!difference) return <>–</>;
  return (
    <span className="whitespace-nowrap">
      <b>{signedText(difference.value, unit)}</b>
      <span className="block text-[12px] text-faint">{boundsText(difference, unit)}</span>
    </span>
  );
}
