/** What of a table is read for its text, as the browser has it. */
export interface Rows {
  readonly rows: Iterable<{
    readonly cells: Iterable<{ readonly textContent: string | null; readonly colSpan: number }>;
  }>;
}

/**
 * A table as tab-separated text, as spreadsheets take it from the clipboard: a line for each row, a wide cell followed by
 * the empty ones it covers. A minus sign becomes a hyphen, so that a number stays one.
 */
export function tableText({ rows }: Rows): string {
  return [...rows]
    .map(({ cells }) =>
      [...cells]
        .flatMap(({ textContent, colSpan }) => [
          (textContent ?? '')
            .replace(/\s+/g, ' ')
            .replace(/−(?=\d)/g, '-')
            .trim(),
          ...Array<string>(Math.max(0, colSpan - 1)).fill(''),
        ])
        .join('\t'),
    )
    .join('\n');
}
