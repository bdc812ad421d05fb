import { Checkbox, Field, Label } from '@headlessui/react';
import { Check } from 'lucide-react';

interface Props {
  readonly checked: boolean;
  readonly onChange: (checked: boolean) => void;
  /** What is said by it. */
  readonly children: React.ReactNode;
  readonly className?: string;
}

/** A box to tick, with what it says beside it. */
export function Tick({ checked, onChange, children, className = '' }: Props) {
  return (
    <Field className={`flex items-start gap-2 ${className}`}>
      <Checkbox
        checked={checked}
        onChange={onChange}
        className="mt-[3px] grid size-3.5 shrink-0 cursor-pointer place-items-center border border-faint bg-paper data-checked:border-ink data-checked:bg-ink data-checked:text-paper"
      >
        {checked && <Check size={11} strokeWidth={3.5} aria-hidden />}
      </Checkbox>
      <Label>{children}</Label>
    </Field>
  );
}
