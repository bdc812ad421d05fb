import { useId } from 'react';
import { Labelled } from './Labelled.js';

interface Props<T extends string | number> {
  readonly text: string;
  readonly value: T;
  readonly choices: readonly (readonly [value: T, says: string])[];
  readonly onChange: (value: T) => void;
  readonly className?: string;
}

/** A labelled list of which one is chosen. */
export function ChoiceField<T extends string | number>({
  text,
  value,
  choices,
  onChange,
  className = '',
}: Props<T>) {
  const id = useId();
  return (
    <Labelled id={id} text={text}>
      <select
        id={id}
        className={`field ${className}`}
        value={value}
        onChange={(event) => onChange(choices[event.target.selectedIndex]![0])}
      >
        {choices.map(([one, says]) => (
          <option key={one} value={one}>
            {says}
          </option>
        ))}
      </select>
    </Labelled>
  );
}
