import { offerSchema, type Offer, type OfferOutcome } from '@long-tally/core';
import { useLiveQuery } from 'dexie-react-hooks';
import { useState } from 'react';
import { db, type Home } from '../../db/database.js';
import { saveOffers } from '../../db/offers.js';
import { checkedRows, offersRow } from '../../db/rows.js';
import { atOf, useOffersQuery } from '../../store/api.js';
import { decimal } from '../../ui/format.js';
import { FormFoot } from '../../ui/FormFoot.js';
import { Labelled } from '../../ui/Labelled.js';
import { NumberField } from '../../ui/NumberField.js';
import { typedNumber } from '../../ui/typedNumber.js';
import { useEntry } from '../../ui/useEntry.js';
import { useWrite } from '../../ui/useWrite.js';
import { Table } from '../../ui/Table.js';

interface Props {
  readonly home: Home;
  readonly from: string;
  readonly to: string;
  readonly currency: string;
}

const NONE: readonly Offer[] = [];
const LIMITS = { years: 'its years', throughput: 'its throughput', cycles: 'its cycles' } as const;

/** Batteries or warranties on offer, side by side at this home's own measured use. */
export function Offers({ home, from, to, currency }: Props) {
  const { write, failure } = useWrite();
  const row = useLiveQuery(() => db.offers.get(home.id).then((found) => found ?? null), [home.id]);
  const offers = row ? (checkedRows(offersRow, [row]).good[0]?.offers ?? NONE) : NONE;
  const { currentData: answer } = useOffersQuery(
    { at: atOf(home), from, to, offers },
    { skip: offers.length === 0 },
  );
  const keep = (next: readonly Offer[]) => write(() => saveOffers(home.id, next));
  return (
    <section aria-label="Offers" className="mt-5 max-w-4xl">
      <h2 className="text-[16px]">Offers side by side</h2>
      <p className="text-faint">
        Batteries or warranties at this home’s own use: which limit comes first, and what a kWh through the
        battery costs until then. Terms differ; read the document itself.
      </p>
      {failure}
      {offers.length > 0 && answer === null && (
        <p>Fewer than seven days of this range know what the battery gives; a longer range would tell.</p>
      )}
      {answer && (
        <>
          <p className="mt-1">
            This home discharges {decimal(answer.use.dischargeADayKWh.value, 1)} kWh a day (
            {decimal(answer.use.dischargeADayKWh.low, 1)} to {decimal(answer.use.dischargeADayKWh.high, 1)}),
            by {decimal(answer.use.days, 0)} days.
          </p>
          <OfferTable
            outcomes={answer.outcomes}
            currency={currency}
            onRemove={(name) =>
              void write(
                () =>
                  saveOffers(
                    home.id,
                    offers.filter((one) => one.name !== name),
                  ),
                {
                  says: `The offer “${name}” is taken out.`,
                  undo: () => saveOffers(home.id, offers),
                },
              )
            }
          />
        </>
      )}
      <OfferForm
        names={offers.map(({ name }) => name)}
        currency={currency}
        onAdd={(one) => keep([...offers, one])}
      />
    </section>
  );
}

interface TableProps {
  readonly outcomes: readonly OfferOutcome[];
  readonly currency: string;
  readonly onRemove: (name: string) => void;
}

function OfferTable({ outcomes, currency, onRemove }: TableProps) {
  const range = ({ low, high }: { readonly low: number; readonly high: number }, digits: number) => (
    <span className="text-[12px] text-faint">
      {decimal(low, digits)} to {decimal(high, digits)}
    </span>
  );
  return (
    <Table className="mt-1 w-full text-[13.5px]">
      <thead>
        <tr className="border-b border-rule-2 text-right text-faint">
          {['offer', 'ends by', 'after, years', 'kWh until then', `a kWh, ${currency || 'price'}`].map(
            (name, k) => (
              <th key={name} scope="col" className={`pr-3 font-normal ${k < 2 ? 'text-left' : ''}`}>
                {name}
              </th>
            ),
          )}
          <td />
        </tr>
      </thead>
      <tbody>
        {outcomes.map(({ name, first, yearsToFirst, warrantedKWh, perWarrantedKWh }) => (
          <tr key={name} className="border-b border-rule text-right">
            <th scope="row" className="pr-3 text-left font-normal">
              {name}
            </th>
            <td className="pr-3 text-left">{first ? LIMITS[first] : 'no limit is stated'}</td>
            <td className="pr-3">
              {yearsToFirst ? (
                <>
                  {decimal(yearsToFirst.value, 1)} {range(yearsToFirst, 1)}
                </>
              ) : (
                '–'
              )}
            </td>
            <td className="pr-3">
              {warrantedKWh ? (
                <>
                  {decimal(warrantedKWh.value, 0)} {range(warrantedKWh, 0)}
                </>
              ) : (
                '–'
              )}
            </td>
            <td className="pr-3">
              {perWarrantedKWh ? (
                <>
                  {decimal(perWarrantedKWh.value, 3)} {range(perWarrantedKWh, 3)}
                </>
              ) : (
                '–'
              )}
            </td>
            <td>
              <button
                type="button"
                className="quiet text-faint print:hidden"
                aria-label={`Remove ${name}`}
                onClick={() => onRemove(name)}
              >
                Remove
              </button>
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

const NUMBERS = [
  ['price', 'Price'],
  ['usableKWh', 'Usable capacity, kWh'],
  ['years', 'Warranted years'],
  ['throughputKWh', 'Warranted throughput, kWh'],
  ['cycles', 'Warranted cycles'],
  ['cycleDepth', 'at a depth of, %'],
] as const;
type NumberName = (typeof NUMBERS)[number][0];
const EMPTY: Readonly<Record<NumberName | 'name', string>> = {
  name: '',
  price: '',
  usableKWh: '',
  years: '',
  throughputKWh: '',
  cycles: '',
  cycleDepth: '',
};

interface FormProps {
  readonly names: readonly string[];
  readonly currency: string;
  /** True when it was written. */
  readonly onAdd: (offer: Offer) => Promise<boolean>;
}

function OfferForm({ names, currency, onAdd }: FormProps) {
  const { typed, change, send } = useEntry(
    () => EMPTY,
    () => EMPTY,
  );
  const [problem, setProblem] = useState<string | null>(null);
  const add = async () => {
    const name = typed.name.trim();
    const wrong = NUMBERS.find(([key]) => typed[key].trim() !== '' && !(typedNumber(typed[key]) > 0));
    if (name === '') setProblem('Write what the offer is called.');
    else if (names.includes(name)) setProblem(`“${name}” is there already; give this one another name.`);
    else if (wrong)
      setProblem(`“${typed[wrong[0]]}” cannot be the ${wrong[1].toLowerCase()}: write a number above 0.`);
    else if (typed.price.trim() === '' || typed.usableKWh.trim() === '')
      setProblem('Write its price and its usable capacity.');
    else {
      const numbers = NUMBERS.flatMap(([key]) => {
        if (typed[key].trim() === '') return [];
        const value = typedNumber(typed[key]);
        return [[key, key === 'cycleDepth' ? value / 100 : value] as const];
      });
      const offer = offerSchema.safeParse({ name, ...Object.fromEntries(numbers) });
      if (!offer.success) setProblem('A depth lies between 1 and 100 %.');
      else {
        setProblem(null);
        await send(() => onAdd(offer.data));
      }
    }
  };
  return (
    <form
      aria-label="Another offer"
      className="mt-2 grid grid-cols-2 gap-x-4 gap-y-2 sm:grid-cols-4 print:hidden"
      onSubmit={(submitted) => {
        submitted.preventDefault();
        void add();
      }}
    >
      <Labelled id="offer-name" text="Offer">
        <input
          id="offer-name"
          className="field"
          maxLength={200}
          value={typed.name}
          onChange={(event) => change({ name: event.target.value })}
        />
      </Labelled>
      {NUMBERS.map(([key, text]) => (
        <NumberField
          key={key}
          text={key === 'price' && currency ? `${text}, ${currency}` : text}
          className="text-right"
          value={typed[key]}
          onChange={(value) => change({ [key]: value })}
        />
      ))}
      <FormFoot write="Add the offer" onCancel={null} problem={problem} />
    </form>
  );
}
