import { InputError, problemText } from '@long-tally/core/problem';
import { print, tell } from './output.js';
import { USAGE, UsageError } from './usage.js';

type Command = (args: readonly string[]) => Promise<void>;

/** The commands, each loaded when it is called. */
const COMMANDS: Readonly<Record<string, () => Promise<Command>>> = {
  analyse: async () => (await import('./commands/analyse.js')).analyse,
  reconcile: async () => (await import('./commands/reconcile.js')).reconcile,
  bill: async () => (await import('./commands/bill.js')).bill,
  outages: async () => (await import('./commands/outages.js')).outages,
  settings: async () => (await import('./commands/settings.js')).settings,
  storm: async () => (await import('./commands/storm.js')).storm,
  surplus: async () => (await import('./commands/surplus.js')).surplus,
  parts: async () => (await import('./commands/parts.js')).parts,
  book: async () => (await import('./commands/book.js')).book,
  fleet: async () => (await import('./commands/fleet.js')).fleet,
  runtime: async () => (await import('./commands/runtime.js')).runtime,
  whatif: async () => (await import('./commands/whatif.js')).whatif,
  trial: async () => (await import('./commands/trial.js')).trial,
  trials: async () => (await import('./commands/trials.js')).trials,
  combinations: async () => (await import('./commands/combinations.js')).combinations,
  run: async () => (await import('./commands/run.js')).run,
  detect: async () => (await import('./commands/detect.js')).detect,
  validate: async () => (await import('./commands/validate.js')).validate,
};

/**
 * Runs the command line.
 * @returns the exit code: 0 when it is done, 1 for a wrong call, 2 for input that cannot be used
 */
export async function tally([name, ...args]: readonly string[]): Promise<0 | 1 | 2> {
  try {
    if (name === 'help' || [name, ...args].some((one) => one === '--help' || one === '-h')) {
      await print(`${USAGE}\n`);
      return 0;
    }
    if (name === undefined) throw new UsageError('No command is given.');
    if (!Object.hasOwn(COMMANDS, name)) throw new UsageError(`There is no command "${name}".`);
    const command = await COMMANDS[name]!();
    await command(args);
    return 0;
  } catch (error) {
    if (error instanceof UsageError) {
      tell(`${error.message}\n${USAGE}`);
      return 1;
    }
    if (error instanceof InputError) tell(error.problems.map(problemText).join('\n'));
    else
      tell(
        `This could not be done, by a fault of the program rather than of your files: ${error instanceof Error ? error.message : String(error)}`,
      );
    return 2;
  }
}
