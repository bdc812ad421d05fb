import { createReadStream } from 'node:fs';
import { readFile, stat, writeFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { parseArgs } from 'node:util';
import {
  analyse,
  endMs,
  FIRST_OPTIONS,
  InputError,
  isoOf,
  optionCourse,
  outageCourse,
  outageStarts,
  parseInstant,
  parseJournal,
  parseMapping,
  parseRun,
  parseSystem,
  prepare,
  problemText,
  readFile as readLogFile,
  reconcile,
  runBudget,
  surveyFile,
  type Mapping,
  type SourceLog,
  type System,
} from '@long-tally/core';

const USAGE = `Usage:
  tally analyse --system system.json --log a.csv [--log b.csv ...] [--map map.json ...]
                [--journal journal.json] [--from ISO] [--to ISO] [--out report.json]
  tally reconcile --system system.json --log a.csv [...] --stated 98 [--journal journal.json]
                  [--from ISO] [--to ISO]
  tally outages --system system.json --log a.csv [...] [--journal journal.json] [--from ISO] [--to ISO]
  tally run readings.json
  tally detect a.csv [--system system.json]
  tally validate system.json`;

/** Wrong use of the command line: exit code 1. */
class UsageError extends Error {
  override readonly name = 'UsageError';
}

async function main(args: readonly string[]): Promise<void> {
  const [command, ...rest] = args;
  if (command === 'analyse') await runAnalyse(rest);
  else if (command === 'reconcile') await runReconcile(rest);
  else if (command === 'outages') await runOutages(rest);
  else if (command === 'run') await runShortRun(rest);
  else if (command === 'detect') await runDetect(rest);
  else if (command === 'validate') await runValidate(rest);
  else if (command === '--help' || command === '-h') process.stdout.write(`${USAGE}\n`);
  else throw new UsageError(command ? `There is no command "${command}".` : 'No command is given.');
}

const HOME_OPTIONS = {
  system: { type: 'string' },
  log: { type: 'string', multiple: true },
  map: { type: 'string', multiple: true },
  journal: { type: 'string' },
  from: { type: 'string' },
  to: { type: 'string' },
} as const;

async function runAnalyse(args: readonly string[]): Promise<void> {
  const { values, positionals } = parsed(() =>
    parseArgs({
      args: [...args],
      allowPositionals: true,
      options: { ...HOME_OPTIONS, out: { type: 'string' } },
    }),
  );
  const { system, logs, journal, range } = await readHome(values, positionals);
  const report = analyse(system, logs, range, [], journal);
  const text = `${JSON.stringify(report, null, 1)}\n`;
  if (values.out) await writeFile(values.out, text);
  else await print(text);
}

/** Prints which definition, range or omission gives a self-sufficiency that somebody states. */
async function runReconcile(args: readonly string[]): Promise<void> {
  const { values, positionals } = parsed(() =>
    parseArgs({
      args: [...args],
      allowPositionals: true,
      options: { ...HOME_OPTIONS, stated: { type: 'string' } },
    }),
  );
  const stated = Number(values.stated?.replace(',', '.').replace(/\s*%$/, '') || NaN);
  if (!(stated >= -1000 && stated <= 100))
    throw new UsageError('Write the stated self-sufficiency in per cent with --stated, as in --stated 98.');
  const { system, logs, journal, range } = await readHome(values, positionals);
  const found = reconcile(prepare(system, logs, [], journal), range, stated / 100);
  await print(`${JSON.stringify(found, null, 1)}\n`);
}

/**
 * Prints the outages of a range against what could be expected of them, how long the next one would be carried by each of
 * the usual options, what other reserves would have meant, and the highest loads.
 */
async function runOutages(args: readonly string[]): Promise<void> {
  const { values, positionals } = parsed(() =>
    parseArgs({ args: [...args], allowPositionals: true, options: HOME_OPTIONS }),
  );
  const { system, logs, journal, range } = await readHome(values, positionals);
  const prepared = prepare(system, logs, [], journal);
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

interface HomeValues {
  readonly system?: string | undefined;
  readonly log?: string[] | undefined;
  readonly map?: string[] | undefined;
  readonly journal?: string | undefined;
  readonly from?: string | undefined;
  readonly to?: string | undefined;
}

/** The home that the options name, and the range: whole of its logs where none is given. */
async function readHome(values: HomeValues, positionals: readonly string[]) {
  if (positionals.length > 0) throw new UsageError(`"${positionals[0]!}" is not expected here.`);
  if (!values.system) throw new UsageError('Name the system file with --system.');
  if (!values.log?.length) throw new UsageError('Name at least one log with --log.');
  const from = instantOf(values.from, '--from');
  const to = instantOf(values.to, '--to');
  const system = parseSystem(await textOf(values.system), values.system);
  const mappings = await Promise.all(
    (values.map ?? []).map(async (file) => parseMapping(await textOf(file), file)),
  );
  const journal = values.journal ? parseJournal(await textOf(values.journal), values.journal) : [];
  const logs = await readAll(values.log, system, mappings);
  const range = {
    fromMs: from ?? Math.min(...logs.map((log) => log.startMs)),
    toMs: to ?? Math.max(...logs.map(endMs)),
  };
  if (range.fromMs >= range.toMs) {
    throw new UsageError(`The range ends (${isoOf(range.toMs)}) before it begins (${isoOf(range.fromMs)}).`);
  }
  return { system, logs, journal, range };
}

/** Prints how a file would be read: one mapping for each text in it, with what speaks for every part of it. */
async function runDetect(args: readonly string[]): Promise<void> {
  const { values, positionals } = parsed(() =>
    parseArgs({ args: [...args], allowPositionals: true, options: { system: { type: 'string' } } }),
  );
  const [file, ...more] = positionals;
  if (!file || more.length > 0) throw new UsageError('Name one file.');
  const system: System = values.system
    ? parseSystem(await textOf(values.system), values.system)
    : { schema: 'long-tally/system@1', name: 'unknown home', timeZone: 'UTC' };
  await assertFile(file);
  const surveys = await surveyFile(file, () => bytesOf(file), system);
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
  process.stdout.write(`${JSON.stringify(found.length === 1 ? found[0] : found, null, 1)}\n`);
}

async function runValidate(args: readonly string[]): Promise<void> {
  const file = onlyFile(args, 'Name one system file.');
  const { name } = parseSystem(await textOf(file), file);
  process.stdout.write(`${file}: ${name} is a valid long-tally/system@1.\n`);
}

function onlyFile([file, ...more]: readonly string[], wanted: string): string {
  if (!file || file.startsWith('-') || more.length > 0) throw new UsageError(wanted);
  return file;
}

/** Writes to standard output, and waits until it is taken. */
function print(text: string): Promise<unknown> {
  return new Promise((resolve) => process.stdout.write(text, resolve));
}

function parsed<T>(parse: () => T): T {
  try {
    return parse();
  } catch (error) {
    throw new UsageError((error as Error).message);
  }
}

function instantOf(text: string | undefined, option: string): number | null {
  if (text === undefined) return null;
  const ms = parseInstant(text);
  if (Number.isNaN(ms)) throw new UsageError(`${option}: "${text}" is no ISO 8601 instant with offset or Z.`);
  return ms;
}

/** Reads every log; the problems of all files are told, not only the first. */
async function readAll(
  files: readonly string[],
  system: System,
  mappings: readonly Mapping[],
): Promise<SourceLog[]> {
  const logs: SourceLog[] = [];
  const problems = [];
  for (const file of files) {
    try {
      await assertFile(file);
      for (const { log } of await readLogFile(file, () => bytesOf(file), system, mappings)) logs.push(log);
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      problems.push(...error.problems);
    }
  }
  if (problems.length > 0) throw new InputError(problems);
  return logs;
}

async function assertFile(file: string): Promise<void> {
  const info = await stat(file).catch(() => null);
  if (!info?.isFile()) throw missing(file);
}

/** The bytes of a file, its progress on standard error where that is a terminal. */
async function* bytesOf(file: string): AsyncGenerator<Uint8Array> {
  const isShown = process.stderr.isTTY;
  const { size } = await stat(file);
  let done = 0;
  for await (const chunk of createReadStream(file, { highWaterMark: 1 << 22 }) as AsyncIterable<Uint8Array>) {
    yield chunk;
    done += chunk.length;
    if (isShown)
      process.stderr.write(
        `\r${basename(file)}: ${Math.round((100 * done) / size)} %${done === size ? '\n' : ''}`,
      );
  }
}

async function textOf(file: string): Promise<string> {
  try {
    return await readFile(file, 'utf8');
  } catch {
    throw missing(file);
  }
}

function missing(where: string): InputError {
  return new InputError([
    { where, found: 'This file is not there or cannot be read.', mend: 'Check the path.' },
  ]);
}

main(process.argv.slice(2)).catch((error: unknown) => {
  if (error instanceof UsageError) {
    process.stderr.write(`${error.message}\n${USAGE}\n`);
    process.exitCode = 1;
  } else if (error instanceof InputError) {
    process.stderr.write(`${error.problems.map(problemText).join('\n')}\n`);
    process.exitCode = 2;
  } else {
    process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
    process.exitCode = 2;
  }
});
