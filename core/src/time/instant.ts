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
  const ms = Date.UTC(
    +year!,
    +month! - 1,
    +day!,
    +hour,
    +minute,
    +second,
    Math.floor(+`0.${fraction}` * 1000),
  );
  if (new Date(ms).getUTCDate() !== +day! || +hour > 23 || +minute > 59 || +second > 59) return NaN;
  return ms - offsetMs(zone);
}

function offsetMs(zone: string): number {
  if (zone.toUpperCase() === 'Z') return 0;
  const digits = zone.slice(1).replace(':', '').padEnd(4, '0');
  const ms = (+digits.slice(0, 2) * 60 + +digits.slice(2)) * 60_000;
  return zone.startsWith('-') ? -ms : ms;
}

/** ISO 8601 text of an instant in UTC, without fractions where there are none. */
export function isoOf(ms: number): string {
  return new Date(ms).toISOString().replace('.000Z', 'Z');
}
