import { CAUSES, contactsOf, daysBy, LEVEL_ENERGIES, type Figure, type Statement } from '@long-tally/core';
import {
  counted,
  dateText,
  decimal,
  gridLimitText,
  hoursText,
  intervalText,
  localDateText,
  momentText,
  unitText,
  valueText,
} from '../../ui/format.js';
import { StatusMark } from '../../ui/StatusMark.js';
import { DayNotes } from '../days/DayNotes.js';
import { ListHead } from './ListHead.js';
import type { WrittenProps } from './writtenProps.js';
import { Table } from '../../ui/Table.js';
import { labelOf, localized } from '../../ui/localized.js';

interface FiguresProps {
  readonly keys: readonly string[];
  readonly statement: Statement;
  readonly currency: string;
}

export function Figures({ keys, statement: { now, yearBefore, toDate }, currency }: FiguresProps) {
  const told = keys.filter((key) => now[key]?.value != null);
  const absent = keys.filter((key) => now[key]?.value == null);
  const cell = (figure: Figure | undefined) =>
    figure?.value == null
      ? '–'
      : `${valueText(figure.value, figure.unit)} ${figure.unit === 'currency' ? '' : unitText(figure.unit)}`.trim();
  return (
    <>
      {told.length > 0 && (
        <Table className="w-full">
          <thead>
            <tr className="text-right text-[12px] text-faint">
              <td />
              <th scope="col" className="font-normal">
                {currency && keys.some((key) => now[key]?.unit === 'currency') ? currency : 'value'}
              </th>
              <th scope="col" className="pl-3 text-left font-normal">
                about 95 %
              </th>
              {yearBefore && (
                <th scope="col" className="font-normal">
                  a year before
                </th>
              )}
              {toDate && (
                <th scope="col" className="font-normal">
                  year to date
                </th>
              )}
            </tr>
          </thead>
          <tbody>
            {told.map((key) => (
              <tr key={key} className="border-b border-rule text-right">
                <th scope="row" className="text-left font-normal">
                  {labelOf(key)}
                </th>
                <td className="font-semibold whitespace-nowrap">{cell(now[key])}</td>
                <td className="pl-3 text-left whitespace-nowrap text-faint">
                  <StatusMark status={now[key]!.status} /> {intervalText(now[key]!)}
                </td>
                {yearBefore && (
                  <td className="whitespace-nowrap text-faint">{cell(yearBefore.figures[key])}</td>
                )}
                {toDate && <td className="whitespace-nowrap text-faint">{cell(toDate.figures[key])}</td>}
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      {absent.length > 0 && (
        <p className="text-[12px] text-faint">
          Not available: {absent.map((key) => labelOf(key).toLowerCase()).join(', ')}.{' '}
          {localized(absent.map((key) => now[key]?.reason).find((reason) => reason) ?? '')}
        </p>
      )}
    </>
  );
}

export function Findings({ statement: { findings } }: WrittenProps) {
  if (findings.length === 0) return <p>Nothing out of the ordinary was found.</p>;
  return (
    <ul className="list-disc pl-5">
      {findings.map(({ code, message }, i) => (
        <li key={`${code} ${i}`}>{localized(message)}</li>
      ))}
    </ul>
  );
}

export function Days({ home, days, range, layout: { levels } }: WrittenProps) {
  const { timeZone } = home.system;
  const solar = daysBy(days, 'solar', range);
  const bought = daysBy(days, 'import', range);
  const contacts = contactsOf(days, range);
  const lines = [
    ['Most sun', solar.at(-1)],
    ['Least sun', solar[0]],
    ['Most bought', bought.at(-1)],
  ] as const;
  const above = LEVEL_ENERGIES.flatMap((energy) => {
    const level = levels?.[energy];
    if (level === undefined) return [];
    const known = daysBy(days, energy, range);
    const count = known.filter(({ kWh }) => kWh > level).length;
    return [
      `${energy} above ${decimal(level, level % 1 === 0 ? 0 : 1)} kWh on ${count} of ${counted(known.length, 'day')}`,
    ];
  });
  const causes = CAUSES.flatMap(([cause, words]) => {
    const count = contacts.filter((one) => one.causes.includes(cause)).length;
    return count > 0 ? [`${words} ${count}`] : [];
  });
  return (
    <>
      <Table className="w-full">
        <tbody>
          {lines.map(([name, ranked]) => {
            const day = ranked && days[ranked.index];
            return day ? (
              <tr key={name} className="border-b border-rule align-top">
                <th scope="row" className="text-left font-normal whitespace-nowrap">
                  {name}
                </th>
                <td className="px-3 whitespace-nowrap">{dateText(day.date, 'plain')}</td>
                <td className="pr-3 text-right font-semibold whitespace-nowrap">
                  {decimal(ranked.kWh, 1)} kWh
                </td>
                <td className="w-full text-faint">
                  <DayNotes notes={day.notes} timeZone={timeZone} />
                </td>
              </tr>
            ) : null;
          })}
        </tbody>
      </Table>
      {above.length > 0 && <p className="mt-1">Days over a level: {above.join('; ')}.</p>}
      {contacts.length > 0 && (
        <p className="mt-1">
          {counted(contacts.length, 'day')} bought more than {gridLimitText(home.system)}; by cause:{' '}
          {causes.join(', ')}.
        </p>
      )}
    </>
  );
}

export function Outages({ home, statement: { outages } }: WrittenProps) {
  const { timeZone } = home.system;
  return (
    <Table className="w-full">
      <ListHead names={['from', 'lasted', 'charge', 'without power', 'evidence']} />
      <tbody>
        {outages.map(({ from, hours, socStart, socEnd, unservedHours, evidence, planned }) => (
          <tr key={from} className="border-b border-rule">
            <td>{momentText(Date.parse(from), timeZone)}</td>
            <td>{hoursText(hours)}</td>
            <td>
              {socStart === null || socEnd === null
                ? '–'
                : `${decimal(100 * socStart, 0)} → ${decimal(100 * socEnd, 0)} %`}
            </td>
            <td>{unservedHours > 0 ? hoursText(unservedHours) : 'none'}</td>
            <td>
              {evidence}
              {planned && ', planned'}
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

export function Trials({ home, statement: { trials } }: WrittenProps) {
  if (trials.length === 0) return <p className="text-faint">No trial in this range.</p>;
  return (
    <ul>
      {trials.map(({ fromMs, name, verdict }) => (
        <li key={fromMs} className="border-b border-rule">
          {localDateText(fromMs, home.system.timeZone)}: {name}. {localized(verdict)}
        </li>
      ))}
    </ul>
  );
}

export function Journal({ home, statement: { journal } }: WrittenProps) {
  return (
    <ul>
      {journal.map(({ fromMs, kind, text }) => (
        <li key={`${fromMs} ${text}`} className="border-b border-rule">
          {localDateText(fromMs, home.system.timeZone)}: {text || kind}
        </li>
      ))}
    </ul>
  );
}
