import { useId } from 'react';
import { Choice, type ChoiceProps } from './Choice.js';
import { Labelled } from './Labelled.js';

/** A labelled list of which one is chosen. */
export function ChoiceField<T extends string | number>({
  text,
  ...choice
}: ChoiceProps<T> & { readonly text: string }) {
  const id = useId();
  return (
    <Labelled id={id} text={text}>
      <Choice id={id} label={text} {...choice} />
    </Labelled>
  );
}
