import { useState } from 'react';
import { counted } from './format.js';

/**
 * Shows a long list by parts.
 * @param step items shown at first, and with every "more"
 * @param what word for one item
 * @param key what the list is of: another list begins at its first part
 */
export function useMore<T>(items: readonly T[], step: number, what: string, key: string) {
  const [{ of, shown }, setShown] = useState({ of: key, shown: step });
  const count = of === key ? shown : step;
  const left = items.length - count;
  return {
    items: items.slice(0, count),
    more: left > 0 && (
      <p className="mt-1 text-faint">
        {count} of {counted(items.length, what)}.{' '}
        <button type="button" className="quiet" onClick={() => setShown({ of: key, shown: count + step })}>
          Show {Math.min(step, left)} more
        </button>
      </p>
    ),
  };
}
