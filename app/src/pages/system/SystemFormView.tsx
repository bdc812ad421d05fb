import { InputError, checkSystem, problemText, type System } from '@long-tally/core';
import { zodResolver } from '@hookform/resolvers/zod';
import { useState } from 'react';
import { FormProvider, useFieldArray, useForm } from 'react-hook-form';
import { ChangedElsewhere } from '../../db/homes.js';
import { failureText } from '../../workers/words.js';
import { nextConfiguration } from './configurationForm.js';
import { ConfigurationFields } from './ConfigurationFields.js';
import { Field } from './Field.js';
import { formSchema, systemOf, type SystemForm } from './form.js';
import { TariffFields } from './TariffFields.js';

interface Props {
  readonly initial: SystemForm;
  readonly original: System | null;
  readonly action: string;
  readonly onSave: (system: System) => Promise<void>;
}

const ZONES = Intl.supportedValuesOf('timeZone');

/** The form of a system: the home, its configurations over time, the accuracy of its meters. */
export function SystemFormView({ initial, original, action, onSave }: Props) {
  const form = useForm<SystemForm>({ resolver: zodResolver(formSchema), values: initial, mode: 'onSubmit' });
  const { fields, append, remove } = useFieldArray({ control: form.control, name: 'configurations' });
  const [refused, setRefused] = useState<readonly string[]>([]);
  const submit = form.handleSubmit(async (typed) => {
    try {
      setRefused([]);
      await onSave(checkSystem(systemOf(typed, original), 'the form'));
    } catch (error) {
      setRefused(
        error instanceof InputError
          ? error.problems.map(problemText)
          : [error instanceof ChangedElsewhere ? error.message : failureText(error)],
      );
    }
  });
  return (
    <FormProvider {...form}>
      <form onSubmit={(event) => void submit(event)} noValidate className="max-w-4xl">
        <datalist id="zones">
          {ZONES.map((zone) => (
            <option key={zone} value={zone} />
          ))}
        </datalist>
        <fieldset className="mt-3 grid grid-cols-2 gap-x-4 gap-y-2 md:grid-cols-5">
          <legend className="font-serif text-[16px] font-semibold">The home</legend>
          <Field name="name" label="Name" />
          <Field name="timeZone" label="Time zone" list="zones" />
          <Field name="currency" label="Currency" />
          <Field name="latitude" label="Latitude" unit="°" hint="south is negative" />
          <Field name="longitude" label="Longitude" unit="°" hint="west is negative" />
        </fieldset>
        <h2 className="mt-5 text-[16px]">Configurations</h2>
        <p className="text-faint">
          How the home is built, from a date on. When a module is added, an inverter replaced or the battery
          swapped, add a configuration: no figure mixes two of them unmarked. What you leave empty is not
          known, and what needs it says so.
        </p>
        {fields.map((field, i) => (
          <ConfigurationFields key={field.id} index={i} onRemove={() => remove(i)} />
        ))}
        <button
          type="button"
          className="quiet mt-2"
          onClick={() => append(nextConfiguration(form.getValues('configurations').at(-1)))}
        >
          Add a configuration
        </button>
        <TariffFields />
        <fieldset id="accuracy" className="mt-5 grid grid-cols-3 gap-x-4 gap-y-2 md:grid-cols-6">
          <legend className="font-serif text-[16px] font-semibold">Accuracy of the meters</legend>
          <Field name="accuracy.solar" label="Solar" unit="%" hint="empty: 3" />
          <Field name="accuracy.load" label="Load" unit="%" hint="empty: 2" />
          <Field name="accuracy.grid" label="Grid" unit="%" hint="empty: 2" />
          <Field name="accuracy.battery" label="Battery" unit="%" hint="empty: 3, DC side 2" />
          <Field name="accuracy.soc" label="State of charge" unit="% of full" hint="empty: 3" />
          <Field name="accuracy.offsetW" label="Zero offset" unit="W" hint="empty: 5" />
        </fieldset>
        <fieldset className="mt-5 grid grid-cols-2 gap-x-4 gap-y-2 md:grid-cols-6">
          <legend className="font-serif text-[16px] font-semibold">Degree days</legend>
          <Field name="degreeDays.heating" label="Heated below" unit="°C" hint="empty: 15.5" />
          <Field name="degreeDays.cooling" label="Cooled above" unit="°C" hint="empty: 22" />
        </fieldset>
        <div role="alert">
          {refused.map((problem) => (
            <p key={problem} className="mt-2 text-red">
              {problem}
            </p>
          ))}
        </div>
        <button type="submit" className="action mt-4" disabled={form.formState.isSubmitting}>
          {action}
        </button>
      </form>
    </FormProvider>
  );
}
