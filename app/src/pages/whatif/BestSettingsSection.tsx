import { MONTHS_SHORT } from '@long-tally/core';
import type { BestSettings, ScenarioFile } from '@long-tally/core';
import { useState } from 'react';
import { useSettingsQuery, type Ranged } from '../../store/api.js';
import { decimal } from '../../ui/format.js';
import { NumberField } from '../../ui/NumberField.js';
import { typedNumber } from '../../ui/typedNumber.js';
import { Table } from '../../ui/Table.js';

interface Props extends Ranged {
  readonly currency: string;
  readonly onKeep: (scenario: ScenarioFile) => Promise<unknown>;
}

/** Reserve and night charging by month that would have made the bill least, with an outage of the wanted length carried. */
export function BestSettingsSection({ currency, onKeep, ...asked }: Props) {
  const [typed, setTyped] = useState({ hours: '12', chance: '90' });
  const [wanted, setWanted] = useState<{ hours: number; chance: number } | null>(null);
  const { currentData: answer, isFetching } = useSettingsQuery(
    { ...asked, hours: wanted?.hours ?? 0, chance: wanted?.chance ?? 0.9 },
    { skip: wanted === null },
  );
  const [hours, chance] = [typedNumber(typed.hours), typedNumber(typed.chance) / 100];
  const isSound = hours >= 0 && hours <= 336 && chance > 0 && chance < 1;
  return (
    <section aria-label="Best settings" className="mt-5 max-w-4xl">
      <h2 className="text-[16px]">Best settings</h2>
      <p className="text-faint">
        The reserve and the night charging of each month that would have made the bill of the last year of
        this range lowest, while still carrying an outage of the length you set.
      </p>
      <form
        className="mt-1 flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (isSound) setWanted({ hours: Math.round(hours), chance });
        }}
      >
        <NumberField
          text="Hours to carry"
          className="w-24 text-right"
          value={typed.hours}
          onChange={(value) => setTyped({ ...typed, hours: value })}
        />
        <NumberField
          text="in this many of 100 outages"
          className="w-24 text-right"
          value={typed.chance}
          onChange={(value) => setTyped({ ...typed, chance: value })}
        />
        <button type="submit" className="action">
          Find the settings
        </button>
      </form>
      <div role="status">
        {!isSound && (
          <p className="text-red">
            Write hours from 0 to 336, and a number between 0 and 100, for example 90.
          </p>
        )}
        {isFetching && <p className="text-faint">Trying reserves and charges, month by month …</p>}
        {answer && !isFetching && ('problem' in answer ? <p>{answer.problem}</p> : null)}
      </div>
      {answer && !isFetching && 'settings' in answer && (
        <Settings
          settings={answer.settings}
          currency={currency}
          onKeep={() =>
            onKeep({
              schema: 'long-tally/scenario@1',
              name: `best settings for ${wanted!.hours} h`,
              change: answer.settings.change,
            })
          }
        />
      )}
    </section>
  );
}

interface SettingsProps {
  readonly settings: BestSettings;
  readonly currency: string;
  readonly onKeep: () => Promise<unknown>;
}

function Settings({ settings, currency, onKeep }: SettingsProps) {
  const { months, cheapHours, bill, bestBill, foresightBill, survive } = settings;
  const amount = (value: number) => `${decimal(value, 2)} ${currency}`.trim();
  const share = (value: number) => `${decimal(100 * value, 0)} %`;
  const saved = bill - bestBill;
  return (
    <>
      <p className="mt-2">
        The bill of a year would have been <b>{amount(bestBill)}</b> instead of {amount(bill)}:{' '}
        {saved >= 0 ? `${amount(saved)} less` : `${amount(-saved)} more, for what is kept`}. Of possible
        outages {share(survive[1][0])} of 12 hours would be carried (now {share(survive[0][0])}),{' '}
        {share(survive[1][1])} of 24 hours (now {share(survive[0][1])}).
        {foresightBill !== null &&
          ` Even with load, sun and prices known in advance, no use of the battery could have come far below ${amount(Math.min(foresightBill, bestBill))}.`}
      </p>
      {cheapHours === null && (
        <p className="text-faint">
          Every hour costs the same here, so nothing is gained by charging at night.
        </p>
      )}
      <div className="overflow-x-auto" role="region" aria-label="Settings by month" tabIndex={0}>
        <Table className="mt-1 text-[13px]">
          <thead>
            <tr className="border-b border-rule-2 text-right text-faint">
              <td />
              {MONTHS_SHORT.map((month) => (
                <th key={month} scope="col" className="pl-3 font-normal">
                  {month}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            <tr className="border-b border-rule text-right">
              <th scope="row" className="text-left font-normal">
                reserve, %
              </th>
              {months.map(({ reserve }, k) => (
                <td key={MONTHS_SHORT[k]}>{decimal(100 * reserve, 0)}</td>
              ))}
            </tr>
            <tr className="border-b border-rule text-right">
              <th scope="row" className="text-left font-normal">
                {cheapHours
                  ? `from ${cheapHours.start} to ${cheapHours.end} charge to, %`
                  : 'charge at night to, %'}
              </th>
              {months.map(({ toSoc }, k) => (
                <td key={MONTHS_SHORT[k]}>{toSoc === null ? '–' : decimal(100 * toSoc, 0)}</td>
              ))}
            </tr>
          </tbody>
        </Table>
      </div>
      <p className="mt-1 flex flex-wrap gap-x-5">
        <button type="button" className="quiet" onClick={() => void onKeep()}>
          Keep these settings as a scenario
        </button>
        <span className="text-faint">
          What the equipment can be set to, and what its warranty allows, its manual says.
        </span>
      </p>
    </>
  );
}
