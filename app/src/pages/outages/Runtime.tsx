import { runtimeHours, type RunsOn } from '@long-tally/core';
import { useId, useState } from 'react';
import { hoursText } from '../../ui/format.js';
import { Labelled } from '../../ui/Labelled.js';

/** A load that is typed is as uncertain as what is switched on. */
const LOAD_OFF = 0.1;

interface Props {
  readonly runsOn: RunsOn;
  readonly socNow: number | null;
  readonly loadW: number | null;
}

/** How long a charge lasts at a load that the reader sets. */
export function Runtime({ runsOn, socNow, loadW }: Props) {
  const id = useId();
  const [charge, setCharge] = useState(socNow === null ? '' : String(Math.round(100 * socNow)));
  const [load, setLoad] = useState(loadW === null ? '' : String(Math.round(loadW)));
  const number = (text: string) => (text.trim() === '' ? NaN : Number(text.replace(',', '.')));
  const [soc, watts] = [number(charge) / 100, number(load)];
  const isRight = soc >= 0 && soc <= 1 && watts >= 0 && watts <= 100_000;
  const lasts = isRight ? runtimeHours(runsOn, soc, watts, LOAD_OFF) : null;
  return (
    <section aria-label="Runtime" className="mt-4 max-w-3xl">
      <h2 className="text-[16px]">How long does it last?</h2>
      <div className="mt-1 grid grid-cols-[140px_160px_1fr] items-end gap-x-4">
        <Labelled id={`${id}-charge`} text="Charge now, %">
          <input
            id={`${id}-charge`}
            inputMode="decimal"
            className="field"
            value={charge}
            onChange={(event) => setCharge(event.target.value)}
          />
        </Labelled>
        <Labelled id={`${id}-load`} text="What stays on, W">
          <input
            id={`${id}-load`}
            inputMode="decimal"
            className="field"
            value={load}
            onChange={(event) => setLoad(event.target.value)}
          />
        </Labelled>
        <p aria-live="polite" className="pb-1">
          {lasts ? (
            <>
              <b className="text-[19px]">{hoursText(lasts.value)}</b>{' '}
              <span className="text-faint">
                without sun ({hoursText(lasts.low)} to {hoursText(lasts.high)}), one steady load
              </span>
            </>
          ) : (
            <span className="text-red">Write a charge from 0 to 100 % and a load from 0 to 100,000 W.</span>
          )}
        </p>
      </div>
    </section>
  );
}
