import { useState } from 'react';

interface Props {
  readonly says: string;
  readonly textOf: () => string;
  readonly className?: string;
}

/** Puts a text into the clipboard, and says whether the browser allowed it. */
export function CopyButton({ says, textOf, className = '' }: Props) {
  const [outcome, setOutcome] = useState<string | null>(null);
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(textOf());
      setOutcome('copied');
    } catch {
      setOutcome('the browser does not allow it');
    }
  };
  return (
    <button
      type="button"
      className={`text-[12px] hover:underline ${className}`}
      aria-live="polite"
      onClick={() => void copy()}
      onBlur={() => setOutcome(null)}
    >
      {outcome ?? says}
    </button>
  );
}
