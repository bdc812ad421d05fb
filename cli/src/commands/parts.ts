import { partsView } from '@long-tally/core';
import { readHome } from '../home.js';
import { print } from '../output.js';
import { HOME_OPTIONS, optionsIn } from '../usage.js';

/** Prints the arrays and loads of a home that are logged by name, by month. */
export async function parts(args: readonly string[]): Promise<void> {
  const { values, positionals } = optionsIn(args, HOME_OPTIONS);
  const { prepared, range, contents } = await readHome(values, positionals);
  await print(`${JSON.stringify({ parts: partsView(prepared, range, contents.readings) }, null, 1)}\n`);
}
