import type { Settings } from '@long-tally/core';
import { format, isValid, parse } from 'date-fns';
import { datesOrder } from './format.js';

/** A date, or a date with a time, by the home's clock: `2024-06-30` or `2024-06-30T18:40`. */
export type LocalKind = 'date' | 'time';

const ISO: Readonly<Record<LocalKind, string>> = { date: 'yyyy-MM-dd', time: "yyyy-MM-dd'T'HH:mm" };
/** As it is shown, by the reader's order: no numbers whose order could be mistaken. */
const SHOWN: Readonly<Record<Settings['dates'], string>> = {
  '14 Sep 2024': 'd MMM yyyy',
  'Sep 14, 2024': 'MMM d, yyyy',
  '2024-09-14': 'yyyy-MM-dd',
};
/** What people type besides. Two numbers with a slash between them are left out: they are read in two ways. */
const DATES = [
  'd MMM yyyy',
  'd MMMM yyyy',
  'd. MMM yyyy',
  'd.M.yyyy',
  'yyyy-M-d',
  'MMM d yyyy',
  'MMMM d yyyy',
];
const TIMES = ['HH:mm', 'H:mm', 'HH.mm', 'h:mm a', 'h:mma'];

/** How a local date or time is shown, `30 Jun 2024, 18:40`; as it is where it is none. */
export function shownLocal(value: string, kind: LocalKind): string {
  const read = parse(value.replace(/(T\d{2}:\d{2}):00$/, '$1'), ISO[kind], new Date(2000, 0, 1));
  return isValid(read) ? format(read, `${SHOWN[datesOrder()]}${kind === 'time' ? ', HH:mm' : ''}`) : value;
}

/** A local time as if it were UTC, epoch ms; NaN for what was typed and is none. */
export function localMs(value: string): number {
  return typedLocal(value, 'time') === value ? Date.parse(`${value}Z`) : NaN;
}

/**
 * The local date or time that was typed, as ISO text; a date without a time is its midnight.
 * @returns null where it is none, or is no date that exists
 */
export function typedLocal(typed: string, kind: LocalKind): string | null {
  const text = typed.trim().replace(/,/g, ' ').replace(/\s+/g, ' ');
  const seconds = /^(\d{4}-\d{2}-\d{2}T\d{2}:\d{2}):\d{2}$/.exec(text);
  const patterns =
    kind === 'date'
      ? DATES
      : [
          ISO.time,
          'yyyy-MM-dd HH:mm',
          ...DATES.flatMap((date) => TIMES.map((time) => `${date} ${time}`)),
          ...DATES,
        ];
  for (const pattern of patterns) {
    const read = parse(seconds?.[1] ?? text, pattern, new Date(2000, 0, 1));
    // A year of two digits is taken for one of the first century.
    if (isValid(read) && read.getFullYear() >= 1970) return format(read, ISO[kind]);
  }
  return null;
}
