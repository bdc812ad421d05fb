import { counterText, FLOWS, instantOfLocal, zoneOf, type Flow, type Reading } from '@long-tally/core';
import { useId, useState } from 'react';
import type { StoredReading } from '../../db/database.js';
import {
  celsiusOf,
  clockOf,
  decimal,
  degreesOf,
  degreesTyped,
  degreeUnit,
  fieldText,
} from '../../ui/format.js';
import { FormFoot } from '../../ui/FormFoot.js';
import { NumberField } from '../../ui/NumberField.js';
import { localMs } from '../../ui/localTime.js';
import { TimeField } from '../../ui/TimeField.js';
import { Labelled } from '../../ui/Labelled.js';
import { typedDecimals, typedNumber } from '../../ui/typedNumber.js';
import { useEntry } from '../../ui/useEntry.js';

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
  const entry = useEntry(
    () => ({
      at: edited ? clockOf(edited.atMs, timeZone) : '',
      shown: edited
        ? (Object.fromEntries(
            FLOWS.map((flow) => [flow, fieldText(counterText(edited, flow) ?? '')]),
          ) as Readonly<Record<Flow, string>>)
        : EMPTY,
      charge: fieldText(edited?.socPct ?? ''),
      warmth: degreesTyped(edited?.batteryC),
      use: {
        part: edited?.use?.part ?? '',
        unit: edited?.use?.unit ?? '',
        shown: edited?.use ? fieldText(edited.use.shown.toFixed(edited.use.decimals)) : '',
      },
      note: edited?.note ?? '',
    }),
    (sent) => ({ ...sent, shown: EMPTY, charge: '', warmth: '', use: { ...sent.use, shown: '' }, note: '' }),
  );
  const { at, shown, charge, warmth, use, note } = entry.typed;
  const [problem, setProblem] = useState<string | null>(null);
  const save = async () => {
    const typed = FLOWS.filter((flow) => shown[flow].trim() !== '');
    const counters = Object.fromEntries(
      typed.map((flow) => [flow, typedNumber(shown[flow])]),
    ) as Reading['counters'];
    const decimals = Object.fromEntries(typed.map((flow) => [flow, typedDecimals(shown[flow])]));
    const wrong = typed.find((flow) => !(counters[flow]! >= 0 && counters[flow]! <= 1e9));
    const [soc, celsius] = [typedNumber(charge), celsiusOf(typedNumber(warmth))];
    if (!/^\d{4}-\d\d-\d\dT\d\d:\d\d/.test(at)) setProblem('Choose the date and time of the reading.');
    else if (wrong)
      setProblem(
        `"${shown[wrong]}" is not a reading of the ${wrong} counter: write kWh, for example ${decimal(12345.6, 1)}.`,
      );
    else if (charge.trim() !== '' && !(soc >= 0 && soc <= 100))
      setProblem(`"${charge}" is not a state of charge: write per cent from 0 to 100.`);
    else if (warmth.trim() !== '' && !(celsius >= -60 && celsius <= 120))
      setProblem(
        `"${warmth}" is not a battery temperature: write ${degreeUnit()}, for example ${decimal(degreesOf(18), 0)}.`,
      );
    else if (use.shown.trim() !== '' && !(typedNumber(use.shown) >= 0 && typedNumber(use.shown) <= 1e9))
      setProblem(
        `"${use.shown}" is not a counter reading: write a number, for example ${decimal(12345, 0)}.`,
      );
    else if (use.shown.trim() !== '' && (use.part.trim() === '' || use.unit.trim() === ''))
      setProblem('Write which load the other counter belongs to, and its unit, for example car and km.');
    else if (typed.length === 0 && charge.trim() === '' && use.shown.trim() === '')
      setProblem('Write what at least one counter or the charge shows.');
    else {
      setProblem(null);
      const reading = {
        atMs: instantOfLocal(zoneOf(timeZone), localMs(at)),
        counters,
        decimals,
        ...(charge.trim() === '' ? {} : { socPct: soc }),
        ...(warmth.trim() === '' ? {} : { batteryC: celsius }),
        ...(use.shown.trim() === ''
          ? {}
          : {
              use: {
                part: use.part.trim(),
                unit: use.unit.trim(),
                shown: typedNumber(use.shown),
                decimals: typedDecimals(use.shown),
              },
            }),
        note: note.trim(),
      };
      await entry.send(() => onSave(reading));
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
      <TimeField text="Read at" value={at} onChange={(time) => entry.change({ at: time })} />
      {FLOWS.map((flow) => (
        <NumberField
          key={flow}
          text={`${flow} counter, kWh`}
          className="text-right"
          value={shown[flow]}
          onChange={(value) => entry.change({ shown: { ...shown, [flow]: value } })}
        />
      ))}
      <NumberField
        text="state of charge, %"
        className="text-right"
        value={charge}
        onChange={(value) => entry.change({ charge: value })}
      />
      <NumberField
        text={`battery, ${degreeUnit()}`}
        className="text-right"
        value={warmth}
        onChange={(value) => entry.change({ warmth: value })}
      />
      {(
        [
          ['part', 'load with a counter of its own'],
          ['unit', 'its unit'],
        ] as const
      ).map(([key, text]) => (
        <Labelled key={key} id={`${id}-${key}`} text={text}>
          <input
            id={`${id}-${key}`}
            className="field"
            placeholder={key === 'part' ? 'car' : 'km'}
            maxLength={key === 'part' ? 60 : 20}
            value={use[key]}
            onChange={(event) => entry.change({ use: { ...use, [key]: event.target.value } })}
          />
        </Labelled>
      ))}
      <NumberField
        text="it shows"
        className="text-right"
        value={use.shown}
        onChange={(value) => entry.change({ use: { ...use, shown: value } })}
      />
      <Labelled id={`${id}-note`} text="Note">
        <input
          id={`${id}-note`}
          className="field"
          maxLength={500}
          value={note}
          onChange={(event) => entry.change({ note: event.target.value })}
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
