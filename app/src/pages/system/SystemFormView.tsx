import { decimal, degreesTyped, degreeUnit } from '../../ui/format.js';
import { InputError, checkSystem, problemText, type System } from '@long-tally/core';
import { zodResolver } from '@hookform/resolvers/zod';
import { useEffect, useState } from 'react';
import { FormProvider, useFieldArray, useForm, useFormContext, useWatch } from 'react-hook-form';
import { useLocation } from 'react-router';
import { ChangedElsewhere } from '../../db/homes.js';
import { Fold } from '../../ui/Fold.js';
import { failureText } from '../../workers/words.js';
import { countKnown, nextConfiguration } from './configurationForm.js';
import { ConfigurationFields } from './ConfigurationFields.js';
import { draftOf, forgetDraft, keepDraft } from './draft.js';
import { Field } from './Field.js';
import { formSchema, systemOf, type SystemForm } from './form.js';
import { TariffFields } from './TariffFields.js';
import { TimeLine } from './TimeLine.js';

interface Props {
  /** The home whose form it is, or `new`: what is typed and not saved is kept under it. */
  readonly draftOfHome: string;
  readonly initial: SystemForm;
  readonly original: System | null;
  readonly action: string;
  readonly onSave: (system: System) => Promise<void>;
}

/** The form of a system: the home, its configurations over time, the accuracy of its meters. */
export function SystemFormView({ draftOfHome, initial, original, action, onSave }: Props) {
  const [draft, setDraft] = useState(() => draftOf(draftOfHome, initial));
  const form = useForm<SystemForm>({
    resolver: zodResolver(formSchema),
    values: draft ?? initial,
    mode: 'onSubmit',
  });
  const { fields, append, insert, remove } = useFieldArray({
    control: form.control,
    name: 'configurations',
  });
  useEffect(() => {
    const listening = form.subscribe({
      formState: { values: true, isDirty: true },
      callback: ({ values, isDirty }) => {
        if (isDirty) keepDraft(draftOfHome, initial, values);
      },
    });
    return listening;
  }, [form, draftOfHome, initial]);
  const discard = () => {
    forgetDraft(draftOfHome);
    setDraft(null);
    form.reset(initial);
  };
  const [refused, setRefused] = useState<readonly string[]>([]);
  const submit = form.handleSubmit(async (typed) => {
    try {
      setRefused([]);
      await onSave(checkSystem(systemOf(typed, original), 'the form'));
      forgetDraft(draftOfHome);
      setDraft(null);
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
        {draft && (
          <p role="status" className="mt-2 border-l-4 border-ink pl-3">
            What you typed before and did not save stands in the form.{' '}
            <button type="button" className="quiet" onClick={discard}>
              Go back to what is saved
            </button>
          </p>
        )}
        <fieldset className="mt-3 grid grid-cols-2 gap-x-4 gap-y-2 md:grid-cols-5">
          <legend className="font-serif text-[16px] font-semibold">The home</legend>
          <Field name="name" label="Name" />
          <Field name="timeZone" label="Time zone" type="zone" hint="type a city" />
          <Field name="currency" label="Currency" />
          <Field name="latitude" label="Latitude" unit="°" hint="south is negative" />
          <Field name="longitude" label="Longitude" unit="°" hint="west is negative" />
          <Field
            name="gridFreeKWh"
            label="Grid-free up to"
            unit="kWh a day"
            hint={`empty: ${decimal(0.5, 1)}`}
          />
        </fieldset>
        <h2 className="mt-5 text-[16px]">Configurations</h2>
        <p className="text-faint">
          How the home is built, from a date on. When a module is added, an inverter replaced or the battery
          swapped, add a configuration: no figure mixes two of them unmarked. What you leave empty is not
          known, and what needs it says so.
        </p>
        <TimeLine />
        {fields.map((field, i) => (
          <ConfigurationFields
            key={field.id}
            index={i}
            onCopy={() => insert(i + 1, nextConfiguration(form.getValues(`configurations.${i}`)))}
            onRemove={() => remove(i)}
          />
        ))}
        <button
          type="button"
          className="quiet mt-2"
          onClick={() => append(nextConfiguration(form.getValues('configurations').at(-1)))}
        >
          Add a configuration
        </button>
        <TariffFields />
        <FormPart name="accuracy" title="Accuracy of the meters">
          <Field name="accuracy.solar" label="Solar" unit="%" hint="empty: 3" />
          <Field name="accuracy.load" label="Load" unit="%" hint="empty: 2" />
          <Field name="accuracy.grid" label="Grid" unit="%" hint="empty: 2" />
          <Field name="accuracy.battery" label="Battery" unit="%" hint="empty: 3, DC side 2" />
          <Field name="accuracy.soc" label="State of charge" unit="% of full" hint="empty: 3" />
          <Field name="accuracy.offsetW" label="Zero offset" unit="W" hint="empty: 5" />
        </FormPart>
        <FormPart name="degreeDays" title="Degree days">
          <Field
            name="degreeDays.heating"
            label="Heated below"
            unit={degreeUnit()}
            hint={`empty: ${degreesTyped(15.5)}`}
          />
          <Field
            name="degreeDays.cooling"
            label="Cooled above"
            unit={degreeUnit()}
            hint={`empty: ${degreesTyped(22)}`}
          />
        </FormPart>
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

interface PartProps {
  readonly name: 'accuracy' | 'degreeDays';
  readonly title: string;
  readonly children: React.ReactNode;
}

/** A part of the form that few homes need: it opens, and is open where a link leads to it or something in it is wrong. */
function FormPart({ name, title, children }: PartProps) {
  const { control, getFieldState, formState } = useFormContext<SystemForm>();
  const known = countKnown(useWatch({ control, name }));
  const { hash } = useLocation();
  return (
    <section id={name} aria-label={title} className="mt-4">
      <Fold
        title={title}
        holds={known === 0 ? 'as usual' : `${known} given`}
        isOpen={hash === `#${name}`}
        mustOpen={getFieldState(name, formState).error !== undefined}
      >
        <div className="mt-1 grid grid-cols-3 gap-x-4 gap-y-2 md:grid-cols-6">{children}</div>
      </Fold>
    </section>
  );
}
