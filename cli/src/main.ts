import {
  bookOf,
  FIRST_OPTIONS,
  InputError,
  isoOf,
  optionCourse,
  outageCourse,
  outageStarts,
  parseRun,
  parseSystem,
  problemText,
  reconcile,
  report,
  runBudget,
  surveyFile,
  type System,
} from '@long-tally/core';
import { assertFile, bytesOf, textOf } from './files.js';
import { readHome } from './home.js';
import { print, tell, writeTo } from './output.js';
import { HOME_OPTIONS, onlyFile, optionsIn, USAGE, UsageError } from './usage.js';

async function main(args: readonly string[]): Promise<void> {
  const [command, ...rest] = args;
  if (command === 'analyse') await runAnalyse(rest);
  else if (command === 'reconcile') await runReconcile(rest);
  else if (command === 'outages') await runOutages(rest);
  else if (command === 'book') await runBook(rest);
  else if (command === 'run') await runShortRun(rest);
  else if (command === 'detect') await runDetect(rest);
  else if (command === 'validate') await runValidate(rest);
  else if (command === '--help' || command === '-h') await print(`${USAGE}\n`);
  else throw new UsageError(command ? `There is no command "${command}".` : 'No command is given.');
}

async function runAnalyse(args: readonly string[]): Promise<void> {
  const { values, positionals } = optionsIn(args, { ...HOME_OPTIONS, out: { type: 'string' } });
  const { prepared, range } = await readHome(values, positionals);
  const text = `${JSON.stringify(report(prepared, range), null, 1)}\n`;
  if (values.out) await writeTo(values.out, text);
  else await print(text);
}

/** Saves everything of a home as one file. */
async function runBook(args: readonly string[]): Promise<void> {
  const { values, positionals } = optionsIn(args, { ...HOME_OPTIONS, out: { type: 'string' } });
  if (!values.out) throw new UsageError('Name the file to write with --out.');
  const { prepared, contents } = await readHome(values, positionals);
  await writeTo(values.out, bookOf(contents, prepared, prepared, Date.now()));
}

/** Prints which definition, range or omission gives a self-sufficiency that somebody states. */
async function runReconcile(args: readonly string[]): Promise<void> {
  const { values, positionals } = optionsIn(args, { ...HOME_OPTIONS, stated: { type: 'string' } });
  const stated = Number(values.stated?.replace(',', '.').replace(/\s*%$/, '') || NaN);
  if (!(stated >= -1000 && stated <= 100))
    throw new UsageError('Write the stated self-sufficiency in per cent with --stated, as in --stated 98.');
  const { prepared, range } = await readHome(values, positionals);
  const found = reconcile(prepared, range, stated / 100);
  await print(`${JSON.stringify(found, null, 1)}\n`);
}

/**
 * Prints the outages of a range against what could be expected of them, how long the next one would be carried by each of
 * the usual options, what other reserves would have meant, and the highest loads.
 */
async function runOutages(args: readonly string[]): Promise<void> {
  const { values, positionals } = optionsIn(args, HOME_OPTIONS);
  const { prepared, range } = await readHome(values, positionals);
  const { outages, costs, peaks, reserveSet, figures } = outageCourse(prepared, range);
  const starts = outageStarts(prepared, range);
  await print(
    `${JSON.stringify(
      {
        outages: outages.map(({ fromMs, toMs, darkMs, restartMs, ...rest }) => ({
          from: isoOf(fromMs),
          to: isoOf(toMs),
          dark: darkMs === null ? null : isoOf(darkMs),
          restart: restartMs === null ? null : isoOf(restartMs),
          ...rest,
        })),
        options: starts ? FIRST_OPTIONS.map((option) => optionCourse(starts, option)) : [],
        reserveSet,
        reserves: costs,
        peaks: peaks.peaks.map(({ atMs, ...peak }) => ({ at: isoOf(atMs), ...peak })),
        transfers: peaks.transfers,
        figures: { ...figures, ...peaks.figures },
      },
      null,
      1,
    )}\n`,
  );
}

/** Prints the budget of a short run: where its missing energy went. */
async function runShortRun(args: readonly string[]): Promise<void> {
  const file = onlyFile(args, 'Name one file with the readings of a run.');
  await print(`${JSON.stringify(runBudget(parseRun(await textOf(file), file)), null, 1)}\n`);
}

/** Prints how a file would be read: one mapping for each text in it, with what speaks for every part of it. */
async function runDetect(args: readonly string[]): Promise<void> {
  const { values, positionals } = optionsIn(args, { system: { type: 'string' } });
  const file = onlyFile(positionals, 'Name one file.');
  const system: System = values.system
    ? parseSystem(await textOf(values.system), values.system)
    : { schema: 'long-tally/system@1', name: 'unknown home', timeZone: 'UTC' };
  await assertFile(file);
  const { surveys, leftOut } = await surveyFile(file, () => bytesOf(file), system);
  const found = surveys.map(({ part, recognition }) => ({
    file: part.name,
    ...recognition.mapping,
    evidence: recognition.conclusions.map(({ about, says, evidence, confidence, asks, alternatives }) => ({
      about,
      says,
      confidence,
      asks,
      evidence,
      ...(alternatives.length > 0 ? { alternatives } : {}),
    })),
    ignored: recognition.ignored,
  }));
  for (const { name, why } of leftOut) tell(`${name} is not read: ${why}`);
  await print(`${JSON.stringify(found.length === 1 ? found[0] : found, null, 1)}\n`);
}

async function runValidate(args: readonly string[]): Promise<void> {
  const file = onlyFile(args, 'Name one system file.');
  const { name } = parseSystem(await textOf(file), file);
  await print(`${file}: ${name} is a valid long-tally/system@1.\n`);
}

// Whoever reads the output may have read enough, as `| head` does: that is no fault.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code !== 'EPIPE') throw error;
  process.exit();
});

main(process.argv.slice(2)).catch((error: unknown) => {
  if (error instanceof UsageError) {
    tell(`${error.message}\n${USAGE}`);
    process.exitCode = 1;
    return;
  }
  process.exitCode = 2;
  if (error instanceof InputError) tell(error.problems.map(problemText).join('\n'));
  else
    tell(
      `This could not be done, by a fault of the program rather than of your files: ${error instanceof Error ? error.message : String(error)}`,
    );
});
