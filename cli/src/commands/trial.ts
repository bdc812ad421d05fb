import { evaluateTrial, parseSystem, parseTrial } from '@long-tally/core';
import { textOf } from '../files.js';
import { readHome } from '../home.js';
import { print, writeTo } from '../output.js';
import { HOME_OPTIONS, onlyFile, optionsIn, UsageError } from '../usage.js';

/** Prints what a trial gave, from its typed readings, the home's log, or both. */
export async function trial(args: readonly string[]): Promise<void> {
  const { values, positionals } = optionsIn(args, { ...HOME_OPTIONS, out: { type: 'string' } });
  const file = onlyFile(positionals, 'Name one trial file.');
  const own = parseTrial(await textOf(file), file);
  const hasLog = values.book ?? values.log?.length ?? values.readings;
  if (!hasLog && !values.system)
    throw new UsageError('Name the system file with --system, or a book with --book.');
  const prepared = hasLog ? (await readHome(values, [])).prepared : null;
  const system = prepared?.system ?? parseSystem(await textOf(values.system!), values.system!);
  const text = `${JSON.stringify(evaluateTrial(own, system, prepared, file), null, 1)}\n`;
  if (values.out) await writeTo(values.out, text);
  else await print(text);
}
