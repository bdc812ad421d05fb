import { useState, type ReactNode } from 'react';
import { failureText } from '../workers/words.js';

/** Writing to the store, and what is shown when it fails. */
export interface Write {
  /** True when it was written; when not, the failure stays to be read and what was typed stays where it is. */
  readonly write: (work: () => Promise<unknown>) => Promise<boolean>;
  readonly failure: ReactNode;
}

/** Every write of the interface goes through here: none fails without a word. */
export function useWrite(): Write {
  const [failed, setFailed] = useState<string | null>(null);
  return {
    write: async (work) => {
      try {
        await work();
        setFailed(null);
        return true;
      } catch (error) {
        setFailed(failureText(error));
        return false;
      }
    },
    failure: failed && (
      <p role="alert" className="mt-2 border-l-4 border-red pl-3">
        {failed}{' '}
        <button type="button" className="quiet text-faint" onClick={() => setFailed(null)}>
          I have read it
        </button>
      </p>
    ),
  };
}
