import { MONTHS_SHORT, USUAL_RESERVE, type OutagesView } from '@long-tally/core';
import { Choice } from '../../ui/Choice.js';
import { useId, useState } from 'react';
import { useReserveQuery } from '../../store/api.js';
import { counted, decimal } from '../../ui/format.js';
import type { At } from '../../protocol.js';
import { Table } from '../../ui/Table.js';

type Held = NonNullable<OutagesView['costs'][number]['importKWh']>;

interface Props {
  readonly at: At;
  readonly from: string;
  readonly to: string;
  readonly course: OutagesView;
  readonly currency: string | null;
}

/** Hours and chances that are offered. */
const HOURS = [3, 6, 12, 24, 48, 72] as const;
const CHANCES = [0.8, 0.9, 0.95, 0.99] as const;

/** The reserve that each month asks for against the one that is set, and what another would have cost. */
export function Reserves({ at, from, to, course, currency }: Props) {
  const id = useId();
  const [hours, setHours] = useState<number>(USUAL_RESERVE.hours);
  const [chance, setChance] = useState<number>(USUAL_RESERVE.chance);
  const isUsual = hours === USUAL_RESERVE.hours && chance === USUAL_RESERVE.chance;
  const { currentData: other } = useReserveQuery({ at, from, to, hours, chance }, { skip: isUsual });
  const { whole, reserveSet, costs } = course;
  if (!whole) return null;
  const advice = isUsual ? whole.reserve : (other ?? null);
  const reserves = advice?.months ?? Array.from({ length: 12 }, () => null);
  const isShort = (soc: (typeof reserves)[number]) =>
    soc === 'none' || (soc !== null && reserveSet !== null && soc > reserveSet);
  const short = reserves.filter(isShort).length;
  return (
    <section aria-label="Reserve by month" className="mt-4 max-w-5xl">
      <h2 className="text-[16px]">Reserve to keep</h2>
      <div className="flex flex-wrap items-baseline gap-2">
        <label htmlFor={`${id}-hours`}>so that the home lasts</label>
        <Choice
          id={`${id}-hours`}
          label="so that the home lasts"
          className="!w-20"
          value={hours}
          choices={HOURS.map((one) => [one, `${one} h`])}
          onChange={setHours}
        />
        <label htmlFor={`${id}-chance`}>in</label>
        <Choice
          id={`${id}-chance`}
          label="in so many of 100"
          className="!w-20"
          value={chance}
          choices={CHANCES.map((one) => [one, `${Math.round(100 * one)} %`])}
          onChange={setChance}
        />
        <span aria-live="polite">
          of the starts:{' '}
          {advice === null ? (
            'reckoning …'
          ) : advice.all ? (
            <>
              <b>{decimal(100 * advice.all.value, 0)} %</b> ({decimal(100 * advice.all.low, 0)} to{' '}
              {decimal(100 * advice.all.high, 0)}) all year, and by month
            </>
          ) : (
            'not even a full battery does, all year; by month'
          )}
        </span>
      </div>
      <Table className="mt-1 w-full text-[13px]">
        <thead>
          <tr className="border-b border-rule-2 text-right text-faint">
            {MONTHS_SHORT.map((month) => (
              <th key={month} scope="col" className="font-normal">
                {month}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr className="text-right">
            {reserves.map((soc, month) => (
              <td key={MONTHS_SHORT[month]} className={isShort(soc) ? 'text-red' : ''}>
                {soc === null ? '–' : soc === 'none' ? 'no' : `${decimal(100 * soc, 0)} %`}
              </td>
            ))}
          </tr>
        </tbody>
      </Table>
      <p className="mt-1 text-faint">
        With the sun that there was; “no” where even a full battery does not last.
        {reserveSet !== null &&
          advice !== null &&
          ` The reserve set is ${decimal(100 * reserveSet, 0)} %: less than that in ${counted(short, 'month')}.`}
      </p>
      <Costs costs={costs} currency={currency} />
    </section>
  );
}

function Costs({
  costs,
  currency,
}: {
  readonly costs: OutagesView['costs'];
  readonly currency: string | null;
}) {
  if (costs.length === 0) return null;
  const signed = (value: number) => `${value > 0 ? '+' : ''}${decimal(value, 0)}`;
  const heldText = ({ value, low, high }: Held) =>
    Math.abs(value) < 0.5 ? '0' : `${signed(value)} (${signed(low)} to ${signed(high)})`;
  return (
    <div className="mt-3">
      <h3 className="text-[14px] font-semibold">What another reserve would have meant, a year</h3>
      <Table className="w-full max-w-3xl text-[13px]">
        <thead>
          <tr className="border-b border-rule-2 text-right text-faint">
            {[
              'reserve',
              'self-sufficiency, grid',
              'more import, kWh',
              `more to pay, ${currency ?? 'by your tariff'}`,
            ].map((name) => (
              <th key={name} scope="col" className="font-normal">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {costs.map(({ reserve, isSet, selfSufficiency, importKWh, cost }) => (
            <tr key={reserve} className={`border-b border-rule text-right ${isSet ? 'bg-selected' : ''}`}>
              <th scope="row" className="text-right font-normal">
                {decimal(100 * reserve, 0)} %{isSet ? ', set' : ''}
              </th>
              <td>{decimal(100 * selfSufficiency, 1)} %</td>
              <td>{importKWh ? heldText(importKWh) : 'not known'}</td>
              <td>{cost ? heldText(cost) : importKWh ? 'no tariff' : 'not known'}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      <p className="mt-1 text-faint">
        The range is gone through again with each reserve: the battery serves the load down to it, grid
        charging as it was. Differences are what counts; the interval is that of the capacity.
        {costs.some(({ importKWh }) => importKWh === null) &&
          ' A full battery holds sun back here and no log shows how much, so what a lower reserve would save is not known.'}
      </p>
    </div>
  );
}
