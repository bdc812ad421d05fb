import { useId } from 'react';
import { Labelled } from './Labelled.js';

interface Props {
  readonly text: string;
  /** Local date and time, `2024-06-30T18:40`; empty where none is chosen. */
  readonly value: string;
  readonly onChange: (value: string) => void;
}

/** A labelled field for a date and a time at the site. */
export function TimeField({ text, value, onChange }: Props) {
  const id = useId();
  return (
    <Labelled id={id} text={text}>
      <input
        id={id}
        type="datetime-local"
        className="field"
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </Labelled>
  );
}
