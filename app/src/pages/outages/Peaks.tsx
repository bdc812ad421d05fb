import { hiddenStarts, START_RATIO, type OutagesView } from '@long-tally/core';
import { decimal, momentText } from '../../ui/format.js';
import { Table } from '../../ui/Table.js';

interface Props {
  readonly peaks: OutagesView['peaks'];
  readonly timeZone: string;
}

/** The highest loads with what was on, and what they leave of the inverter. */
export function Peaks({ peaks: { peaks, stepMs }, timeZone }: Props) {
  if (peaks.length === 0) return null;
  const hasLegs = peaks.some(({ legsW }) => legsW.length > 0);
  const hasParts = peaks.some(({ parts }) => parts.length > 0);
  const kW = (watts: number) => (Number.isNaN(watts) ? '–' : decimal(watts / 1000, 2));
  const heads = [
    'began',
    'load, kW',
    'left on battery, kW',
    ...(hasLegs ? ['legs, kW'] : []),
    ...(hasParts ? ['what was on'] : []),
  ];
  return (
    <section aria-label="Highest loads" className="mt-5 max-w-4xl">
      <h2 className="text-[16px]">Highest loads, one a day</h2>
      <Table className="w-full text-[13px]">
        <thead>
          <tr className="border-b border-rule-2 text-left text-faint">
            {heads.map((name) => (
              <th key={name} scope="col" className="pr-3 font-normal">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {peaks.map(({ atMs, loadW, legsW, parts, limitW }) => (
            <tr key={atMs} className="border-b border-rule">
              <th scope="row" className="pr-3 text-left font-normal whitespace-nowrap">
                {momentText(atMs, timeZone)}
              </th>
              <td>{kW(loadW)}</td>
              <td className={limitW !== null && loadW > limitW ? 'text-red' : ''}>
                {limitW === null ? 'no limit described' : kW(limitW - loadW)}
              </td>
              {hasLegs && <td>{legsW.map(kW).join(' · ')}</td>}
              {hasParts && (
                <td>
                  {parts.map(({ name, watts }) => `${name} ${kW(watts)}`).join(', ') || 'nothing named'}
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </Table>
      <p className="mt-1 text-faint">
        {hiddenStarts(stepMs)} A pump of 1 kW may ask for {START_RATIO[0]} to {START_RATIO[1]} kW; no log of
        this step can show whether the inverter’s surge rating holds it.
      </p>
    </section>
  );
}
