import { canonicalHeader } from '../read/columns.js';
import { isPower, type Log, type Quantity } from '../series/log.js';
import { isoOf } from '../time/instant.js';

/** Rows written at a time. */
const ROWS = 20_000;

/**
 * The logged channels of a home as a canonical log file, in pieces of text: one line a cell, empty where missing or only
 * bridged. Read back, it gives the same figures.
 */
export function* canonicalCsv(log: Log): Generator<string> {
  const channels = [...log.channels].filter(([, channel]) => channel.origin === 'logged');
  yield `${['time', ...channels.map(([quantity]) => quoted(canonicalHeader(quantity)))].join(',')}\n`;
  const scale = (quantity: Quantity) => (quantity === 'soc' ? 100 : 1);
  for (let from = 0; from < log.count; from += ROWS) {
    const lines: string[] = [];
    for (let i = from; i < Math.min(log.count, from + ROWS); i++) {
      const cells = channels.map(([quantity, { values, bridged }]) => {
        const value = values[i]! * scale(quantity);
        // Fifteen digits are what a double holds for certain; a share given back as per cent must not end in a tail of them.
        return Number.isNaN(value) || bridged[i] === 1
          ? ''
          : String(isPower(quantity) ? value : Number(value.toPrecision(15)));
      });
      if (cells.some((cell) => cell !== ''))
        lines.push(`${isoOf(log.startMs + i * log.stepMs)},${cells.join(',')}\n`);
    }
    yield lines.join('');
  }
}

/**
 * A text cell that no spreadsheet takes for a formula: one that begins with = + - @ or a control character is led by an
 * apostrophe and quoted; one with a comma, quote or line end is quoted.
 * @source OWASP, "CSV Injection"; RFC 4180, section 2
 */
export function quoted(text: string): string {
  const safe = /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
  return safe !== text || /[",\n\r]/.test(text) ? `"${safe.replaceAll('"', '""')}"` : text;
}
