import { MONTHS_SHORT } from '@long-tally/core';
import type { ScenarioMonth, WhatifBase, WhatifScenario } from '@long-tally/core';
import { useState } from 'react';
import { decimal } from '../../ui/format.js';
import { PressedChoice } from '../../ui/PressedChoice.js';
import { Table } from '../../ui/Table.js';

type Shown = 'missing' | 'supply' | 'survive';

interface Props {
  readonly base: WhatifBase;
  readonly scenarios: readonly WhatifScenario[];
  readonly hasGrid: boolean;
}

/** The home as it is and each scenario, month by month of the year. */
export function MonthTable({ base, scenarios, hasGrid }: Props) {
  const [shown, setShown] = useState<Shown>('missing');
  const choices = [
    ['missing', hasGrid ? 'import, kWh a day' : 'not served, kWh a day'],
    ['supply', 'self-sufficiency, %'],
    ...(base.survive24ByMonth ? [['survive', 'outages of 24 h carried, %'] as const] : []),
  ] as const;
  const valueOf = (run: Pick<WhatifBase, 'months' | 'survive24ByMonth'>, month: number) => {
    const own = run.months.find((one) => one.month === month);
    if (shown === 'survive') return percent(run.survive24ByMonth?.[month] ?? null);
    if (!own) return null;
    return shown === 'supply' ? percent(own.selfSufficiency) : missing(own, hasGrid);
  };
  const digits = shown === 'missing' ? 1 : 0;
  return (
    <section aria-label="Month by month" className="mt-5 max-w-4xl">
      <h2 className="text-[16px]">Month by month</h2>
      <PressedChoice label="What is shown" value={shown} choices={choices} onChange={setShown} />
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
            {[{ name: 'as it is', run: base }, ...scenarios.map((run) => ({ name: run.name, run }))].map(
              ({ name, run }) => (
                <tr key={name} className="border-b border-rule text-right">
                  <th scope="row" className="pr-3 text-left font-normal">
                    {name}
                  </th>
                  {base.months.map(({ month }) => {
                    const value = valueOf(run, month);
                    return <td key={month}>{value === null ? '–' : decimal(value, digits)}</td>;
                  })}
                </tr>
              ),
            )}
          </tbody>
        </Table>
      </div>
    </section>
  );
}

function missing({ importKWh, unservedKWh }: ScenarioMonth, hasGrid: boolean): number {
  return hasGrid ? importKWh : unservedKWh;
}

function percent(share: number | null): number | null {
  return share === null ? null : 100 * share;
}
