import { useId } from 'react';
import { DateInput } from './DateInput.js';
import { Labelled } from './Labelled.js';
import type { LocalKind } from './localTime.js';

interface Props {
  readonly text: string;
  /** Local date and time, `2024-06-30T18:40`; empty where none is chosen. */
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly kind?: LocalKind;
}

/** A labelled field for a date, with or without a time, at the site. */
export function TimeField({ text, value, onChange, kind = 'time' }: Props) {
  const id = useId();
  return (
    <Labelled id={id} text={text}>
      <DateInput id={id} kind={kind} value={value} onChange={onChange} />
    </Labelled>
  );
}
