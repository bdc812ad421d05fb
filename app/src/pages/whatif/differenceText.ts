import type { Unit } from '@long-tally/core';
import { valueText } from '../../ui/format.js';

/** A difference with its sign; without one where it rounds to nothing. */
export function signedText(value: number, unit: Unit): string {
  const text = valueText(value, unit);
  return value > 0 && /[1-9]/.test(text) ? `+${text}` : text;
}

/** The bounds of an interval. */
export function boundsText(
  { low, high }: { readonly low: number | null; readonly high: number | null },
  unit: Unit,
): string {
  return low === null || high === null ? '' : `${valueText(low, unit)} to ${valueText(high, unit)}`;
}
