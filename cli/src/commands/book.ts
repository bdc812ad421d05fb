import { bookOf } from '@long-tally/core';
import { readHome } from '../home.js';
import { writeTo } from '../output.js';
import { HOME_OPTIONS, optionsIn, UsageError } from '../usage.js';

/** Saves everything of a home as one file. */
export async function book(args: readonly string[]): Promise<void> {
  const { values, positionals } = optionsIn(args, { ...HOME_OPTIONS, out: { type: 'string' } });
  if (!values.out) throw new UsageError('Name the file to write with --out.');
  const { prepared, contents } = await readHome(values, positionals);
  await writeTo(values.out, bookOf(contents, prepared, prepared, Date.now()));
}
