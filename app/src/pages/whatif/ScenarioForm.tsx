import type { ScenarioFile } from '@long-tally/core';
import { useId, useState } from 'react';
import { ChoiceField } from '../../ui/ChoiceField.js';
import { Fold } from '../../ui/Fold.js';
import { FormFoot } from '../../ui/FormFoot.js';
import { Labelled } from '../../ui/Labelled.js';
import { NumberField } from '../../ui/NumberField.js';
import { useEntry } from '../../ui/useEntry.js';
import { formOfScenario, scenarioOfForm, type ChangeForm } from './scenarioForm.js';

interface Props {
  /** The scenario that is changed; null for a new one. */
  readonly edited: ScenarioFile | null;
  /** Names of the parts of the load that are logged. */
  readonly parts: readonly string[];
  readonly onCancel: () => void;
  /** Names that other scenarios of the home have. */
  readonly taken: readonly string[];
  /**
   * @param before name of the scenario whose place it takes
   * @returns whether it was written
   */
  readonly onKeep: (scenario: ScenarioFile, before: string | null) => Promise<boolean>;
}

type Fields = readonly (readonly [key: keyof ChangeForm, text: string, hint?: string])[];

/** Fields by what they change. */
const GROUPS: readonly (readonly [legend: string, fields: Fields])[] = [
  [
    'Battery and panels',
    [
      ['modules', 'modules'],
      ['reserve', 'reserve, %'],
      ['maxDischarge', 'power of the battery, kW'],
      ['idle', 'idle draw, W'],
      ['arrays', 'panels, times as many', '1.5'],
    ],
  ],
  [
    'Inverter and grid',
    [
      ['units', 'inverters'],
      ['batteryOnly', 'inverter on battery, kW'],
      ['exportLimit', 'limit of export, kW'],
      ['gridChargeLimit', 'grid with charging, at most kW'],
    ],
  ],
  [
    'Charging from the grid',
    [
      ['windowStart', 'charge at night from', '23:00'],
      ['windowEnd', 'charge at night until', '05:00'],
      ['windowTo', 'charge up to, %', '80'],
      ['windowMonths', 'in the months', '11, 12, 1, 2'],
    ],
  ],
  [
    'Loads',
    [
      ['loadName', 'a load more', 'car'],
      ['loadKWh', 'its kWh a day', '8'],
      ['loadKW', 'its kW', '7'],
      ['loadStart', 'it runs from', '23:00'],
      ['loadEnd', 'it runs until', '05:00'],
      ['surplusKW', 'a load on the surplus, kW'],
      ['heatPump', 'heat pump, kWh a degree day', '0.6'],
      ['outageShare', 'carried in an outage, % of the load', '50'],
      ['outageCap', 'and no more than, kW', '1.5'],
    ],
  ],
];
/** Loads that the log has by their names. */
const NAMED: Fields = [
  ['toSurplus', 'moved to the surplus', 'boiler'],
  ['toNight', 'moved to the night', 'car'],
  ['takenAway', 'taken away', 'pool'],
];

/** A change of one's own: what is written changes, the rest stays as it is. */
export function ScenarioForm({ edited, parts, taken, onCancel, onKeep }: Props) {
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
  return (
    <Fold
      title={edited ? `Change “${edited.name}”` : 'Write a change of your own'}
      isOpen={edited !== null}
      className="mt-3"
    >
      <form
        aria-label={edited ? 'A scenario changed' : 'A new scenario'}
        className="no-print mt-1 grid grid-cols-2 gap-x-3 gap-y-1.5"
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
        {GROUPS.map(([legend, fields]) => (
          <fieldset key={legend} className="col-span-2 grid grid-cols-2 gap-x-3 gap-y-1.5">
            <legend className="pt-1.5 text-[13px] font-semibold">{legend}</legend>
            <TypedFields fields={fields} form={form} onChange={set} />
            {legend === 'Loads' && parts.length > 0 && (
              <>
                <p className="col-span-2 text-[12.5px] text-faint">
                  Parts of the load that are logged: {parts.join(', ')}
                </p>
                <TypedFields fields={NAMED} form={form} onChange={set} />
              </>
            )}
          </fieldset>
        ))}
        <ChoiceField
          text="coupling"
          value={form.coupling}
          choices={[
            ['same', 'as it is'],
            ['ac', 'on the AC side'],
            ['dc', 'on the DC side'],
          ]}
          onChange={set('coupling')}
        />
        <ChoiceField
          text="how it is run"
          value={form.strategy}
          choices={[
            ['same', 'as it is'],
            ['self-use', 'for self-use'],
            ['cheap-charge', 'charged in the cheapest hours'],
            ['cheap-known', 'the same, tomorrow known'],
            ['peak-shave', 'kept for dear hours'],
            ['none', 'in its windows only'],
          ]}
          onChange={set('strategy')}
        />
        <TypedFields fields={[['price', 'what the change costs', '4000']]} form={form} onChange={set} />
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
    </Fold>
  );
}

interface TypedFieldsProps {
  readonly fields: Fields;
  readonly form: ChangeForm;
  readonly onChange: (key: keyof ChangeForm) => (value: string) => void;
}

function TypedFields({ fields, form, onChange }: TypedFieldsProps) {
  return fields.map(([key, text, hint]) => (
    <NumberField
      key={key}
      text={text}
      value={form[key]}
      {...(hint ? { placeholder: hint } : {})}
      onChange={onChange(key)}
    />
  ));
}
