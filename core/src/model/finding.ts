import type { Quantity } from './quantity.js';
import type { Correction } from './correction.js';

export type Severity = 'note' | 'warning' | 'error';

/** Something the reader of the figures has to know about the data. Times are epoch ms, null when it has none. */
export interface Finding {
  readonly code: string;
  readonly severity: Severity;
  readonly fromMs: number | null;
  readonly toMs: number | null;
  readonly message: string;
  readonly source: string | null;
  /** Energy at stake, where it can be told; the weightiest come first. */
  readonly kWh: number | null;
  /** What would mend it, where that is clear enough to propose. */
  readonly proposal?: Correction;
}

/** A stretch of time in which quantities are missing. */
export interface Gap {
  readonly fromMs: number;
  readonly toMs: number;
  readonly quantities: readonly Quantity[];
}
