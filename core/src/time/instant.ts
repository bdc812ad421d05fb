const ISO =
  /^(\d{4})-(\d\d)-(\d\d)(?:[T ](\d\d):(\d\d)(?::(\d\d)(?:[.,](\d{1,9}))?)?)?\s*(Z|[+-]\d\d(?::?\d\d)?)$/i;

/**
 * Epoch ms of an ISO 8601 instant that carries an offset or Z.
 * @returns NaN when the text is no such instant, or names a day or minute that does not exist
 * @example parseInstant('2024-06-30T12:00:00+12:00') // 1719705600000
 */
export function parseInstant(text: string): number {
  const match = ISO.exec(text.trim());
  if (!match) return NaN;
  const [, year, month, day, hour = '0', minute = '0', second = '0', fraction = '0', zone = 'Z'] = match;
  if (+hour > 23 || +minute > 59 || +second > 59) return NaN;
  const clockMs = ((+hour * 60 + +minute) * 60 + +second) * 1000 + Math.floor(+`0.${fraction}` * 1000);
  return dateMs(+year!, +month!, +day!) + clockMs - offsetMsOf(zone);
}

/** Epoch ms at which a date begins in UTC; NaN for one that does not exist, as 30 February. */
export function dateMs(year: number, month: number, day: number): number {
  const ms = Date.UTC(year, month - 1, day);
  const back = new Date(ms);
  return back.getUTCDate() === day && back.getUTCMonth() === month - 1 ? ms : NaN;
}

/** Epoch ms at which a date written `2024-02-29` begins in UTC; NaN when the text is none, or no such day exists. */
export function parseDate(text: string): number {
  const match = /^(\d{4})-(\d\d)-(\d\d)$/.exec(text);
  return match ? dateMs(+match[1]!, +match[2]!, +match[3]!) : NaN;
}

/** Clocks on earth run from 12 hours behind UTC to 14 before it. */
export const MOST_OFFSET_MINUTES = 14 * 60;

/** Offset from UTC in ms of `Z`, `UTC`, `+13:00`, `+1300` or `+13`; NaN for one that no clock has, as `+99:99`. */
export function offsetMsOf(text: string): number {
  if (/^(?:z|utc|gmt)$/i.test(text)) return 0;
  const match = /^([+-])(\d{2}):?(\d{2})?$/.exec(text);
  if (!match) return NaN;
  const minutes = +match[2]! * 60 + +(match[3] ?? 0);
  if (+(match[3] ?? 0) > 59 || minutes > MOST_OFFSET_MINUTES) return NaN;
  return (match[1] === '-' ? -minutes : minutes) * 60_000;
}

/** ISO 8601 text of an instant in UTC, without fractions where there are none. */
export function isoOf(ms: number): string {
  return new Date(ms).toISOString().replace('.000Z', 'Z');
}
