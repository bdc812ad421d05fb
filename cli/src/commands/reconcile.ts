import { reconcile as reconcileOf } from '@long-tally/core';
import { readHome } from '../home.js';
import { print } from '../output.js';
import { HOME_OPTIONS, optionsIn, UsageError } from '../usage.js';

/** Prints which definition, range or omission gives a self-sufficiency that somebody states. */
export async function reconcile(args: readonly string[]): Promise<void> {
  const { values, positionals } = optionsIn(args, { ...HOME_OPTIONS, stated: { type: 'string' } });
  const stated = Number(values.stated?.replace(',', '.').replace(/\s*%$/, '') || NaN);
  if (!(stated >= -1000 && stated <= 100))
    throw new UsageError('Write the stated self-sufficiency in per cent with --stated, as in --stated 98.');
  const { prepared, range } = await readHome(values, positionals);
  const found = reconcileOf(prepared, range, stated / 100);
  await print(`${JSON.stringify(found, null, 1)}\n`);
}
