import { InputError, problemText } from '@long-tally/core';

/** What went wrong with a file, in words. */
export function inWords(name: string, error: unknown): readonly string[] {
  if (error instanceof InputError) return error.problems.map(problemText);
  return [`${name}: ${failureText(error)}`];
}

/** What went wrong with a write, in words; nothing that was stored before has changed by it. */
export function failureText(error: unknown): string {
  const { name = '', message = String(error) } = error as { name?: string; message?: string };
  const inner = String((error as { inner?: { name?: string } }).inner?.name);
  if (/quota/i.test(`${name} ${inner} ${message}`))
    return 'The browser’s storage is full. Nothing of this was stored and nothing was lost; remove a source you no longer need, or free space on the disk.';
  // What reads archives and workbooks is fetched with the first of them.
  if (/import(ed|ing) (a )?module/i.test(message))
    return 'A part of the application that this needs could not be fetched. Reload the page and try again; nothing stored has changed.';
  return `It could not be stored (${message}). Nothing stored before has changed.`;
}
