import type { Figure, WhatifBase, WhatifScenario } from '@long-tally/core';
import { intervalText, valueText } from '../../ui/format.js';
import { Table } from '../../ui/Table.js';
import { boundsText, rowLabel, signedText } from './differenceText.js';

const ROWS = [
  'account.selfSufficiency.supply',
  'account.selfSufficiency.grid',
  'account.selfSufficiency.solar',
  'account.import',
  'account.export',
  'account.gridFreeDays',
  'account.gridFreeShare',
  'whatif.timeWithoutGrid',
  'solar.heldBack',
  'wear.efc.nameplate',
  'wear.damage',
  'outage.survive.12h',
  'outage.survive.24h',
  'peak.hoursAbove.batteryOnly',
  'money.bill',
  'money.saving',
] as const;

/** A value with its interval under it. */
function Held({ figure }: { readonly figure: Figure }) {
  return (
    <>
      {valueText(figure.value!, figure.unit)}
      <span className="block text-[12px] text-faint">{intervalText(figure)}</span>
    </>
  );
}

interface Props {
  readonly base: WhatifBase;
  readonly scenarios: readonly WhatifScenario[];
  readonly currency: string;
}

/** The figures as logged and as modelled, and what each scenario would have changed. */
export function Differences({ base, scenarios, currency }: Props) {
  const rows = ROWS.filter((key) => base.modelled[key]?.value != null);
  return (
    <section aria-label="Scenarios" className="mt-3">
      <h2 className="text-[16px]">What would have changed</h2>
      <div className="overflow-x-auto" role="region" aria-label="Differences of scenarios" tabIndex={0}>
        <Table className="w-full text-[13px]">
          <thead>
            <tr className="border-b border-rule-2 text-right align-bottom text-faint">
              <th scope="col" className="text-left font-normal">
                figure
              </th>
              {['logged', 'modelled', ...scenarios.map(({ name }) => name)].map((name) => (
                <th key={name} scope="col" className="max-w-40 pl-3 font-normal">
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((key) => {
              const own = base.modelled[key]!;
              const logged = base.logged[key];
              return (
                <tr key={key} className="border-b border-rule text-right align-top">
                  <th scope="row" className="text-left font-normal">
                    {rowLabel(key, own.unit, currency)}
                  </th>
                  <td className="pl-3 text-faint">
                    {logged?.value == null ? '–' : <Held figure={logged} />}
                  </td>
                  <td className="pl-3">
                    <Held figure={own} />
                  </td>
                  {scenarios.map(({ name, figures }) => {
                    const figure = figures[key]!;
                    const difference = figure.basis.difference;
                    return (
                      <td key={name} className="pl-3">
                        {figure.value === null || !difference ? (
                          '–'
                        ) : (
                          <>
                            <b>{signedText(difference.value, figure.unit)}</b>
                            <span className="block text-[12px] text-faint">
                              {boundsText(difference, figure.unit)}
                            </span>
                            <span className="block text-[12px]">
                              comes to {valueText(figure.value, figure.unit)} ({intervalText(figure)})
                            </span>
                          </>
                        )}
                      </td>
                    );
                  })}
                </tr>
              );
            })}
          </tbody>
        </Table>
      </div>
    </section>
  );
}
