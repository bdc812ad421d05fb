import { useId } from 'react';
import { Controller, useFormContext, type FieldPath } from 'react-hook-form';
import { Choice } from '../../ui/Choice.js';
import { DateInput } from '../../ui/DateInput.js';
import { ZoneInput } from '../../ui/ZoneInput.js';
import type { SystemForm } from './form.js';

interface Props {
  readonly name: FieldPath<SystemForm>;
  readonly label: string;
  readonly unit?: string;
  readonly hint?: string;
  readonly type?: 'text' | 'date' | 'datetime-local' | 'zone';
  readonly options?: readonly (readonly [value: string, text: string])[];
}

/** A labelled field with its unit, a hint, and under it what is wrong with what was typed. */
export function Field({ name, label, unit, hint, type = 'text', options }: Props) {
  const id = useId();
  const { register, control, getFieldState, formState } = useFormContext<SystemForm>();
  const { error } = getFieldState(name, formState);
  const described = error ? `${id}-error` : hint ? `${id}-hint` : undefined;
  return (
    <div>
      <label htmlFor={id} className="block text-[12.5px] text-faint">
        {label}
        {unit ? `, ${unit}` : ''}
      </label>
      {options || type !== 'text' ? (
        <Controller
          control={control}
          name={name}
          render={({ field: { value, onChange, onBlur } }) =>
            options ? (
              <Choice
                id={id}
                label={label}
                describedBy={described}
                isInvalid={error !== undefined}
                value={value as string}
                choices={options}
                onChange={onChange}
              />
            ) : type === 'zone' ? (
              <ZoneInput
                id={id}
                describedBy={described}
                isInvalid={error !== undefined}
                value={value as string}
                onChange={onChange}
                onBlur={onBlur}
              />
            ) : (
              <DateInput
                id={id}
                kind={type === 'date' ? 'date' : 'time'}
                describedBy={described}
                isInvalid={error !== undefined}
                value={value as string}
                onChange={onChange}
                onBlur={onBlur}
              />
            )
          }
        />
      ) : (
        <input
          id={id}
          className="field"
          aria-invalid={error ? true : undefined}
          aria-describedby={described}
          inputMode={unit ? 'decimal' : undefined}
          autoComplete="off"
          {...register(name)}
        />
      )}
      {error ? (
        <p id={`${id}-error`} role="alert" className="text-[12.5px] text-red">
          {error.message}
        </p>
      ) : hint ? (
        <p id={`${id}-hint`} className="text-[12px] leading-tight text-faint">
          {hint}
        </p>
      ) : null}
    </div>
  );
}
