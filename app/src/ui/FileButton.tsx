import { InputError, problemText } from '@long-tally/core';
import { useId, useState } from 'react';

interface Props {
  readonly label: string;
  readonly accept: string;
  /** Takes the file; what it throws is said beside the field. */
  readonly onFile: (file: File) => Promise<void>;
}

/** A field that takes one file and says what is wrong with it. */
export function FileButton({ label, accept, onFile }: Props) {
  const id = useId();
  const [problems, setProblems] = useState<readonly string[]>([]);
  const take = async (file: File | undefined) => {
    if (!file) return;
    try {
      setProblems([]);
      await onFile(file);
    } catch (error) {
      setProblems(
        error instanceof InputError
          ? error.problems.map(problemText)
          : [`${file.name} cannot be read: ${(error as Error).message}`],
      );
    }
  };
  return (
    <div>
      <label htmlFor={id} className="text-faint">
        {label}{' '}
      </label>
      <input
        id={id}
        type="file"
        className="file"
        accept={accept}
        onChange={(event) => {
          void take(event.target.files?.[0]);
          event.target.value = '';
        }}
      />
      {problems.length > 0 && (
        <div role="alert">
          {problems.map((problem) => (
            <p key={problem} className="text-red">
              {problem}
            </p>
          ))}
        </div>
      )}
    </div>
  );
}
