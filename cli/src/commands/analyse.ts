import { report, writtenReport } from '@long-tally/core';
import { readHome } from '../home.js';
import { print, writeTo } from '../output.js';
import { HOME_OPTIONS, optionsIn } from '../usage.js';

/** Prints the report of a home, or writes it to a file. */
export async function analyse(args: readonly string[]): Promise<void> {
  const { values, positionals } = optionsIn(args, { ...HOME_OPTIONS, out: { type: 'string' } });
  const { prepared, range } = await readHome(values, positionals);
  const text = `${JSON.stringify(writtenReport(report(prepared, range)), null, 1)}\n`;
  if (values.out) await writeTo(values.out, text);
  else await print(text);
}
