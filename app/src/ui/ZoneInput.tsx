import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react';
import { zonesLike } from './zones.js';

interface Props {
  readonly id: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly onBlur: () => void;
  readonly describedBy: string | undefined;
  readonly isInvalid: boolean;
}

/** A time zone, found by typing its city. */
export function ZoneInput({ id, value, onChange, onBlur, describedBy, isInvalid }: Props) {
  const found = zonesLike(value).filter(({ zone }) => zone !== value);
  return (
    <Combobox value={value} onChange={(zone: string | null) => zone && onChange(zone)}>
      <ComboboxInput
        id={id}
        className="field"
        autoComplete="off"
        placeholder="a city, for example Auckland"
        aria-invalid={isInvalid || undefined}
        aria-describedby={describedBy}
        displayValue={(zone: string) => zone}
        onChange={(event) => onChange(event.target.value)}
        onBlur={onBlur}
      />
      {found.length > 0 && (
        <ComboboxOptions
          anchor="bottom start"
          modal={false}
          className="z-40 border border-rule-2 bg-paper p-1 text-[13.5px] text-ink focus:outline-none"
        >
          {found.map(({ zone, place }) => (
            <ComboboxOption
              key={zone}
              value={zone}
              className="cursor-default px-2 py-1 data-focus:bg-selected-2"
            >
              {place} <span className="text-faint">{zone}</span>
            </ComboboxOption>
          ))}
        </ComboboxOptions>
      )}
    </Combobox>
  );
}
