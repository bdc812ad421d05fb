import { describedRunsOn, InputError, parseSystem, runtimeHours } from '@long-tally/core';
import { textOf } from '../files.js';
import { print } from '../output.js';
import { optionsIn, UsageError } from '../usage.js';

const LOAD_OFF = 0.1;

/** Prints how many hours a charge lasts at a load, from the description of the system alone. */
export async function runtime(args: readonly string[]): Promise<void> {
  const { values } = optionsIn(args, {
    system: { type: 'string' },
    soc: { type: 'string' },
    load: { type: 'string' },
  });
  const [soc, load] = [Number(values.soc || NaN) / 100, Number(values.load || NaN)];
  if (!values.system) throw new UsageError('Name the system file with --system.');
  if (!(soc >= 0 && soc <= 1))
    throw new UsageError('Write the charge in per cent with --soc, as in --soc 64.');
  if (!(load > 0 && load <= 1e6)) throw new UsageError('Write the load in W with --load, as in --load 3300.');
  const system = parseSystem(await textOf(values.system), values.system);
  const runsOn = describedRunsOn(system);
  if (!runsOn)
    throw new InputError([
      {
        where: values.system,
        found: 'The capacity of the battery is not described.',
        mend: 'Write modules and moduleKWh under battery.',
      },
    ]);
  await print(`${JSON.stringify({ hours: runtimeHours(runsOn, soc, load, LOAD_OFF) }, null, 1)}\n`);
}
