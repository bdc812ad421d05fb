import { z } from 'zod';
import { celsiusOf, decimal, degreesOf, degreeUnit, fieldText } from '../../ui/format.js';
import { typedNumber } from '../../ui/typedNumber.js';

/** A number as typed: empty is not known. */
export function typed(low: number, high: number, what: string) {
  return z.string().refine(
    (text) => {
      if (text.trim() === '') return true;
      const value = typedNumber(text);
      return value >= low && value <= high;
    },
    { error: `Write ${what} from ${low} to ${high}, or leave it empty.` },
  );
}

/** A temperature as typed, in the reader's degrees, between bounds in Celsius: empty is not known. */
export function typedDegrees(low: number, high: number) {
  const bound = (celsius: number) => decimal(degreesOf(celsius), 0);
  return z.string().refine(
    (text) => {
      if (text.trim() === '') return true;
      const value = celsiusOf(typedNumber(text));
      return value >= low && value <= high;
    },
    { error: () => `Write ${degreeUnit()} from ${bound(low)} to ${bound(high)}, or leave it empty.` },
  );
}

/** A time of day as typed: empty is not known. */
export function typedClock() {
  return z.string().regex(/^(?:([01]?\d|2[0-3]):[0-5]\d)?$/, {
    error: 'Write the time of day as hours:minutes, for example 23:00.',
  });
}

export const text = (value: number | null | undefined) => fieldText(value ?? '');
export const percent = (value: number | undefined) =>
  value === undefined ? '' : fieldText(Number((value * 100).toPrecision(6)));
export const number = (typedText: string) => (typedText.trim() === '' ? undefined : typedNumber(typedText));
export const celsius = (typedText: string) => {
  const value = number(typedText);
  return value === undefined ? undefined : celsiusOf(value);
};
export const share = (typedText: string) => {
  const value = number(typedText);
  return value === undefined ? undefined : value / 100;
};

/** Without the keys that are not known. */
export function known(object: Record<string, unknown>): Record<string, unknown> {
  return Object.fromEntries(Object.entries(object).filter(([, value]) => value !== undefined));
}

/** An object without the keys that are not known, or nothing when it knows none. */
export function knownOrNone(object: Record<string, unknown>): Record<string, unknown> | undefined {
  const some = known(object);
  return Object.keys(some).length > 0 ? some : undefined;
}
