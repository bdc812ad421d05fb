import { MONTHS_SHORT, scenarioOf, runtimeHours, type LoadPart, type RunsOn } from '@long-tally/core';
import { useDeferredValue, useState } from 'react';
import { useUsualQuery } from '../../store/api.js';
import { decimal, hoursText } from '../../ui/format.js';
import { ChoiceField } from '../../ui/ChoiceField.js';
import { NumberField } from '../../ui/NumberField.js';
import type { At } from '../../protocol.js';
import { SUN, type Sun } from './words.js';
import { typedNumber } from '../../ui/typedNumber.js';
import { Tick } from '../../ui/Tick.js';

/** A load that is typed is as uncertain as what is switched on. */
const LOAD_OFF = 0.1;
/** Beyond this nothing is followed, h. */
const HORIZON_H = 336;
const MONTH_CHOICES = MONTHS_SHORT.map((name, month) => [month, name] as const);
const HOUR_CHOICES = Array.from(
  { length: 24 },
  (_, hour) => [hour, `${String(hour).padStart(2, '0')}:00`] as const,
);

interface Props {
  readonly at: At;
  readonly from: string;
  readonly to: string;
  readonly runsOn: RunsOn;
  readonly parts: readonly LoadPart[];
  readonly socNow: number | null;
  readonly loadW: number | null;
  /** Whether the log has what the usual load is taken from. */
  readonly hasUsual: boolean;
}

type Mode = 'steady' | 'parts' | 'usual';

/** How long a charge lasts: at a steady load, with some named loads on, or as the home usually goes at an hour of a month. */
export function Runtime({ at, from, to, runsOn, parts, socNow, loadW, hasUsual }: Props) {
  const [charge, setCharge] = useState(socNow === null ? '' : String(Math.round(100 * socNow)));
  const [mode, setMode] = useState<Mode>('steady');
  const [load, setLoad] = useState(loadW === null ? '' : String(Math.round(loadW)));
  const [on, setOn] = useState<readonly string[]>([]);
  const soc = typedNumber(charge) / 100;
  const isCharge = soc >= 0 && soc <= 1;
  const typed = typedNumber(load);
  const named = parts.filter(({ name }) => on.includes(name)).reduce((sum, { onW }) => sum + onW, 0);
  const watts = mode === 'parts' ? named : typed;
  const modes: (readonly [Mode, string])[] = [
    ['steady', 'steady, no sun'],
    ...(parts.length > 0 ? [['parts', 'named loads, no sun'] as const] : []),
    ...(hasUsual ? [['usual', 'as usual at an hour'] as const] : []),
  ];
  return (
    <section aria-label="Runtime" className="mt-4 max-w-4xl">
      <h2 className="text-[16px]">How long does it last?</h2>
      <div className="mt-1 flex flex-wrap items-end gap-x-4 gap-y-1">
        <NumberField text="Charge now, %" className="w-28" value={charge} onChange={setCharge} />
        <ChoiceField text="Load" className="w-48" value={mode} choices={modes} onChange={setMode} />
        {mode === 'steady' && (
          <NumberField text="What stays on, W" className="w-36" value={load} onChange={setLoad} />
        )}
        {mode === 'usual' ? (
          <Usual at={at} from={from} to={to} soc={isCharge ? soc : null} />
        ) : (
          <Steady
            runsOn={runsOn}
            soc={soc}
            isRight={isCharge && watts >= 0 && watts <= 100_000}
            watts={watts}
          />
        )}
      </div>
      {mode === 'parts' && (
        <fieldset className="mt-1 flex flex-wrap gap-x-4">
          <legend className="float-left mr-3 text-faint">Stays on, with what it usually draws:</legend>
          {parts.map(({ name, onW }) => (
            <Tick
              key={name}
              checked={on.includes(name)}
              onChange={(isOn) => setOn(isOn ? [...on, name] : on.filter((one) => one !== name))}
            >
              {name}, {decimal(onW, 0)} W
            </Tick>
          ))}
        </fieldset>
      )}
    </section>
  );
}

interface SteadyProps {
  readonly runsOn: RunsOn;
  readonly soc: number;
  readonly watts: number;
  readonly isRight: boolean;
}

/** How long one steady load lasts, or what to mend in what was typed. */
export function Steady({ runsOn, soc, watts, isRight }: SteadyProps) {
  const lasts = isRight ? runtimeHours(runsOn, soc, watts, LOAD_OFF) : null;
  return (
    <p aria-live="polite" className="pb-1">
      {lasts ? (
        <>
          <b className="text-[19px]">{hoursText(lasts.value)}</b>{' '}
          <span className="text-faint">
            without sun ({hoursText(lasts.low)} to {hoursText(lasts.high)}), one steady load of{' '}
            {decimal(watts, 0)} W
          </span>
        </>
      ) : (
        <span className="text-red">Write a charge from 0 to 100 % and a load from 0 to 100,000 W.</span>
      )}
    </p>
  );
}

/** The month and the hour, as three controls and an answer from the worker. */
function Usual({ at, from, to, soc }: Pick<Props, 'at' | 'from' | 'to'> & { readonly soc: number | null }) {
  const [month, setMonth] = useState(Number(to.slice(5, 7)) - 1);
  const [hour, setHour] = useState(18);
  const [sun, setSun] = useState<Sun>('with');
  // Each figure typed would begin an outage in every hour; the last one of them is enough.
  const startSoc = useDeferredValue(soc);
  const { currentData: lasts, isFetching } = useUsualQuery(
    { at, from, to, option: scenarioOf({ startSoc, hasSun: sun === 'with' }), month, hour },
    { skip: startSoc === null },
  );
  const upTo = (hours: number) => (hours >= HORIZON_H ? 'more than two weeks' : hoursText(hours));
  return (
    <>
      <ChoiceField text="Month" className="w-20" value={month} choices={MONTH_CHOICES} onChange={setMonth} />
      <ChoiceField text="From" className="w-24" value={hour} choices={HOUR_CHOICES} onChange={setHour} />
      <ChoiceField text="Sun" className="w-28" value={sun} choices={SUN} onChange={setSun} />
      <p aria-live="polite" className="pb-1">
        {soc === null ? (
          <span className="text-red">Write a charge from 0 to 100 %.</span>
        ) : lasts ? (
          <>
            <b className="text-[19px]">{upTo(lasts.value)}</b>{' '}
            <span className="text-faint">
              ({upTo(lasts.low)} to {upTo(lasts.high)}) on {lasts.starts} days of that month
            </span>
          </>
        ) : (
          <span className="text-faint">
            {isFetching ? 'Reckoning …' : 'This range has no such hour; a longer one would.'}
          </span>
        )}
      </p>
    </>
  );
}
