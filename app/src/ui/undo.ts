import { useSyncExternalStore } from 'react';

/** A change that can be taken back: what was done, in words, and how it is undone. */
export interface Undo {
  readonly says: string;
  readonly undo: () => Promise<unknown>;
}

let offered: Undo | null = null;
const listeners = new Set<() => void>();

/** Offers to take the last change back, in the place of what was offered before; null where it cannot be. */
export function offerUndo(undo: Undo | null): void {
  offered = undo;
  listeners.forEach((listen) => listen());
}

/** The change that can be taken back now. */
export function useOffered(): Undo | null {
  return useSyncExternalStore(
    (listen) => {
      listeners.add(listen);
      return () => listeners.delete(listen);
    },
    () => offered,
  );
}
