import { useEffect } from 'react';
import { recordChange } from '../db/changes.js';
import { offerUndo, useOffered, type Undo } from './undo.js';
import { useWrite } from './useWrite.js';

/** Takes a change back, and puts that into the list of changes too. */
const undone =
  (homeId: string, { says, undo }: Undo) =>
  async () => {
    await undo();
    await recordChange(homeId, `Undone: ${says}`);
  };

/** What was done last and can be taken back, until the next change. */
export function UndoLine({ homeId }: { readonly homeId: string }) {
  const offered = useOffered();
  const { write, failure } = useWrite();
  // Another home is another book.
  useEffect(() => () => offerUndo(null), [homeId]);
  if (!offered) return failure;
  return (
    <div role="status" className="no-print border-t border-rule-2 bg-paper-2 px-5 py-1">
      {offered.says}{' '}
      <button type="button" className="quiet" onClick={() => void write(undone(homeId, offered))}>
        Undo
      </button>
      {failure}
    </div>
  );
}
