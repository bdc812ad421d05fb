/** A kind of fault met while reading: how often, and where first. */
export interface Fault {
  readonly count: number;
  readonly line: number;
  readonly column: string;
  readonly sample: string;
}

export type FaultKind =
  'not-a-number' | 'beyond-range' | 'unreadable-time' | 'no-offset' | 'implausible-time' | 'ragged-row';

/** Faults by kind and column. */
export type Faults = Map<string, Fault & { readonly kind: FaultKind }>;

/** Counts a fault; the first of its kind and column is remembered with its place. */
export function note(faults: Faults, kind: FaultKind, line: number, column: string, sample: string): void {
  const key = `${kind} ${column}`;
  const known = faults.get(key);
  faults.set(
    key,
    known
      ? { ...known, count: known.count + 1 }
      : { kind, count: 1, line, column, sample: sample.slice(0, 40) },
  );
}
