import type { Interval, Unit } from '@long-tally/core';
import { intervalText, unitText, valueText } from '../../ui/format.js';
import { labelOf } from '../../ui/localized.js';

/** A figure's name with its unit, which some names hold already. */
export function rowLabel(key: string, unit: Unit, currency: string): string {
  const label = key === 'whatif.timeWithoutGrid' ? 'Time without the grid' : labelOf(key);
  const measure = unit === 'currency' ? currency : unitText(unit);
  return measure === '' || label.endsWith(` ${measure}`) ? label : `${label}, ${measure}`;
}

/** A difference with its sign; without one where it rounds to nothing. */
export function signedText(value: number, unit: Unit): string {
  const text = valueText(value, unit);
  return value > 0 && /[1-9]/.test(text) ? `+${text}` : text;
}

/** The bounds of a difference, with its decimals. */
export function boundsText(difference: Interval, unit: Unit): string {
  return intervalText({ ...difference, unit }, ' to ');
}
