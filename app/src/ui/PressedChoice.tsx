interface Props<T extends string> {
  readonly label: string;
  readonly value: T;
  readonly choices: readonly (readonly [value: T, says: string])[];
  readonly onChange: (value: T) => void;
}

/** A few ways to show the same, side by side, of which one is pressed. */
export function PressedChoice<T extends string>({ label, value, choices, onChange }: Props<T>) {
  return (
    <div role="group" aria-label={label} className="flex gap-2">
      {choices.map(([one, says]) => (
        <button
          key={one}
          type="button"
          aria-pressed={one === value}
          onClick={() => onChange(one)}
          className={one === value ? 'border-b-2 border-ink font-semibold' : 'quiet'}
        >
          {says}
        </button>
      ))}
    </div>
  );
}
