import { Radio, RadioGroup } from '@headlessui/react';

interface Props<T extends string | number> {
  readonly label: string;
  readonly value: T;
  readonly choices: readonly (readonly [value: T, says: string])[];
  readonly onChange: (value: T) => void;
}

/** A few choices side by side, of which one holds. */
export function RadioChoice<T extends string | number>({ label, value, choices, onChange }: Props<T>) {
  return (
    <RadioGroup
      value={value}
      onChange={onChange}
      aria-label={label}
      className="flex w-fit flex-wrap border border-rule-2"
    >
      {choices.map(([one, says]) => (
        <Radio
          key={one}
          value={one}
          className="cursor-pointer border-rule-2 px-2.5 py-0.5 not-first:border-l data-checked:bg-ink data-checked:text-paper"
        >
          {says}
        </Radio>
      ))}
    </RadioGroup>
  );
}
