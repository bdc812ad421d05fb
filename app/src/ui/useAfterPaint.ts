import { startTransition, useEffect, useState } from 'react';

/**
 * A value for what may follow a frame later: it changes only once the page has been painted with the new one elsewhere.
 * @param begun what holds before the page has been painted for the first time
 */
export function useAfterPaint<T>(value: T, begun = value): T {
  const [painted, setPainted] = useState(begun);
  useEffect(() => {
    let timer = 0;
    const frame = requestAnimationFrame(() => {
      timer = window.setTimeout(() => startTransition(() => setPainted(() => value)));
    });
    return () => {
      cancelAnimationFrame(frame);
      window.clearTimeout(timer);
    };
  }, [value]);
  return painted;
}
