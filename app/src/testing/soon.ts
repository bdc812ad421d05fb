import { act } from '@testing-library/react';

/** Does something to a view under test, and waits for what comes of it. */
export function soon(work: () => unknown): Promise<void> {
  return act(() => {
    work();
    return Promise.resolve();
  });
}
