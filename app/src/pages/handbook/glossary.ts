/** A word of the field and what it means. */
export interface Term {
  readonly word: string;
  readonly means: string;
}

/** The terms of a glossary that is written as a table of Markdown. */
export function termsOf(markdown: string): Term[] {
  return markdown
    .split('\n')
    .filter((line) => line.startsWith('|') && !/^\|\s*(-+|Word)\s*\|/.test(line))
    .map((line) => {
      const [, word = '', means = ''] = line.split('|').map((cell) => cell.trim());
      return { word, means };
    });
}
