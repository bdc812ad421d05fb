import type { ReactNode } from 'react';
import { useAfterPaint } from './useAfterPaint.js';

/** What lies further down: it follows a frame later, so that no task of the page draws all of a view. */
export function AfterPaint({ children }: { readonly children: ReactNode }) {
  return useAfterPaint(true, false) ? children : null;
}
