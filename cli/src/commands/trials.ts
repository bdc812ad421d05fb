import { trialStretches } from '@long-tally/core';
import { readHome } from '../home.js';
import { print } from '../output.js';
import { HOME_OPTIONS, optionsIn } from '../usage.js';

/** Prints the stretches of a home's log that qualify as trials, best first. */
export async function trials(args: readonly string[]): Promise<void> {
  const { values, positionals } = optionsIn(args, HOME_OPTIONS);
  const { prepared, range } = await readHome(values, positionals);
  await print(`${JSON.stringify({ stretches: trialStretches(prepared, range) }, null, 1)}\n`);
}
