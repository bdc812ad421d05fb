import type { ScenarioFile } from '@long-tally/core';
import { useId, useState } from 'react';
import { ChoiceField } from '../../ui/ChoiceField.js';
import { FormFoot } from '../../ui/FormFoot.js';
import { Labelled } from '../../ui/Labelled.js';
import { NumberField } from '../../ui/NumberField.js';
import { useEntry } from '../../ui/useEntry.js';
import { formOfScenario, scenarioOfForm, type ChangeForm } from './scenarioForm.js';

interface Props {
  /** The scenario that is changed; null for a new one. */
  readonly edited: ScenarioFile | null;
  readonly onCancel: () => void;
  /** Names that other scenarios of the home have. */
  readonly taken: readonly string[];
  /**
   * @param before name of the scenario whose place it takes
   * @returns whether it was written
   */
  readonly onKeep: (scenario: ScenarioFile, before: string | null) => Promise<boolean>;
}

const FIELDS: readonly (readonly [key: keyof ChangeForm, text: string, hint?: string])[] = [
  ['modules', 'modules'],
  ['reserve', 'reserve, %'],
  ['batteryOnly', 'inverter on battery, kW'],
  ['arrays', 'panels, times as many', '1.5'],
  ['exportLimit', 'limit of export, kW'],
  ['idle', 'idle draw, W'],
  ['windowStart', 'charge at night from', '23:00'],
  ['windowEnd', 'charge at night until', '05:00'],
  ['windowTo', 'charge up to, %', '80'],
  ['windowMonths', 'in the months', '11, 12, 1, 2'],
  ['loadName', 'a load more', 'car'],
  ['loadKWh', 'its kWh a day', '8'],
  ['loadKW', 'its kW', '7'],
  ['loadStart', 'it runs from', '23:00'],
  ['loadEnd', 'it runs until', '05:00'],
  ['surplusKW', 'a load on the surplus, kW'],
  ['heatPump', 'heat pump, kWh a degree day', '0.6'],
  ['price', 'what the change costs', '4000'],
];

/** A change of one's own: what is written changes, the rest stays as it is. */
export function ScenarioForm({ edited, taken, onCancel, onKeep }: Props) {
  const id = useId();
  const {
    typed: form,
    change,
    send,
  } = useEntry(
    () => formOfScenario(edited),
    () => formOfScenario(null),
  );
  const [problem, setProblem] = useState<string | null>(null);
  const set = (key: keyof ChangeForm) => (value: string) => change({ [key]: value });
  const [isOpen, setOpen] = useState(edited !== null);
  return (
    <details className="mt-3" open={isOpen} onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="quiet cursor-pointer">
        {edited ? `Change “${edited.name}”` : 'Write a change of your own'}
      </summary>
      <form
        aria-label={edited ? 'A scenario changed' : 'A new scenario'}
        className="mt-1 grid grid-cols-2 gap-x-3 gap-y-1.5"
        onSubmit={(event) => {
          event.preventDefault();
          const made = scenarioOfForm(form, edited);
          if (typeof made === 'string') setProblem(made);
          else if (taken.includes(made.name))
            setProblem(`“${made.name}” is kept already; give this one another name.`);
          else {
            setProblem(null);
            void send(() => onKeep(made, edited?.name ?? null));
          }
        }}
      >
        <div className="col-span-2">
          <Labelled id={`${id}-name`} text="its name">
            <input
              id={`${id}-name`}
              className="field"
              maxLength={200}
              placeholder="four modules and a car"
              value={form.name}
              onChange={(event) => set('name')(event.target.value)}
            />
          </Labelled>
        </div>
        {FIELDS.map(([key, text, hint]) => (
          <NumberField
            key={key}
            text={text}
            value={form[key]}
            {...(hint ? { placeholder: hint } : {})}
            onChange={set(key)}
          />
        ))}
        <ChoiceField
          text="and without"
          value={form.without}
          choices={[
            ['none', 'nothing taken away'],
            ['battery', 'the battery'],
            ['solar', 'the panels'],
          ]}
          onChange={set('without')}
        />
        <FormFoot
          write={edited ? 'Keep the change' : 'Keep it and try it'}
          onCancel={edited ? onCancel : null}
          problem={problem}
        />
      </form>
    </details>
  );
}
