import { useEffect } from 'react';
import { offerUndo, useOffered } from './undo.js';
import { useWrite } from './useWrite.js';

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
      <button type="button" className="quiet" onClick={() => void write(offered.undo)}>
        Undo
      </button>
      {failure}
    </div>
  );
}
