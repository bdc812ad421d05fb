const LF = 10;
const QUOTE = 34;
const COMMA = 44;
/** A cell of a log is short; of a longer one only the beginning is looked at, so that no pattern runs on it for ever. */
const LONGEST_CELL = 500;

declare const TextDecoder: new (label: string) => { decode(bytes: Uint8Array): string };
const utf8 = new TextDecoder('utf-8');

/** One row as text. */
export interface SplitRow {
  readonly cells: readonly string[];
  /** Position after the row's line feed. */
  readonly next: number;
  /** Lines of the file it takes: more than one when a quoted cell holds line feeds. */
  readonly lines: number;
}

/**
 * Splits the row at `from` into cells: quotes, doubled quotes, CRLF.
 * @param separator byte between cells
 * @returns null when a quote is still open at `end`
 * @source RFC 4180, section 2
 */
export function splitRow(bytes: Uint8Array, from: number, end: number, separator = COMMA): SplitRow | null {
  // A row without a quote is decoded once and cut as text.
  const lineEnd = bytes.indexOf(LF, from);
  const rowEnd = lineEnd < 0 || lineEnd > end ? end : lineEnd;
  const row = bytes.subarray(from, rowEnd);
  if (!row.includes(QUOTE)) {
    const text = utf8.decode(row).replace(/\r$/, '');
    const cells = text.split(String.fromCharCode(separator)).map(shortened);
    return { cells, next: Math.min(rowEnd + 1, end), lines: 1 };
  }
  const cells: string[] = [];
  let p = from;
  let lines = 1;
  for (;;) {
    let cell: string;
    if (bytes[p] === QUOTE) {
      const start = ++p;
      for (; ; p++) {
        if (p >= end) return null;
        if (bytes[p] === LF) lines++;
        if (bytes[p] !== QUOTE) continue;
        if (bytes[p + 1] === QUOTE) p++;
        else break;
      }
      const quoted = utf8.decode(bytes.subarray(start, p)).replaceAll('""', '"');
      const rest = ++p;
      while (p < end && bytes[p] !== separator && bytes[p] !== LF) p++;
      cell = quoted + utf8.decode(bytes.subarray(rest, p)).trimEnd();
    } else {
      const start = p;
      while (p < end && bytes[p] !== separator && bytes[p] !== LF) p++;
      cell = utf8.decode(bytes.subarray(start, p)).replace(/\r$/, '');
    }
    cells.push(shortened(cell));
    if (p >= end || bytes[p] === LF) return { cells, next: Math.min(p + 1, end), lines };
    p++;
  }
}

function shortened(cell: string): string {
  return cell.length > LONGEST_CELL ? cell.trim().slice(0, LONGEST_CELL) : cell;
}
