import type { MoneyView } from '@long-tally/core';
import { decimal } from '../../ui/format.js';
import { Table } from '../../ui/Table.js';

const STEPS = [
  ['money.saving.solarDirect', 'sun used at once', 'var(--solar)'],
  ['money.saving.solarStored', 'sun from the battery', 'var(--battery)'],
  ['money.saving.shifted', 'grid energy shifted', 'var(--grid)'],
  ['money.saving.export', 'export', 'var(--grid)'],
  ['money.saving.other', 'the rest', 'var(--faint)'],
] as const;

interface Props {
  readonly figures: MoneyView['figures'];
  readonly currency: string;
}

/** From what the load would have cost down to the bill: what each way of using the system took off. */
export function Ladder({ figures, currency }: Props) {
  const value = (key: string) => figures[key]?.value ?? null;
  const [without, bill] = [value('money.withoutSystem'), value('money.bill')];
  const steps = STEPS.flatMap(([key, words, ink]) => {
    const part = value(key);
    return part === null ? [] : [{ words, ink, part }];
  });
  if (without === null || bill === null || steps.length === 0) return null;
  const ends = steps.map((_, k) => without - steps.slice(0, k + 1).reduce((sum, { part }) => sum + part, 0));
  // What is left may be a credit: the bars stand on one scale, to the left of nothing too.
  const [least, most] = [Math.min(0, bill, ...ends), Math.max(without, ...ends, 1)];
  const place = (amount: number) => (100 * (amount - least)) / (most - least);
  const bar = (from: number, to: number, ink: string) => (
    <>
      <span className="absolute inset-y-0 border-l border-rule-2" style={{ left: `${place(0)}%` }} />
      <span
        className="absolute top-[3px] h-[13px] forced-color-adjust-none"
        style={{
          left: `${place(Math.min(from, to))}%`,
          width: `${Math.max(0.3, place(Math.max(from, to)) - place(Math.min(from, to)))}%`,
          background: ink,
        }}
      />
    </>
  );
  const rows = [
    { words: 'without the system', amount: without, from: 0, to: without, ink: 'var(--home)', sign: '' },
    ...steps.map(({ words, ink, part }, k) => ({
      words,
      amount: part,
      from: k === 0 ? without : ends[k - 1]!,
      to: ends[k]!,
      ink,
      sign: part >= 0 ? '− ' : '+ ',
    })),
    { words: 'bill', amount: bill, from: 0, to: bill, ink: 'var(--home)', sign: '' },
  ];
  return (
    <section aria-label="What saved what" className="mt-3 max-w-4xl">
      <h2 className="text-[16px]">What saved what{currency && `, ${currency}`}</h2>
      <Table className="w-full text-[13.5px]">
        <tbody>
          {rows.map(({ words, amount, from, to, ink, sign }) => (
            <tr key={words} className="border-b border-rule">
              <th scope="row" className="w-44 text-left font-normal">
                {words}
              </th>
              <td className="w-28 text-right font-semibold">
                {sign}
                {decimal(sign === '' ? amount : Math.abs(amount), 2)}
              </td>
              <td className="relative pl-3">
                <span className="relative block h-[19px]" aria-hidden>
                  {bar(from, to, ink)}
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </section>
  );
}
