import { quantile } from '@long-tally/core';
import type { FleetRow } from './row.js';

/** A home that lies so many robust standard deviations from the middle of its fleet stands out. */
const FAR = 3;
/** Of a normal spread the median deviation is so much less than the standard one. */
const NORMAL = 1.4826;
const LEAST_HOMES = 5;

export interface Outlier {
  readonly home: string;
  readonly value: number;
  readonly deviations: number;
}

/**
 * Homes whose figure lies far from the middle of the fleet, the farthest first; none of fewer than five homes, or where they do not differ.
 * @source median absolute deviation: F. R. Hampel, JASA 69 (1974), from memory
 */
export function outliersOf(rows: readonly FleetRow[], key: string): Outlier[] {
  const known = rows.flatMap(({ home, figures }) => {
    const value = figures[key];
    return typeof value === 'number' ? [{ home, value }] : [];
  });
  if (known.length < LEAST_HOMES) return [];
  const middle = quantile(Float64Array.from(known, ({ value }) => value).sort(), 0.5);
  const spread =
    NORMAL * quantile(Float64Array.from(known, ({ value }) => Math.abs(value - middle)).sort(), 0.5);
  if (!(spread > 0)) return [];
  return known
    .map(({ home, value }) => ({ home, value, deviations: (value - middle) / spread }))
    .filter(({ deviations }) => Math.abs(deviations) > FAR)
    .sort((a, b) => Math.abs(b.deviations) - Math.abs(a.deviations));
}
