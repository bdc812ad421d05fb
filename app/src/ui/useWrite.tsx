import { useState, type ReactNode } from 'react';
import { useParams } from 'react-router';
import { failureText } from '../workers/words.js';
import { recordChange } from '../db/changes.js';
import { offerUndo, type Undo } from './undo.js';

/** Writing to the store, and what is shown when it fails. */
export interface Write {
  /**
   * Writes, and offers to take it back until the next change.
   * @param undo left out where it cannot be taken back
   * @returns true when it was written; when not, the failure stays to be read and what was typed stays where it is
   */
  readonly write: (work: () => Promise<unknown>, undo?: Undo) => Promise<boolean>;
  readonly failure: ReactNode;
}

/** Every write of the interface goes through here: none fails without a word. */
export function useWrite(): Write {
  const [failed, setFailed] = useState<string | null>(null);
  const { homeId } = useParams();
  return {
    write: async (work, undo) => {
      try {
        await work();
        offerUndo(undo ?? null);
        if (undo && homeId) await recordChange(homeId, undo.says);
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
