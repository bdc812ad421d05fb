import { InputError, parseSystem, problemText, type System } from '@long-tally/core';
import { useId, useState } from 'react';

/** Takes a system from a file; what is wrong with it is said key by key. */
export function SystemFile({ onLoad }: { readonly onLoad: (system: System) => void }) {
  const id = useId();
  const [problems, setProblems] = useState<readonly string[]>([]);
  const load = async (file: File | undefined) => {
    if (!file) return;
    try {
      onLoad(parseSystem(await file.text(), file.name));
      setProblems([]);
    } catch (error) {
      setProblems(error instanceof InputError ? error.problems.map(problemText) : [String(error)]);
    }
  };
  return (
    <div className="mt-2">
      <label htmlFor={id} className="text-faint">
        Or take it from a system file (.json):{' '}
      </label>
      <input
        id={id}
        type="file"
        className="file"
        accept=".json,application/json"
        onChange={(event) => {
          void load(event.target.files?.[0]);
          event.target.value = '';
        }}
      />
      <div role="alert">
        {problems.map((problem) => (
          <p key={problem} className="text-red">
            {problem}
          </p>
        ))}
      </div>
    </div>
  );
}
