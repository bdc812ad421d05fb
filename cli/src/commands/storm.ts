import { stormPlan } from '@long-tally/core';
import { readHome } from '../home.js';
import { print } from '../output.js';
import { HOME_OPTIONS, optionsIn, UsageError } from '../usage.js';

/** Prints what it takes to be full at a named moment, what that costs and how much longer an outage is carried then. */
export async function storm(args: readonly string[]): Promise<void> {
  const { values, positionals } = optionsIn(args, { ...HOME_OPTIONS, at: { type: 'string' } });
  if (!values.at)
    throw new UsageError('Name the moment with --at, by the clock of the home: --at 2026-12-03T18:00');
  const { prepared, range } = await readHome(values, positionals);
  await print(`${JSON.stringify(stormPlan(prepared, range, values.at), null, 1)}\n`);
}
