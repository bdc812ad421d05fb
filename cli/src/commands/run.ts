import { parseRun, runBudget } from '@long-tally/core';
import { textOf } from '../files.js';
import { print } from '../output.js';
import { onlyFile } from '../usage.js';

/** Prints the budget of a short run: where its missing energy went. */
export async function run(args: readonly string[]): Promise<void> {
  const file = onlyFile(args, 'Name one file with the readings of a run.');
  await print(`${JSON.stringify(runBudget(parseRun(await textOf(file), file)), null, 1)}\n`);
}
