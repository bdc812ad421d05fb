import { useState } from 'react';

/** What is typed in a form, and its way out of it. */
export interface Entry<T> {
  readonly typed: T;
  readonly change: (part: Partial<T>) => void;
  /** @returns whether it was written */
  readonly send: (write: () => Promise<boolean>) => Promise<boolean>;
}

/**
 * The entry of a form. It is cleared as it is sent, so that what is typed while it is being written belongs to the next one;
 * what could not be written is put back.
 * @param clear what stands in the form after an entry was sent
 */
export function useEntry<T extends object>(begin: () => T, clear: (sent: T) => T): Entry<T> {
  const [typed, setTyped] = useState(begin);
  return {
    typed,
    change: (part) => setTyped((now) => ({ ...now, ...part })),
    send: async (write) => {
      setTyped(clear(typed));
      const isWritten = await write();
      if (!isWritten) setTyped(typed);
      return isWritten;
    },
  };
}
