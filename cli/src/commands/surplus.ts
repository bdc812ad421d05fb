import { surplusOf } from '@long-tally/core';
import { readHome } from '../home.js';
import { print } from '../output.js';
import { HOME_OPTIONS, optionsIn } from '../usage.js';

/** Prints what the sun leaves over by month and hour, and what a load of a power would get of it. */
export async function surplus(args: readonly string[]): Promise<void> {
  const { values, positionals } = optionsIn(args, HOME_OPTIONS);
  const { prepared, range } = await readHome(values, positionals);
  await print(`${JSON.stringify(surplusOf(prepared, range), null, 1)}\n`);
}
