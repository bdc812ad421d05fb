import { bestSettings } from '@long-tally/core';
import { readHome } from '../home.js';
import { print } from '../output.js';
import { HOME_OPTIONS, optionsIn, UsageError } from '../usage.js';

/** Prints the reserve and night charging by month that make the bill least, and what perfect foresight could have had. */
export async function settings(args: readonly string[]): Promise<void> {
  const { values, positionals } = optionsIn(args, {
    ...HOME_OPTIONS,
    hours: { type: 'string' },
    chance: { type: 'string' },
  });
  const [hours, chance] = [Number(values.hours ?? 12), Number(values.chance ?? 0.9)];
  if (!(hours >= 0 && hours <= 336))
    throw new UsageError('--hours: write how long an outage is to be carried, from 0 to 336.');
  if (!(chance > 0 && chance < 1))
    throw new UsageError('--chance: write a share between 0 and 1, for example 0.9.');
  const { prepared, range } = await readHome(values, positionals);
  await print(`${JSON.stringify(bestSettings(prepared, range, Math.round(hours), chance), null, 1)}\n`);
}
