import { daysBy, type DayRange, RANKED, type Ranked, type RankedDay, type RollDay } from '@long-tally/core';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { ChoiceField } from '../../ui/ChoiceField.js';
import { counted, dateText, decimal } from '../../ui/format.js';
import { NumberField } from '../../ui/NumberField.js';
import { typedNumber } from '../../ui/typedNumber.js';
import { Table } from '../../ui/Table.js';

interface Props {
  readonly homeId: string;
  readonly days: readonly RollDay[];
  readonly range: DayRange;
}

/** The day of least and of most of each energy, the mean day, and how many days lie above a level. */
export function DaySpread({ homeId, days, range }: Props) {
  const spreads = useMemo(
    () =>
      RANKED.map((energy) => ({ energy, ranked: daysBy(days, energy, range) })).filter(
        ({ ranked }) => ranked.length > 1,
      ),
    [days, range],
  );
  const [chosen, setChosen] = useState<Ranked>('load');
  const [level, setLevel] = useState('');
  const spread = spreads.find(({ energy }) => energy === chosen) ?? spreads[0];
  if (!spread) return null;
  const levelKWh = typedNumber(level);
  const above = Number.isNaN(levelKWh) ? null : spread.ranked.filter(({ kWh }) => kWh > levelKWh).length;
  const dayCell = ({ index, kWh }: RankedDay) => (
    <>
      <td className="text-right">{decimal(kWh, 1)}</td>
      <td className="pl-2">
        <Link className="quiet" to={`/h/${homeId}/day/${days[index]!.date}`}>
          {dateText(days[index]!.date, 'plain')}
        </Link>
      </td>
    </>
  );
  return (
    <section aria-label="Least, mean and most of a day" className="mt-5 max-w-5xl">
      <h2 className="text-[16px]">Least, mean and most of a day</h2>
      <div className="overflow-x-auto">
        <Table className="mt-1 w-full max-w-2xl text-[13px]">
          <thead>
            <tr className="border-b border-rule-2 text-right text-faint">
              <th className="text-left font-normal">kWh a day</th>
              <th className="font-normal">mean</th>
              <th className="font-normal">least</th>
              <td />
              <th className="font-normal">most</th>
              <td />
            </tr>
          </thead>
          <tbody>
            {spreads.map(({ energy, ranked }) => (
              <tr key={energy} className="border-b border-rule">
                <th scope="row" className="text-left font-normal">
                  {energy}
                </th>
                <td className="text-right">
                  {decimal(ranked.reduce((sum, { kWh }) => sum + kWh, 0) / ranked.length, 1)}
                </td>
                {dayCell(ranked[0]!)}
                {dayCell(ranked.at(-1)!)}
              </tr>
            ))}
          </tbody>
        </Table>
      </div>
      <div className="mt-2 flex flex-wrap items-end gap-x-4 gap-y-1">
        <ChoiceField
          text="Days with"
          className="w-32"
          value={spread.energy}
          choices={spreads.map(({ energy }) => [energy, energy] as const)}
          onChange={setChosen}
        />
        <NumberField text="above, kWh" className="w-28" value={level} onChange={setLevel} />
        <p role="status" className="pb-1">
          {above === null ? (
            <span className="text-faint">
              {level.trim() === ''
                ? 'Type a level to count the days above it.'
                : `“${level}” is not a number of kWh.`}
            </span>
          ) : (
            <>
              <b>{decimal(above, 0)}</b> of {counted(spread.ranked.length, 'day')} that are known
            </>
          )}
        </p>
      </div>
    </section>
  );
}
