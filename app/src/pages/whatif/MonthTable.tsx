import { MONTHS_SHORT } from '@long-tally/core';
import type { MonthKey, WhatifBase, WhatifFigure, WhatifScenario } from '@long-tally/core';
import { useState } from 'react';
import { valueText } from '../../ui/format.js';
import { RadioChoice } from '../../ui/RadioChoice.js';
import { Table } from '../../ui/Table.js';
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
  const shown = choices.some(([key]) => key === chosen) ? chosen : choices[0]![0];
  const hasLogged = base.loggedMonths.some((month) => !Number.isNaN(month[shown]));
  const rows = [
    { name: 'modelled, as it is', run: base },
    ...scenarios.map((run) => ({ name: run.name, run })),
  ];
  return (
    <section aria-label="Month by month" className="mt-5 max-w-5xl">
      <h2 className="text-[16px]">Month by month</h2>
      <RadioChoice label="What is shown" value={shown} choices={choices} onChange={setShown} />
      <p className="text-faint">
        Under each value its interval; under a scenario’s what the month would have changed, and between what
        bounds.
      </p>
      <div className="overflow-x-auto" role="region" aria-label="Month by month, table" tabIndex={0}>
        <Table className="mt-1 text-[13px]">
          <thead>
            <tr className="border-b border-rule-2 text-right text-faint">
              <td />
              {base.months.map(({ month }) => (
                <th key={month} scope="col" className="pl-3 font-normal">
                  {MONTHS_SHORT[month]}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {hasLogged && (
              <tr className="border-b border-rule text-right text-faint">
                <th scope="row" className="pr-3 text-left font-normal">
                  logged
                </th>
                {base.months.map(({ month, figures }) => {
                  const value = base.loggedMonths.find((one) => one.month === month)?.[shown] ?? NaN;
                  return (
                    <td key={month} className="pl-3">
                      {Number.isNaN(value) ? '–' : valueText(value, figures[shown].unit)}
                    </td>
                  );
                })}
              </tr>
            )}
            {rows.map(({ name, run }) => (
              <tr key={name} className="border-b border-rule text-right align-top">
                <th scope="row" className="pr-3 text-left font-normal">
                  {name}
                </th>
                {base.months.map(({ month }) => (
                  <td key={month} className="pl-3 whitespace-nowrap">
                    <Cell figure={run.months.find((one) => one.month === month)?.figures[shown]} />
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </Table>
      </div>
    </section>
  );
}

/** A month's value, under it what it would have changed, and the interval of that; of the home as it is the value's own. */
function Cell({ figure }: { readonly figure: WhatifFigure | undefined }) {
  if (figure?.value == null) return <>–</>;
  const { value, low, high, unit } = figure;
  const { difference } = figure.basis;
  return (
    <>
      {valueText(value, unit)}
      {difference && <span className="block">{signedText(difference.value, unit)}</span>}
      <span className="block text-[11px] text-faint">{boundsText(difference ?? { low, high }, unit)}</span>
    </>
  );
}
