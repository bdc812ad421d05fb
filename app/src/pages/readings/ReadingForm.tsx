import { counterText, FLOWS, instantOfLocal, zoneOf, type Flow, type Reading } from '@long-tally/core';
import { useId, useState } from 'react';
import type { StoredReading } from '../../db/database.js';
import { clockOf } from '../../ui/format.js';
import { FormFoot } from '../../ui/FormFoot.js';
import { NumberField } from '../../ui/NumberField.js';
import { TimeField } from '../../ui/TimeField.js';
import { Labelled } from '../../ui/Labelled.js';
import { typedNumber } from '../../ui/typedNumber.js';

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
      typed.map((flow) => [flow, typedNumber(shown[flow])]),
    ) as Reading['counters'];
    const decimals = Object.fromEntries(typed.map((flow) => [flow, decimalsIn(shown[flow])]));
    const wrong = typed.find((flow) => !(counters[flow]! >= 0 && counters[flow]! <= 1e9));
    const [soc, celsius] = [typedNumber(charge), typedNumber(warmth)];
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
  return (
    <form
      aria-label={edited ? 'A reading corrected' : 'A new reading'}
      className="mt-3 grid grid-cols-2 gap-x-4 gap-y-2 md:grid-cols-5"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <TimeField text="Read at" value={at} onChange={setAt} />
      {FLOWS.map((flow) => (
        <NumberField
          key={flow}
          text={`${flow} counter, kWh`}
          className="text-right"
          value={shown[flow]}
          onChange={(value) => setShown({ ...shown, [flow]: value })}
        />
      ))}
      <NumberField text="state of charge, %" className="text-right" value={charge} onChange={setCharge} />
      <NumberField text="battery, °C" className="text-right" value={warmth} onChange={setWarmth} />
      <Labelled id={`${id}-note`} text="Note">
        <input
          id={`${id}-note`}
          className="field"
          maxLength={500}
          value={note}
          onChange={(event) => setNote(event.target.value)}
        />
      </Labelled>
      <FormFoot
        write={edited ? 'Write the correction' : 'Write down'}
        onCancel={edited ? onCancel : null}
        problem={problem}
      />
    </form>
  );
}

function decimalsIn(text: string): number {
  return Math.min(6, /[.,](\d*)\s*$/.exec(text)?.[1]?.length ?? 0);
}
