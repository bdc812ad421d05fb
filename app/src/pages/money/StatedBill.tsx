import type { StatedBill as Stated } from '@long-tally/core';
import { useState } from 'react';
import type { At } from '../../protocol.js';
import { useStatedBillQuery } from '../../store/api.js';
import { decimal } from '../../ui/format.js';
import { NumberField } from '../../ui/NumberField.js';
import { typedNumber } from '../../ui/typedNumber.js';
import { localized } from '../../ui/localized.js';

interface Props {
  readonly at: At;
  readonly from: string;
  readonly to: string;
  readonly currency: string;
}

const FIELDS = [
  ['amount', 'Amount of the bill'],
  ['kWh', 'Energy on it, kWh'],
  ['rate', 'Price of a kWh on it'],
  ['days', 'Days it covers'],
] as const;

/** A bill that somebody states: what of it is energy, and what would make up the rest. */
export function StatedBill({ at, from, to, currency }: Props) {
  const [typed, setTyped] = useState({ amount: '', kWh: '', rate: '', days: '' });
  const number = (name: keyof typeof typed) => (typed[name].trim() === '' ? null : typedNumber(typed[name]));
  const wrong = FIELDS.find(([name]) => Number.isNaN(number(name) ?? 0));
  const amount = number('amount');
  const stated: Stated = {
    amount: amount ?? 0,
    kWh: number('kWh'),
    rate: number('rate'),
    days: number('days'),
  };
  const isReady = amount !== null && !wrong;
  const { currentData: found } = useStatedBillQuery({ at, from, to, stated }, { skip: !isReady });
  const money = (value: number) => `${decimal(value, 2)} ${currency}`.trim();
  const given = found?.ways.filter(({ isIt }) => isIt) ?? [];
  return (
    <section aria-label="A bill somebody states" className="mt-5 max-w-3xl no-print">
      <h2 className="text-[16px]">A bill that says otherwise?</h2>
      <p className="text-faint">What is left empty is taken from this range.</p>
      <div className="mt-1 grid grid-cols-2 gap-x-4 gap-y-2 sm:grid-cols-4">
        {FIELDS.map(([name, text]) => (
          <NumberField
            key={name}
            text={text}
            className="text-right"
            value={typed[name]}
            onChange={(value) => setTyped({ ...typed, [name]: value })}
          />
        ))}
      </div>
      <div aria-live="polite" className="mt-2">
        {wrong && <p className="text-red">“{typed[wrong[0]]}” is not a number; write for example 9.31.</p>}
        {isReady && found === null && (
          <p>Write energy and price as well: this range has no tariff to take them from.</p>
        )}
        {found && (
          <>
            <p>
              {money(found.energy)} of it is energy: {decimal(found.kWh, 2)} kWh at {decimal(found.rate, 4)}.{' '}
              {found.rest >= 0
                ? `${money(found.rest)} are left.`
                : `That is ${money(-found.rest)} more than the bill.`}
            </p>
            <p className="mt-1">
              {given.length > 0
                ? 'The amount results from:'
                : 'Nothing usual gives exactly that amount; it would result from:'}
            </p>
            <ul className="list-disc pl-5">
              {given.length > 0
                ? given.map(({ says, amount: value }) => (
                    <li key={says}>
                      {localized(says)}, {money(value)}
                    </li>
                  ))
                : found.closes.map((text) => <li key={text}>{localized(text)}</li>)}
            </ul>
          </>
        )}
      </div>
    </section>
  );
}
