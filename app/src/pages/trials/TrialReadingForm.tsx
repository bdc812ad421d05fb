import { instantOfLocal, isoOf, TRIAL_EVENTS, zoneOf, type TrialFile } from '@long-tally/core';
import { useId, useState } from 'react';
import { ChoiceField } from '../../ui/ChoiceField.js';
import { FormFoot } from '../../ui/FormFoot.js';
import { Labelled } from '../../ui/Labelled.js';
import { NumberField } from '../../ui/NumberField.js';
import { localMs } from '../../ui/localTime.js';
import { TimeField } from '../../ui/TimeField.js';
import { clockOf, celsiusOf, degreesOf, degreeUnit } from '../../ui/format.js';
import { typedNumber } from '../../ui/typedNumber.js';
import { useEntry } from '../../ui/useEntry.js';
import type { TrialField } from './protocols.js';
import { Tick } from '../../ui/Tick.js';

type Typed = TrialFile['readings'][number];

interface Props {
  readonly fields: readonly TrialField[];
  readonly timeZone: string;
  /** What the home's limits call implausible, W; null where they are not described. */
  readonly mostW: number | null;
  /** True when it was written. */
  readonly onSave: (reading: Typed) => Promise<boolean>;
}

const NUMBERS = {
  soc: ['charge, %', 0, 100],
  dischargeKWh: ['discharge counter, kWh', 0, 1e8],
  chargeKWh: ['charge counter, kWh', 0, 1e8],
  solarKWh: ['solar counter, kWh', 0, 1e8],
  importKWh: ['import counter, kWh', 0, 1e8],
  loadKWh: ['load counter, kWh', 0, 1e8],
  loadW: ['load, W', 0, 1e6],
  solarW: ['solar, W', 0, 1e6],
  batteryW: ['battery, W (− charging)', -1e6, 1e6],
  hz: ['frequency, Hz', 0, 500],
  batteryC: ['battery', -60, 120],
} as const;
type NumberName = keyof typeof NUMBERS;
interface TypedEntry {
  readonly at: string;
  readonly shown: Readonly<Partial<Record<NumberName | 'leg1' | 'leg2', string>>>;
  readonly appliance: string;
  readonly note: string;
  readonly event: (typeof TRIAL_EVENTS)[number];
  readonly isTapered: boolean;
}
const POWERS: readonly string[] = ['loadW', 'solarW', 'batteryW'];
/** A power typed below this, W, by a home of kilowatts may have been meant in kW. */
const MEANT_KW = 20;
const EVENT_WORDS: Readonly<Record<(typeof TRIAL_EVENTS)[number], string>> = {
  none: 'nothing',
  dimming: 'lights dimmed',
  transfer: 'handed over to the grid',
  trip: 'tripped',
  'low-charge': 'stopped for low charge',
  restart: 'restarted',
  'solar-off': 'solar stopped',
  'solar-on': 'solar came back',
};

/** A clock that goes some minutes wrong is no reason to ask. */
function isAhead(atMs: number): boolean {
  return atMs > Date.now() + 300_000;
}

function nowAt(timeZone: string): string {
  return clockOf(Date.now(), timeZone);
}

/** Where a reading of a running trial is typed: a few large fields, the time filled in. */
export function TrialReadingForm({ fields, timeZone, mostW, onSave }: Props) {
  const id = useId();
  const empty = (): TypedEntry => ({
    at: nowAt(timeZone),
    shown: {},
    appliance: '',
    note: '',
    event: 'none',
    isTapered: false,
  });
  const entry = useEntry(empty, empty);
  const { at, shown, appliance, note, event, isTapered } = entry.typed;
  const [problem, setProblem] = useState<string | null>(null);
  const [asked, setAsked] = useState<string | null>(null);
  const numbers = fields.filter((field): field is NumberName => field in NUMBERS);
  const typed = (name: NumberName | 'leg1' | 'leg2') => shown[name]?.trim() ?? '';
  // Temperatures are typed in the reader's degrees and kept in Celsius.
  const isWarmth = (name: NumberName) => name === 'batteryC';
  const labelOf = (name: NumberName) => `${NUMBERS[name][0]}${isWarmth(name) ? `, ${degreeUnit()}` : ''}`;
  const valueOf = (name: NumberName) => {
    const value = typedNumber(typed(name));
    return isWarmth(name) ? celsiusOf(value) : name === 'soc' ? value / 100 : value;
  };
  const save = async () => {
    const wrong = numbers.find((name) => {
      const [, least, most] = NUMBERS[name];
      const value = isWarmth(name) ? valueOf(name) : typedNumber(typed(name));
      return typed(name) !== '' && !(value >= least && value <= most);
    });
    const legs = fields.includes('legs')
      ? (['leg1', 'leg2'] as const).map(typed).filter((text) => text !== '')
      : [];
    const isEmpty =
      numbers.every((name) => typed(name) === '') && legs.length === 0 && event === 'none' && note === '';
    const tooSmall = numbers.find(
      (name) =>
        POWERS.includes(name) &&
        typed(name) !== '' &&
        Math.abs(typedNumber(typed(name))) < MEANT_KW &&
        typedNumber(typed(name)) % 1 !== 0,
    );
    const tooLarge = numbers.find(
      (name) => mostW !== null && POWERS.includes(name) && Math.abs(typedNumber(typed(name))) > 4 * mostW,
    );
    const atMs = instantOfLocal(zoneOf(timeZone), localMs(at));
    const doubt = tooSmall
      ? `${typed(tooSmall)} W is very little: is it kW? Write watts, ${Math.round(1000 * typedNumber(typed(tooSmall)))}, or press again to keep it.`
      : tooLarge
        ? `${typed(tooLarge)} W is far beyond what the home is described to give. Mend it, or press again to keep it.`
        : isAhead(atMs)
          ? 'This time lies ahead. Mend it, or press again to keep it.'
          : null;
    if (!/^\d{4}-\d\d-\d\dT\d\d:\d\d/.test(at)) setProblem('Choose the date and time of the reading.');
    else if (wrong) {
      const [least, most] = [NUMBERS[wrong][1], NUMBERS[wrong][2]].map((bound) =>
        isWarmth(wrong) ? Math.round(degreesOf(bound)) : bound,
      );
      setProblem(
        `"${typed(wrong)}" cannot be the ${labelOf(wrong)}: write a number from ${least} to ${most}.`,
      );
    } else if (legs.some((text) => !(typedNumber(text) >= 0)))
      setProblem('Write the power of each leg in W, for example 1200.');
    else if (isEmpty) setProblem('Write at least one reading, an event or a note.');
    else if (doubt !== null && doubt !== asked) {
      setProblem(doubt);
      setAsked(doubt);
    } else {
      const own = Object.fromEntries(
        numbers.filter((name) => typed(name) !== '').map((name) => [name, valueOf(name)]),
      );
      setProblem(null);
      setAsked(null);
      const reading = {
        at: isoOf(atMs),
        ...own,
        ...(legs.length > 0 ? { legW: legs.map(typedNumber) } : {}),
        ...(fields.includes('isTapered') && isTapered ? { isTapered } : {}),
        ...(appliance.trim() ? { appliance: appliance.trim() } : {}),
        ...(event === 'none' ? {} : { event }),
        ...(note.trim() ? { note: note.trim() } : {}),
      };
      await entry.send(() => onSave(reading));
    }
  };
  return (
    <form
      aria-label="A new reading"
      className="mt-3 grid grid-cols-1 gap-x-4 gap-y-2 sm:grid-cols-2 lg:grid-cols-4"
      onSubmit={(submitted) => {
        submitted.preventDefault();
        void save();
      }}
    >
      <TimeField text="Read at" value={at} onChange={(time) => entry.change({ at: time })} />
      {fields.includes('appliance') && (
        <Labelled id={`${id}-appliance`} text="Switched on">
          <input
            id={`${id}-appliance`}
            className="field"
            maxLength={200}
            value={appliance}
            onChange={(change) => entry.change({ appliance: change.target.value })}
          />
        </Labelled>
      )}
      {numbers.map((name) => (
        <NumberField
          key={name}
          text={labelOf(name)}
          className="text-right"
          value={shown[name] ?? ''}
          onChange={(value) => entry.change({ shown: { ...shown, [name]: value } })}
        />
      ))}
      {fields.includes('legs') &&
        (['leg1', 'leg2'] as const).map((name, k) => (
          <NumberField
            key={name}
            text={`leg ${k + 1}, W`}
            className="text-right"
            value={shown[name] ?? ''}
            onChange={(value) => entry.change({ shown: { ...shown, [name]: value } })}
          />
        ))}
      {fields.includes('event') && (
        <ChoiceField
          text="What came"
          value={event}
          choices={TRIAL_EVENTS.map((one) => [one, EVENT_WORDS[one]] as const)}
          onChange={(came) => entry.change({ event: came })}
        />
      )}
      <Labelled id={`${id}-note`} text="Note">
        <input
          id={`${id}-note`}
          className="field"
          maxLength={500}
          value={note}
          onChange={(change) => entry.change({ note: change.target.value })}
        />
      </Labelled>
      {fields.includes('isTapered') && (
        <Tick
          className="col-span-full"
          checked={isTapered}
          onChange={(ticked) => entry.change({ isTapered: ticked })}
        >
          The charging had died down (truly full)
        </Tick>
      )}
      <FormFoot write="Write down" onCancel={null} problem={problem} />
    </form>
  );
}
