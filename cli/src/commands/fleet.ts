import { appendFile, readFile, rm } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { InputError } from '@long-tally/core';
import { homesIn } from '../fleet/homes.js';
import { outliersOf } from '../fleet/outliers.js';
import { eachRow } from '../fleet/pool.js';
import { COLUMNS, type FleetRow } from '../fleet/row.js';
import { writtenFleet, type FleetFormat } from '../fleet/written.js';
import { print, tell, writeTo } from '../output.js';
import { onlyFile, optionsIn, UsageError } from '../usage.js';

const MOST_JOBS = 256;

/** Goes through many homes on all cores and writes one row a home; one that cannot be used is a row with its problem. */
export async function fleet(args: readonly string[]): Promise<void> {
  const { values, positionals } = optionsIn(args, {
    out: { type: 'string' },
    jobs: { type: 'string' },
    resume: { type: 'boolean' },
    rank: { type: 'string' },
  });
  const folder = onlyFile(positionals, 'Name one folder with the homes.');
  const jobs = values.jobs === undefined ? availableParallelism() : Number(values.jobs);
  if (!(Number.isInteger(jobs) && jobs >= 1 && jobs <= MOST_JOBS))
    throw new UsageError(`--jobs: write how many homes are gone through at a time, from 1 to ${MOST_JOBS}.`);
  if (values.resume && !values.out) throw new UsageError('--resume goes on with a file: name it with --out.');
  const format = formatOf(values.out);
  const { rank } = values;
  if (rank !== undefined && !COLUMNS.some(({ key, isDate }) => key === rank && !isDate))
    throw new UsageError(
      `--rank: there is no figure "${rank}"; name one by its key, as losses.idle.battery.`,
    );
  const homes = await homesIn(folder);
  const progress = values.out === undefined ? null : `${values.out}.rows`;
  const rows = new Map(values.resume && progress ? await rowsIn(progress) : []);
  if (progress && !values.resume) await rm(progress, { force: true });
  const open = homes.filter(({ name }) => !rows.has(name));
  if (rows.size > 0) tell(`${rows.size} of ${homes.length} homes are done already.`);
  await eachRow(open, jobs, async (row) => {
    rows.set(row.home, row);
    if (progress) await appendFile(progress, `${JSON.stringify(row)}\n`);
    if (process.stderr.isTTY) process.stderr.write(`\r${rows.size} of ${homes.length} homes`);
  });
  if (process.stderr.isTTY) process.stderr.write('\n');
  const all = homes.map(({ name }) => rows.get(name)!);
  const sorted = rank === undefined ? all : ranked(all, rank);
  const content = await writtenFleet(sorted, format);
  if (values.out) {
    await writeTo(values.out, typeof content === 'string' ? content : once(content));
    await rm(`${values.out}.rows`, { force: true });
  } else await print(content as string);
  for (const { home, problem } of all) if (problem !== null) tell(`${home}: ${problem}`);
  if (rank !== undefined) tellOutliers(all, rank);
  if (all.every(({ problem }) => problem !== null))
    throw new InputError([
      {
        where: folder,
        found: 'None of its homes can be used; each is named above.',
        mend: 'Mend one of them.',
      },
    ]);
}

function formatOf(out: string | undefined): FleetFormat {
  if (out === undefined) return 'csv';
  const format = (['csv', 'json', 'parquet'] as const).find((one) => out.toLowerCase().endsWith(`.${one}`));
  if (!format) throw new UsageError('--out: let the file end in .csv, .json or .parquet.');
  return format;
}

/** Highest first; homes without the figure at the end, in their order. */
function ranked(rows: readonly FleetRow[], key: string): FleetRow[] {
  const value = ({ figures }: FleetRow) => (typeof figures[key] === 'number' ? figures[key] : -Infinity);
  return [...rows].sort((a, b) => value(b) - value(a) || 0);
}

function tellOutliers(rows: readonly FleetRow[], key: string): void {
  const outliers = outliersOf(rows, key);
  if (outliers.length === 0) tell(`No home stands out by ${key}.`);
  for (const { home, value, deviations } of outliers)
    tell(
      `${home}: ${key} ${Number(value.toPrecision(4))}, ${Math.abs(deviations).toFixed(1)} robust deviations ${deviations > 0 ? 'above' : 'below'} the fleet's median.`,
    );
}

/** Rows that an earlier run has written; a last line that was cut off counts for nothing. */
async function rowsIn(file: string): Promise<(readonly [string, FleetRow])[]> {
  const text = await readFile(file, 'utf8').catch(() => '');
  return text.split('\n').flatMap((line) => {
    try {
      const row = JSON.parse(line) as FleetRow;
      return [[row.home, row] as const];
    } catch {
      return [];
    }
  });
}

async function* once(bytes: Uint8Array): AsyncGenerator<Uint8Array> {
  yield await Promise.resolve(bytes);
}
