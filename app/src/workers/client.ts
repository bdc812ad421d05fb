import { proxy, wrap, type Remote } from 'comlink';
import type { Home } from '../db/database.js';
import type { HomeWorker } from './homeWorker.js';
import type { ImportProgress, ImportWorker } from './importWorker.js';

const worker = new Worker(new URL('./homeWorker.ts', import.meta.url), { type: 'module' });

/** The worker that holds the open home and computes everything the views show. */
export const home: Remote<HomeWorker> = wrap<HomeWorker>(worker);

/** Files being looked at, read and stored, in a worker of their own. */
export interface Intake {
  readonly remote: Remote<ImportWorker>;
  /** Ends the worker and lets go of everything it holds. */
  readonly end: () => void;
}

/** Begins an intake. */
export function beginIntake(): Intake {
  const own = new Worker(new URL('./importWorker.ts', import.meta.url), { type: 'module' });
  return { remote: wrap<ImportWorker>(own), end: () => own.terminate() };
}

/**
 * Imports files that need no answers, as the demo homes do.
 * @returns what could not be used, in words; empty when all was stored
 */
export async function importFiles(
  target: Home,
  files: readonly File[],
  onProgress: (progress: ImportProgress) => void,
): Promise<string[]> {
  const { remote, end } = beginIntake();
  try {
    const looked = await remote.look(target, files, proxy(onProgress));
    const read = looked && (await remote.read(target, looked.found, proxy(onProgress)));
    const problems = [...(looked?.aside ?? []), ...(read?.aside ?? [])].flatMap((aside) => aside.problems);
    if (problems.length > 0) return problems;
    return (await remote.store(target, proxy(onProgress)))?.problems.slice() ?? [];
  } finally {
    end();
  }
}
