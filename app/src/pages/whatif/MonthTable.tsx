import { MONTHS_SHORT } from '@long-tally/core';
import type { MonthKey, WhatifBase, WhatifFigure, WhatifScenario } from '@long-tally/core';
import { useState } from 'react';
import { intervalText, valueText } from '../../ui/format.js';
import { RadioChoice } from '../../ui/RadioChoice.js';
import { ColumnTable } from './ColumnTable.js';
import { boundsText, signedText } from './differenceText.js';

const CHOICES = [
  ['import', 'import, kWh a day'],
  ['unserved', 'not served, kWh a day'],
  ['export', 'export, kWh a day'],
  ['selfSufficiency', 'self-sufficiency, %'],
  ['survive24', 'outages of 24 h carried, %'],
] as const satisfies readonly (readonly [MonthKey, string])[];

interface Props {
  readonly base: WhatifBase;
  readonly scenarios: readonly WhatifScenario[];
}

/** The home as logged, as modelled and with each scenario, month by month of the year, with what each month would have changed. */
export function MonthTable({ base, scenarios }: Props) {
  const choices = CHOICES.filter(([key]) => base.months.some(({ figures }) => figures[key].value !== null));
  const [chosen, setShown] = useState<MonthKey>('import');
  const [first] = choices;
  if (!first) return null;
  const shown = choices.some(([key]) => key === chosen) ? chosen : first[0];
  const hasLogged = base.loggedMonths.some(({ figures }) => figures[shown].value !== null);
  const columns = [
    ...(hasLogged ? [{ name: 'logged', months: base.loggedMonths }] : []),
    { name: 'modelled', months: base.months },
    ...scenarios,
  ];
  return (
    <section aria-label="Month by month" className="mt-5">
      <h2 className="text-[16px]">Month by month</h2>
      <div className="mt-1 flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <RadioChoice label="What is shown" value={shown} choices={choices} onChange={setShown} />
        <p className="text-faint">
          Under a scenario’s value what the month would have changed, and its interval.
        </p>
      </div>
      <ColumnTable
        label="Month by month, table"
        corner="month"
        columns={columns.map(({ name }) => name)}
        rows={base.months.map(({ month }) => ({
          name: MONTHS_SHORT[month]!,
          cells: columns.map(({ months }) => (
            <Cell figure={months.find((one) => one.month === month)?.figures[shown]} />
          )),
        }))}
      />
    </section>
  );
}

/** A month's value; under it what it would have changed, with its interval, or of the home as it is its own. */
function Cell({ figure }: { readonly figure: WhatifFigure | undefined }) {
  if (figure?.value == null) return <>–</>;
  const { value, unit } = figure;
  const { difference } = figure.basis;
  return (
    <>
      {valueText(value, unit)}
      <span className="block text-[12px] whitespace-nowrap text-faint">
        {difference && <b className="mr-1.5 text-ink">{signedText(difference.value, unit)}</b>}{' '}
        {difference ? boundsText(difference, unit) : intervalText(figure)}
      </span>
    </>
  );
}
