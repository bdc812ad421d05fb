import { describedRunsOn } from '@long-tally/core';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Home } from '../../db/database.js';
import { NoLog } from '../../ui/NoLog.js';
import { NumberField } from '../../ui/NumberField.js';
import { CAUTIONS } from './cautions.js';
import { Steady } from './Runtime.js';
import { typedNumber } from '../../ui/typedNumber.js';

/** What can be told of an outage before there is a log: how long a charge lasts at a load, by the capacity as described. */
export function WithoutLog({ home }: { readonly home: Home }) {
  const [charge, setCharge] = useState('100');
  const [load, setLoad] = useState('500');
  const runsOn = describedRunsOn(home.system);
  if (!runsOn) return <NoLog home={home} />;
  const [soc, watts] = [typedNumber(charge) / 100, typedNumber(load)];
  return (
    <main id="view" className="min-h-0 flex-1 overflow-y-auto px-5 py-4">
      <h1 className="text-xl">Outages</h1>
      <p className="mt-1 max-w-3xl">
        Nothing is imported yet, so this is by the description alone: capacity, charge and load. A log adds
        what the home really uses at each hour, what the battery loses, and the outages there were.{' '}
        <Link className="quiet" to={`/h/${home.id}/sources`}>
          Bring a log
        </Link>
      </p>
      <section aria-label="Runtime" className="mt-4 max-w-4xl">
        <h2 className="text-[16px]">How long does it last?</h2>
        <div className="mt-1 flex flex-wrap items-end gap-x-4 gap-y-1">
          <NumberField text="Charge now, %" className="w-28" value={charge} onChange={setCharge} />
          <NumberField text="What stays on, W" className="w-36" value={load} onChange={setLoad} />
          <Steady
            runsOn={runsOn}
            soc={soc}
            watts={watts}
            isRight={soc >= 0 && soc <= 1 && watts > 0 && watts <= 100_000}
          />
        </div>
        <p className="mt-1 text-faint">
          From {(runsOn.fullWh / 1000).toFixed(1)} kWh as described; a converter takes about 5 % and some tens
          of watts of its own, which the interval holds.
        </p>
      </section>
      <p className="mt-4">
        <Link className="quiet" to={`/h/${home.id}/outage-sheet`}>
          Print a sheet for the next outage
        </Link>
      </p>
      <ul className="mt-4 max-w-3xl list-disc pl-5 text-[13px] text-faint">
        {CAUTIONS.map((text) => (
          <li key={text}>{text}</li>
        ))}
      </ul>
    </main>
  );
}
