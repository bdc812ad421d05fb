/** Input that cannot be used: where, what was found, and how to mend it. */
export interface Problem {
  /** File name or form field. */
  readonly where: string;
  readonly line?: number;
  readonly column?: number | string;
  readonly found: string;
  readonly mend: string;
}

/** Thrown where input comes in only; carries every problem found, not just the first. */
export class InputError extends Error {
  override readonly name = 'InputError';
  readonly problems: readonly Problem[];

  constructor(problems: readonly Problem[]) {
    super(problems.map(problemText).join('\n'));
    this.problems = problems;
  }
}

/** One line of plain text for a problem. */
export function problemText({ where, line, column, found, mend }: Problem): string {
  const place = [where, line === undefined ? '' : `line ${line}`, columnText(column)];
  return `${place.filter(Boolean).join(', ')}: ${found} ${mend}`.replace(/\s+/g, ' ').trim();
}

function columnText(column: number | string | undefined): string {
  if (column === undefined) return '';
  return typeof column === 'string' && column.startsWith('key ') ? column : `column ${column}`;
}
