import { readdir, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { InputError } from '@long-tally/core';
import type { HomeValues } from '../home.js';

/** A home of a fleet: a book, or a folder with its system and its logs. */
export interface FleetHome {
  readonly name: string;
  readonly values: HomeValues;
}

const LOG = /\.(csv|csv\.gz|txt|xlsx|json|zip)$/i;
const OWN = new Set(['system.json', 'journal.json', 'readings.csv', 'corrections.json', 'truth.json']);

/**
 * The homes of a folder, in order of their names: every book in it, and every folder in it that holds a system.json. In such a folder
 * journal.json and readings.csv are what they are called, files that end in .map.json are mappings, those that end in .trial.json
 * trials, all others logs.
 * @throws InputError when the folder cannot be read or holds no home
 */
export async function homesIn(folder: string): Promise<FleetHome[]> {
  const entries = await readdir(folder, { withFileTypes: true }).catch(() => {
    throw new InputError([
      { where: folder, found: 'This folder is not there or cannot be read.', mend: 'Check the path.' },
    ]);
  });
  const homes: FleetHome[] = [];
  for (const { name } of entries.sort((a, b) => (a.name < b.name ? -1 : 1))) {
    const path = join(folder, name);
    const info = await stat(path);
    if (info.isFile() && /\.zip$/i.test(name))
      homes.push({ name: name.replace(/\.zip$/i, ''), values: { book: path } });
    else if (info.isDirectory()) {
      const files = (await readdir(path)).sort();
      if (files.includes('system.json')) homes.push({ name, values: valuesOf(path, files) });
    }
  }
  if (homes.length === 0)
    throw new InputError([
      {
        where: folder,
        found: 'It holds no home: neither a book (.zip) nor a folder with a system.json.',
        mend: 'Put each home into the folder as a book, or as a folder with its system.json and its logs.',
      },
    ]);
  return homes;
}

function valuesOf(folder: string, files: readonly string[]): HomeValues {
  const at = (name: string) => join(folder, name);
  const ending = (end: string) => files.filter((name) => name.endsWith(end));
  const [map, trial] = [ending('.map.json'), ending('.trial.json')];
  const log = files.filter(
    (name) => LOG.test(name) && !OWN.has(name) && !map.includes(name) && !trial.includes(name),
  );
  return {
    system: at('system.json'),
    log: log.map(at),
    map: map.map(at),
    trial: trial.map(at),
    ...(files.includes('journal.json') ? { journal: at('journal.json') } : {}),
    ...(files.includes('readings.csv') ? { readings: at('readings.csv') } : {}),
  };
}
