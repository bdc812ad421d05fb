import { useFieldArray, useFormContext } from 'react-hook-form';
import { Field } from './Field.js';
import type { SystemForm } from './form.js';
import { NEW_RATE, nextTariff } from './tariffForm.js';

/** Prices with the dates from which they hold. */
export function TariffFields() {
  const { control, getValues } = useFormContext<SystemForm>();
  const { fields, append, remove } = useFieldArray({ control, name: 'tariffs' });
  return (
    <section aria-label="Tariffs" className="mt-5">
      <h2 className="text-[16px]">Tariffs</h2>
      <p className="text-faint">
        Prices of a kWh from a date on. A later line stands over an earlier one in the hours it names. No
        figure rests on them yet; bills will.
      </p>
      {fields.map((field, i) => (
        <fieldset key={field.id} className="mt-2 border-t border-rule-2 pt-1">
          <legend className="pr-2 font-semibold">Tariff {i + 1}</legend>
          <div className="grid grid-cols-2 gap-x-4 gap-y-2 md:grid-cols-5">
            <Field name={`tariffs.${i}.from`} label={`Tariff ${i + 1} holds from`} type="date" />
            <Field name={`tariffs.${i}.standing`} label={`Tariff ${i + 1}, standing charge`} unit="a day" />
          </div>
          <Rates tariff={i} way="import" title="Bought" />
          <Rates tariff={i} way="export" title="Sold" />
          <button type="button" className="quiet mt-1 text-faint" onClick={() => remove(i)}>
            Remove tariff {i + 1}
          </button>
        </fieldset>
      ))}
      <button
        type="button"
        className="quiet mt-2"
        onClick={() => append(nextTariff(getValues('tariffs').at(-1)))}
      >
        Add a tariff
      </button>
    </section>
  );
}

function Rates({
  tariff,
  way,
  title,
}: {
  readonly tariff: number;
  readonly way: 'import' | 'export';
  readonly title: string;
}) {
  const { control } = useFormContext<SystemForm>();
  const name = `tariffs.${tariff}.${way}` as const;
  const { fields, append, remove } = useFieldArray({ control, name });
  const of = (i: number) => `${title} ${tariff + 1}.${i + 1}`;
  return (
    <div className="mt-1">
      {fields.map((field, i) => (
        <div key={field.id} className="mt-1 grid grid-cols-2 gap-x-4 gap-y-1 md:grid-cols-5">
          <Field name={`${name}.${i}.rate`} label={of(i)} unit="per kWh" />
          <Field
            name={`${name}.${i}.days`}
            label={`${of(i)}, on`}
            options={[
              ['all', 'every day'],
              ['week', 'Monday to Friday'],
              ['weekend', 'Saturday and Sunday'],
            ]}
          />
          <Field name={`${name}.${i}.start`} label={`${of(i)}, from`} hint="empty: all day" />
          <Field name={`${name}.${i}.end`} label={`${of(i)}, to`} />
          <button
            type="button"
            className="quiet self-center justify-self-start text-faint"
            onClick={() => remove(i)}
          >
            Remove {of(i).toLowerCase()}
          </button>
        </div>
      ))}
      <button type="button" className="quiet" onClick={() => append(NEW_RATE)}>
        Add a price {way === 'import' ? 'bought' : 'sold'} at
      </button>
    </div>
  );
}
