import type { StormPlan } from '@long-tally/core';
import { useState } from 'react';
import { useStormQuery, type Ranged } from '../../store/api.js';
import { decimal } from '../../ui/format.js';
import { localMs } from '../../ui/localTime.js';
import { TimeField } from '../../ui/TimeField.js';
import { Table } from '../../ui/Table.js';

/** What it takes to be full before a storm, what that costs, and the hours it adds. */
export function StormSection({ currency, ...asked }: Ranged & { readonly currency: string }) {
  const [typed, setTyped] = useState('');
  const [isWrong, setWrong] = useState(false);
  const [moment, setMoment] = useState<string | null>(null);
  const { currentData: answer, isFetching } = useStormQuery(
    { ...asked, moment: moment ?? '' },
    { skip: moment === null },
  );
  return (
    <section aria-label="Before a storm" className="mt-5 max-w-4xl">
      <h2 className="text-[16px]">Before a storm</h2>
      <p className="text-faint">
        Charged to 100 % from the grid before a moment: what that costs, and how much longer an outage is
        carried, by the days of the same season in this range.
      </p>
      <form
        className="mt-1 flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          setWrong(Number.isNaN(localMs(typed)));
          if (!Number.isNaN(localMs(typed))) setMoment(typed);
        }}
      >
        <TimeField text="The storm is expected on" value={typed} onChange={setTyped} />
        <button type="submit" className="action">
          Make the plan
        </button>
      </form>
      <div role="status">
        {isWrong && <p className="text-red">Write the date and time, for example 3 Dec 2026, 18:00.</p>}
        {isFetching && <p className="text-faint">Running the days of that season …</p>}
        {answer && !isFetching && 'problem' in answer && <p>{answer.problem}</p>}
      </div>
      {answer && !isFetching && 'plan' in answer && <Plan plan={answer.plan} currency={currency} />}
    </section>
  );
}

function Plan({ plan, currency }: { readonly plan: StormPlan; readonly currency: string }) {
  const { days, soc, boughtKWh, hoursBefore, cost, asUsual, full } = plan;
  const money = (value: number) => `${decimal(value, 2)} ${currency}`.trim();
  const lasts = (hours: StormPlan['full']['p50']) =>
    hours === null
      ? 'longer than 14 days'
      : `${decimal(hours.value, hours.value < 10 ? 1 : 0)} h (${decimal(hours.low, 0)} to ${decimal(hours.high, 0)})`;
  const carried = ({ value, low, high }: StormPlan['full']['survive24']) =>
    `${decimal(100 * value, 0)} % (${decimal(100 * low, 0)} to ${decimal(100 * high, 0)})`;
  return (
    <>
      <p className="mt-2">
        Begin to charge <b>{decimal(hoursBefore, 0)} h</b> before. On {days} days like it the charge at that
        hour was {decimal(100 * soc.value, 0)} % ({decimal(100 * soc.low, 0)} to {decimal(100 * soc.high, 0)}{' '}
        %), and {decimal(boughtKWh.value, 1)} kWh ({decimal(boughtKWh.low, 1)} to {decimal(boughtKWh.high, 1)}
        ) would have been bought to be full.
        {cost &&
          ` If the storm does not come, that costs ${money(cost.value)} (${money(cost.low)} to ${money(cost.high)}), since most of it serves the days after.`}
      </p>
      <Table className="mt-1 text-[13px]">
        <thead>
          <tr className="border-b border-rule-2 text-right text-faint">
            <th scope="col" className="text-left font-normal">
              an outage begun then
            </th>
            <th scope="col" className="pl-5 font-normal">
              as usual
            </th>
            <th scope="col" className="pl-5 font-normal">
              charged to 100 %
            </th>
          </tr>
        </thead>
        <tbody>
          {(
            [
              ['nine of ten last', lasts(asUsual.p10), lasts(full.p10)],
              ['half of them last', lasts(asUsual.p50), lasts(full.p50)],
              ['24 hours are carried in', carried(asUsual.survive24), carried(full.survive24)],
            ] as const
          ).map(([label, usually, then]) => (
            <tr key={label} className="border-b border-rule text-right">
              <th scope="row" className="pr-5 text-left font-normal">
                {label}
              </th>
              <td>{usually}</td>
              <td>{then}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      <p className="mt-1 text-faint">
        A battery is no supply for medical devices. Follow your local authority’s advice for the storm.
      </p>
    </>
  );
}
