import { knownBill, readStatedBill } from '@long-tally/core';
import { readHome } from '../home.js';
import { print } from '../output.js';
import { HOME_OPTIONS, optionsIn, UsageError } from '../usage.js';

/** Prints what makes up a bill that somebody states, from its own figures and, where there is one, the home's log. */
export async function bill(args: readonly string[]): Promise<void> {
  const { values, positionals } = optionsIn(args, {
    ...HOME_OPTIONS,
    amount: { type: 'string' },
    kwh: { type: 'string' },
    rate: { type: 'string' },
    days: { type: 'string' },
  });
  const number = (name: 'amount' | 'kwh' | 'rate' | 'days', least: number) => {
    const text = values[name];
    if (text === undefined) return null;
    const value = Number(text.replace(',', '.'));
    if (text.trim() === '' || !(value >= least))
      throw new UsageError(`--${name}: write a number, for example ${name === 'rate' ? '0.1853' : '30'}.`);
    return value;
  };
  const amount = number('amount', -1e9);
  if (amount === null)
    throw new UsageError('Write the amount of the bill with --amount, as in --amount 9.31.');
  const stated = { amount, kWh: number('kwh', 0), rate: number('rate', -1e3), days: number('days', 0.5) };
  const hasHome = values.book ?? values.system;
  const home = hasHome ? await readHome(values, positionals) : null;
  const found = readStatedBill(stated, home && knownBill(home.prepared, home.range));
  if (!found)
    throw new UsageError(
      'Write energy and rate with --kwh and --rate, or name a home with a log and a tariff.',
    );
  await print(`${JSON.stringify(found, null, 1)}\n`);
}
