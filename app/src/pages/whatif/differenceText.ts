import { figureEntry, type Unit } from '@long-tally/core';
import { unitText, valueText } from '../../ui/format.js';

/** A figure's name with its unit, which some names hold already. */
export function rowLabel(key: string, unit: Unit, currency: string): string {
  const label = key === 'whatif.timeWithoutGrid' ? 'Time without the grid' : figureEntry(key).label;
  const measure = unit === 'currency' ? currency : unitText(unit);
  return measure === '' || label.endsWith(` ${measure}`) ? label : `${label}, ${measure}`;
}

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
