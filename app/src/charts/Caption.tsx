/** Mean width of a letter, and the height of a line, at the size in which charts are written. */
export const [LETTER, LINE] = [5.9, 14] as const;
/** Room above the first line's foot. */
const FIRST = 12;

interface Props {
  readonly lines: readonly string[];
  readonly x: number;
}

/** What the axis and the marks of a chart mean, above it. */
export function Caption({ lines, x }: Props) {
  return lines.map((line, k) => (
    <text key={line} x={x} y={FIRST + LINE * k} fill="var(--faint)">
      {line}
    </text>
  ));
}

/** A text in as many lines as a width in px needs, broken between words. */
export function captionLines(text: string, width: number): string[] {
  const lines: string[] = [];
  for (const word of text.split(' ')) {
    const last = lines.at(-1);
    if (last !== undefined && (last.length + 1 + word.length) * LETTER <= width)
      lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  return lines;
}
