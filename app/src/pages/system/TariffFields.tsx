import { useId } from 'react';
import { useFieldArray, useFormContext, useWatch } from 'react-hook-form';
import { Field } from './Field.js';
import type { SystemForm } from './form.js';
import { NEW_DEMAND, NEW_RATE, nextTariff } from './tariffForm.js';
import { WeekStrip } from './WeekStrip.js';

const DAY_CHOICES = [
  ['all', 'every day'],
  ['week', 'Monday to Friday'],
  ['weekend', 'Saturday and Sunday'],
] as const;

/** Prices with the dates from which they hold. */
export function TariffFields() {
  const { control, getValues } = useFormContext<SystemForm>();
  const { fields, append, remove } = useFieldArray({ control, name: 'tariffs' });
  return (
    <section aria-label="Tariffs" className="mt-5">
      <h2 className="text-[16px]">Tariffs</h2>
      <p className="text-faint">
        Prices of a kWh from a date on. A later line stands over an earlier one in the hours it names. Bills,
        savings and what losses cost rest on them.
      </p>
      {fields.map((field, i) => (
        <fieldset key={field.id} className="mt-2 border-t border-rule-2 pt-1">
          <legend className="pr-2 font-semibold">Tariff {i + 1}</legend>
          <div className="grid grid-cols-2 gap-x-4 gap-y-2 md:grid-cols-5">
            <Field name={`tariffs.${i}.from`} label={`Tariff ${i + 1} holds from`} type="date" />
            <Field name={`tariffs.${i}.standing`} label={`Tariff ${i + 1}, standing charge`} unit="a day" />
            <Field name={`tariffs.${i}.tax`} label={`Tariff ${i + 1}, tax on all of it`} unit="%" />
            <Field
              name={`tariffs.${i}.billingDay`}
              label={`Tariff ${i + 1}, bills begin on day`}
              hint="of the month; empty: the 1st"
            />
            <Field
              name={`tariffs.${i}.scheme`}
              label={`Tariff ${i + 1}, what is exported`}
              options={[
                ['paid', 'is paid at its price'],
                ['net', 'is credited against import'],
                ['none', 'earns nothing'],
              ]}
            />
          </div>
          <Settlement tariff={i} />
          <Rates tariff={i} way="import" title="Bought" />
          <Rates tariff={i} way="export" title="Sold" />
          <Demand tariff={i} />
          <Classes tariff={i} />
          <WeekStrip tariff={i} />
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

/** When credit of net metering is settled. */
function Settlement({ tariff }: { readonly tariff: number }) {
  const { control } = useFormContext<SystemForm>();
  const scheme = useWatch({ control, name: `tariffs.${tariff}.scheme` });
  if (scheme !== 'net') return null;
  return (
    <div className="mt-1 grid grid-cols-2 gap-x-4 gap-y-1 md:grid-cols-5">
      <Field
        name={`tariffs.${tariff}.settleMonth`}
        label={`Tariff ${tariff + 1}, credit settled in month`}
        hint="1 to 12"
      />
      <Field
        name={`tariffs.${tariff}.settleRate`}
        label={`Tariff ${tariff + 1}, settled at`}
        unit="per kWh"
      />
    </div>
  );
}

/** Days that the supplier announced, by the name that lines of prices use. */
function Classes({ tariff }: { readonly tariff: number }) {
  const id = useId();
  const { control, register, getFieldState, formState } = useFormContext<SystemForm>();
  const rates = useWatch({ control, name: `tariffs.${tariff}.import` });
  const { error } = getFieldState(`tariffs.${tariff}.classes`, formState);
  if (!rates.some(({ dayClass }) => dayClass.trim() !== '')) return null;
  return (
    <div className="mt-1 max-w-xl">
      <label htmlFor={id} className="block text-[12.5px] text-faint">
        Tariff {tariff + 1}, announced days, a name a line
      </label>
      <textarea
        id={id}
        rows={2}
        className="field"
        placeholder="dear: 2024-01-15, 2024-02-02"
        aria-invalid={error ? true : undefined}
        {...register(`tariffs.${tariff}.classes`)}
      />
      {error && (
        <p role="alert" className="text-[12.5px] text-red">
          {error.message}
        </p>
      )}
    </div>
  );
}

/** Charges on the highest power that was drawn, by windows of the clock. */
function Demand({ tariff }: { readonly tariff: number }) {
  const { control } = useFormContext<SystemForm>();
  const name = `tariffs.${tariff}.demand` as const;
  const { fields, append, remove } = useFieldArray({ control, name });
  const of = (i: number) => `Demand ${tariff + 1}.${i + 1}`;
  return (
    <div className="mt-1">
      {fields.map((field, i) => (
        <div key={field.id} className="mt-1 grid grid-cols-2 gap-x-4 gap-y-1 md:grid-cols-6">
          <Field name={`${name}.${i}.rate`} label={of(i)} unit="per kW of a bill" />
          <Field name={`${name}.${i}.window`} label={`${of(i)}, mean over`} unit="min" />
          <Field name={`${name}.${i}.days`} label={`${of(i)}, on`} options={DAY_CHOICES} />
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
      <button type="button" className="quiet" onClick={() => append(NEW_DEMAND)}>
        Add a charge on the highest power
      </button>
    </div>
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
          <Field name={`${name}.${i}.days`} label={`${of(i)}, on`} options={DAY_CHOICES} />
          <Field name={`${name}.${i}.start`} label={`${of(i)}, from`} hint="empty: all day" />
          <Field name={`${name}.${i}.end`} label={`${of(i)}, to`} />
          <Field
            name={`${name}.${i}.months`}
            label={`${of(i)}, in months`}
            hint="empty: all; or 11, 12, 1-2"
          />
          {way === 'import' && (
            <Field name={`${name}.${i}.above`} label={`${of(i)}, above`} unit="kWh of the bill" />
          )}
          <Field name={`${name}.${i}.dayClass`} label={`${of(i)}, on days called`} hint="empty: any" />
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
