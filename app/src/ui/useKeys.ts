import { useEffect, useRef } from 'react';

/** What each key does, by name: `m`, or `g d` for one after the other. */
export type KeyMap = Readonly<Record<string, () => void>>;

const SEQUENCE_MS = 1200;
/** The key that begins a pair. */
const LEADER = 'g';

/** What is open over the page and has keys of its own. */
const OPEN = '[role="listbox"], [role="menu"], .calendar';

function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (/^(INPUT|TEXTAREA)$/.test(target.tagName) ||
      target.isContentEditable ||
      target.closest(OPEN) !== null ||
      target.getAttribute('aria-expanded') === 'true')
  );
}

/** Listens for keys on the whole page, but not while something is typed or a dialog is open. */
export function useKeys(keys: KeyMap): void {
  const current = useRef(keys);
  useEffect(() => {
    current.current = keys;
  });
  useEffect(() => {
    let first = '';
    let at = 0;
    const listen = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      if (document.querySelector('[role="dialog"]')) return;
      const pair = Date.now() - at < SEQUENCE_MS ? `${first} ${event.key}` : '';
      // What follows a leader belongs to it, even where this listener knows no such pair.
      const action =
        current.current[pair] ?? (pair && first === LEADER ? undefined : current.current[event.key]);
      first = event.key;
      at = Date.now();
      if (!action) return;
      event.preventDefault();
      action();
    };
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, []);
}
