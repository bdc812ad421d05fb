import { COMPARED, type ConfigurationChange } from '@long-tally/core';
import { counted, decimal, intervalText, localDateText, unitText, valueText } from '../../ui/format.js';
import { Table } from '../../ui/Table.js';
import { labelOf, localized } from '../../ui/localized.js';

interface Props {
  readonly changes: readonly ConfigurationChange[];
  readonly timeZone: string;
  readonly currency: string | null;
}

/** What each change of the configuration did: the year before it and the year after, side by side. */
export function Changes({ changes, timeZone, currency }: Props) {
  return changes.map(({ atMs, name, before, after }) => {
    const sides = [before, after];
    const days = (side: (typeof sides)[number]) =>
      counted(Math.round((side.toMs - side.fromMs) / 86_400_000), 'day');
    const yearly = (value: number | null, unit: string) =>
      value === null ? '–' : `${decimal(value, 0)} ${unit}`;
    return (
      <section key={atMs} aria-label={`Before and after ${name}`} className="mt-5 max-w-3xl">
        <h2 className="text-[16px]">
          Before and after {localDateText(atMs, timeZone)}: {name}
        </h2>
        <Table className="w-full text-[13px]">
          <thead>
            <tr className="border-b border-rule-2 text-right text-faint">
              <th scope="col" className="text-left font-normal">
                what
              </th>
              <th scope="col" className="font-normal">
                before, {days(before)}
              </th>
              <th scope="col" className="font-normal">
                after, {days(after)}
              </th>
            </tr>
          </thead>
          <tbody>
            {COMPARED.filter((key) => sides.some(({ figures }) => figures[key]?.value != null)).map((key) => (
              <tr key={key} className="border-b border-rule text-right">
                <th scope="row" className="text-left font-normal">
                  {labelOf(key)}
                </th>
                {sides.map(({ figures, fromMs }) => {
                  const figure = figures[key];
                  return (
                    <td key={fromMs} title={figure?.reason ? localized(figure.reason) : undefined}>
                      {figure?.value == null ? (
                        '–'
                      ) : (
                        <>
                          {valueText(figure.value, figure.unit)} {unitText(figure.unit)}{' '}
                          <span className="text-[12px] text-faint">{intervalText(figure)}</span>
                        </>
                      )}
                    </td>
                  );
                })}
              </tr>
            ))}
            <tr className="border-b border-rule text-right">
              <th scope="row" className="text-left font-normal">
                Idle draw, a year
              </th>
              {sides.map(({ idleKWhAYear, fromMs }) => (
                <td key={fromMs}>{yearly(idleKWhAYear, 'kWh')}</td>
              ))}
            </tr>
            {currency && sides.some(({ idleCostAYear }) => idleCostAYear !== null) && (
              <tr className="border-b border-rule text-right">
                <th scope="row" className="text-left font-normal">
                  The same at the mean import rate
                </th>
                {sides.map(({ idleCostAYear, fromMs }) => (
                  <td key={fromMs}>{yearly(idleCostAYear, currency)}</td>
                ))}
              </tr>
            )}
          </tbody>
        </Table>
        <p className="mt-1 text-faint">
          Other weather and another use lie between the two as well, where they are not a year each.
        </p>
      </section>
    );
  });
}
