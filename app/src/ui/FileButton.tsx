import { InputError, problemText } from '@long-tally/core';
import { useState } from 'react';
import { FileDrop } from './FileDrop.js';

interface Props {
  readonly label: string;
  readonly accept: string;
  /** Takes the file; what it throws is said beside the field. */
  readonly onFile: (file: File) => Promise<void>;
}

/** A field that takes one file, chosen or dropped on it, and says what is wrong with it. */
export function FileButton({ label, accept, onFile }: Props) {
  const [problems, setProblems] = useState<readonly string[]>([]);
  const take = async ([file, ...others]: readonly File[]) => {
    if (others.length > 0) {
      setProblems([`${others.length + 1} files were brought. Bring one at a time here.`]);
      return;
    }
    try {
      setProblems([]);
      await onFile(file!);
    } catch (error) {
      setProblems(
        error instanceof InputError
          ? error.problems.map(problemText)
          : [`${file!.name} cannot be read: ${(error as Error).message}`],
      );
    }
  };
  return (
    <div>
      <FileDrop
        label={label}
        labelClass="text-faint"
        accept={accept}
        onFiles={(files) => void take(files)}
        className="flex flex-wrap items-baseline gap-x-2 gap-y-1"
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
