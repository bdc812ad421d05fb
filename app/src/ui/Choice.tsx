import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/react';
import { Check, ChevronDown } from 'lucide-react';

export interface ChoiceProps<T extends string | number> {
  readonly value: T;
  readonly choices: readonly (readonly [value: T, says: string])[];
  readonly onChange: (value: T) => void;
  readonly className?: string;
}

interface Named {
  /** What it is for. */
  readonly label: string;
  readonly id?: string;
  readonly describedBy?: string | undefined;
  readonly isInvalid?: boolean;
}

/** A list of which one is chosen, opened at its button. */
export function Choice<T extends string | number>({
  value,
  choices,
  onChange,
  className = '',
  label,
  id,
  describedBy,
  isInvalid = false,
}: ChoiceProps<T> & Named) {
  const says = choices.find(([one]) => one === value)?.[1] ?? '';
  return (
    <Listbox value={value} onChange={onChange} invalid={isInvalid}>
      <ListboxButton
        {...(id ? { id } : {})}
        className={`field flex items-center justify-between gap-2 text-left ${className}`}
        aria-invalid={isInvalid || undefined}
        aria-describedby={describedBy}
        aria-label={`${label}: ${says}`}
      >
        <span className="truncate">{says}</span>
        <ChevronDown size={14} aria-hidden className="shrink-0 text-faint" />
      </ListboxButton>
      <ListboxOptions
        anchor="bottom start"
        className="z-40 max-h-80 min-w-(--button-width) overflow-y-auto border border-rule-2 bg-paper p-1 text-[13.5px] text-ink focus:outline-none"
      >
        {choices.map(([one, text]) => (
          <ListboxOption
            key={one}
            value={one}
            className="flex cursor-default items-baseline gap-2 px-2 py-1 data-focus:bg-selected-2 data-selected:font-semibold"
          >
            <Check
              size={12}
              aria-hidden
              className={`shrink-0 self-center ${one === value ? '' : 'invisible'}`}
            />
            {text}
          </ListboxOption>
        ))}
      </ListboxOptions>
    </Listbox>
  );
}
