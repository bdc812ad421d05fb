import { useId } from 'react';
import { Labelled } from './Labelled.js';

interface Props {
  readonly text: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly className?: string;
  readonly placeholder?: string;
  readonly disabled?: boolean;
}

/** A labelled field for a number, kept as it is typed. */
export function NumberField({ text, value, onChange, className = '', ...rest }: Props) {
  const id = useId();
  return (
    <Labelled id={id} text={text}>
      <input
        id={id}
        inputMode="decimal"
        className={`field ${className}`}
        value={value}
        onChange={(event) => onChange(event.target.value)}
        {...rest}
      />
    </Labelled>
  );
}
