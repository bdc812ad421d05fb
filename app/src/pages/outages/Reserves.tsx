import type { OutageCourse } from '@long-tally/core';
import { MONTHS } from '../../charts/HourTable.js';
import { counted, decimal } from '../../ui/format.js';

type Held = OutageCourse['costs'][number]['importKWh'];

interface Props {
  readonly course: OutageCourse;
  readonly currency: string | null;
}

/** The reserve that each month asks for against the one that is set, and what another would have cost. */
export function Reserves({ course: { whole, reserveSet, costs }, currency }: Props) {
  if (!whole) return null;
  const { reserves } = whole;
  const short = reserves.filter((soc) => soc !== null && reserveSet !== null && soc > reserveSet).length;
  return (
    <section aria-label="Reserve by month" className="mt-4 max-w-5xl">
      <h2 className="text-[16px]">Reserve that lasts 12 h in nine of ten starts</h2>
      <table className="mt-1 w-full text-[13px]">
        <thead>
          <tr className="border-b border-rule-2 text-right text-faint">
            {MONTHS.map((month) => (
              <th key={month} scope="col" className="font-normal">
                {month}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr className="text-right">
            {reserves.map((soc, month) => (
              <td
                key={MONTHS[month]}
                className={soc !== null && reserveSet !== null && soc > reserveSet ? 'text-red' : ''}
              >
                {soc === null ? '–' : `${decimal(100 * soc, 0)} %`}
              </td>
            ))}
          </tr>
        </tbody>
      </table>
      <p className="mt-1 text-faint">
        With the sun that there was; – where nothing is known or even full does not last.
        {reserveSet !== null &&
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
  readonly costs: OutageCourse['costs'];
  readonly currency: string | null;
}) {
  if (costs.length === 0) return null;
  const signed = (value: number) => `${value > 0 ? '+' : ''}${decimal(value, 0)}`;
  const heldText = ({ value, low, high }: Held) =>
    Math.abs(value) < 0.5 ? '0' : `${signed(value)} (${signed(low)} to ${signed(high)})`;
  return (
    <div className="mt-3">
      <h3 className="text-[14px] font-semibold">What another reserve would have meant, a year</h3>
      <table className="w-full max-w-3xl text-[13px]">
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
              <td>{heldText(importKWh)}</td>
              <td>{cost ? heldText(cost) : 'no tariff'}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-1 text-faint">
        The range is gone through again with each reserve: the battery serves the load down to it, grid
        charging as it was. Differences are what counts; the interval is that of the capacity.
      </p>
    </div>
  );
}
