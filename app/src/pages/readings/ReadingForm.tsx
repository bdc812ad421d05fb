import { counterText, FLOWS, instantOfLocal, zoneOf, type Flow, type Reading } from '@long-tally/core';
import { useId, useState } from 'react';
import type { StoredReading } from '../../db/database.js';
import { clockOf } from '../../ui/format.js';
import { Labelled } from '../../ui/Labelled.js';

interface Props {
  readonly timeZone: string;
  /** The reading that is corrected; null for a new one. */
  readonly edited: StoredReading | null;
  readonly onCancel: () => void;
  /** True when it was written. */
  readonly onSave: (reading: Reading) => Promise<boolean>;
}

const EMPTY: Readonly<Record<Flow, string>> = {
  solar: '',
  load: '',
  import: '',
  export: '',
  charge: '',
  discharge: '',
};

/** Where a reading is typed: when, what each counter showed, charge and temperature beside them, a note. */
export function ReadingForm({ timeZone, edited, onCancel, onSave }: Props) {
  const id = useId();
  const [at, setAt] = useState(edited ? clockOf(edited.atMs, timeZone) : '');
  const [shown, setShown] = useState<Readonly<Record<Flow, string>>>(
    edited
      ? (Object.fromEntries(FLOWS.map((flow) => [flow, counterText(edited, flow) ?? ''])) as Record<
          Flow,
          string
        >)
      : EMPTY,
  );
  const [charge, setCharge] = useState(edited?.socPct?.toString() ?? '');
  const [warmth, setWarmth] = useState(edited?.batteryC?.toString() ?? '');
  const [note, setNote] = useState(edited?.note ?? '');
  const [problem, setProblem] = useState<string | null>(null);
  const save = async () => {
    const typed = FLOWS.filter((flow) => shown[flow].trim() !== '');
    const counters = Object.fromEntries(
      typed.map((flow) => [flow, numberIn(shown[flow])]),
    ) as Reading['counters'];
    const decimals = Object.fromEntries(typed.map((flow) => [flow, decimalsIn(shown[flow])]));
    const wrong = typed.find((flow) => !(counters[flow]! >= 0 && counters[flow]! <= 1e9));
    const [soc, celsius] = [numberIn(charge), numberIn(warmth)];
    if (!/^\d{4}-\d\d-\d\dT\d\d:\d\d/.test(at)) setProblem('Choose the date and time of the reading.');
    else if (wrong)
      setProblem(`"${shown[wrong]}" is no reading of the ${wrong} counter: write kWh, for example 12345.6.`);
    else if (charge.trim() !== '' && !(soc >= 0 && soc <= 100))
      setProblem(`"${charge}" is no state of charge: write per cent from 0 to 100.`);
    else if (warmth.trim() !== '' && !(celsius >= -60 && celsius <= 120))
      setProblem(`"${warmth}" is no temperature of a battery: write °C, for example 18.`);
    else if (typed.length === 0 && charge.trim() === '')
      setProblem('Write what at least one counter or the charge shows.');
    else {
      setProblem(null);
      const isWritten = await onSave({
        atMs: instantOfLocal(zoneOf(timeZone), Date.parse(`${at}Z`)),
        counters,
        decimals,
        ...(charge.trim() === '' ? {} : { socPct: soc }),
        ...(warmth.trim() === '' ? {} : { batteryC: celsius }),
        note: note.trim(),
      });
      if (!isWritten) return;
      setShown(EMPTY);
      setCharge('');
      setWarmth('');
      setNote('');
    }
  };
  const field = (name: string, text: string, value: string, onChange: (value: string) => void) => (
    <Labelled key={name} id={`${id}-${name}`} text={text}>
      <input
        id={`${id}-${name}`}
        className="field text-right"
        inputMode="decimal"
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </Labelled>
  );
  return (
    <form
      aria-label={edited ? 'A reading corrected' : 'A new reading'}
      className="mt-3 grid grid-cols-2 gap-x-4 gap-y-2 md:grid-cols-5"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <Labelled id={`${id}-at`} text="Read at">
        <input
          id={`${id}-at`}
          type="datetime-local"
          className="field"
          value={at}
          onChange={(event) => setAt(event.target.value)}
        />
      </Labelled>
      {FLOWS.map((flow) =>
        field(flow, `${flow} counter, kWh`, shown[flow], (value) => setShown({ ...shown, [flow]: value })),
      )}
      {field('soc', 'state of charge, %', charge, setCharge)}
      {field('celsius', 'battery, °C', warmth, setWarmth)}
      <Labelled id={`${id}-note`} text="Note">
        <input
          id={`${id}-note`}
          className="field"
          maxLength={500}
          value={note}
          onChange={(event) => setNote(event.target.value)}
        />
      </Labelled>
      <p className="col-span-full flex gap-4">
        <button type="submit" className="action">
          {edited ? 'Write the correction' : 'Write down'}
        </button>
        {edited && (
          <button type="button" className="quiet text-faint" onClick={onCancel}>
            Leave it as it was
          </button>
        )}
      </p>
      <p role="alert" className="col-span-full text-red empty:hidden">
        {problem}
      </p>
    </form>
  );
}

function numberIn(text: string): number {
  return text.trim() === '' ? NaN : Number(text.replace(',', '.'));
}

function decimalsIn(text: string): number {
  return Math.min(6, /[.,](\d*)\s*$/.exec(text)?.[1]?.length ?? 0);
}
