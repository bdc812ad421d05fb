import { combinationsOf, configurationsOf, parseAppliances, parseSystem } from '@long-tally/core';
import { textOf } from '../files.js';
import { print } from '../output.js';
import { onlyFile, optionsIn, UsageError } from '../usage.js';

const MOST_UNITS = 20;

/** Prints the smallest combinations of appliances that exceed a limit, with each number of inverters. */
export async function combinations(args: readonly string[]): Promise<void> {
  const { values, positionals } = optionsIn(args, { system: { type: 'string' }, units: { type: 'string' } });
  const file = onlyFile(positionals, 'Name one file with a list of appliances.');
  if (!values.system) throw new UsageError('Name the system file with --system.');
  const appliances = parseAppliances(await textOf(file), file);
  const system = parseSystem(await textOf(values.system), values.system);
  const described = configurationsOf(system).at(-1)!.described?.inverter?.units ?? 1;
  const units = values.units === undefined ? [described] : unitsIn(values.units);
  await print(`${JSON.stringify({ units: combinationsOf(appliances, system, units) }, null, 1)}\n`);
}

/** `2`, or from one number to another, `1..3`. */
function unitsIn(text: string): number[] {
  const [, first, last] = /^(\d+)(?:\.\.(\d+))?$/.exec(text) ?? [];
  const [from, to] = [Number(first), Number(last ?? first)];
  if (!first || from < 1 || to < from || to > MOST_UNITS)
    throw new UsageError(
      `--units: write a number of inverters up to ${MOST_UNITS}, or from one to another as 1..3.`,
    );
  return Array.from({ length: to - from + 1 }, (_, k) => from + k);
}
