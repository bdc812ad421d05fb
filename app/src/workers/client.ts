import { proxy, wrap, type Remote } from 'comlink';
import type { Home } from '../db/database.js';
import type { HomeWorker, ImportProgress, ImportWorker, Loadable } from '../protocol.js';

/** A worker that loads takes a moment; one that has said nothing after this long will not. */
const PATIENCE_MS = 10_000;

/** A worker did not load, did not answer, or broke; the next question begins a new one. */
class WorkerFailed extends Error {
  override readonly name = 'WorkerFailed';
}

/** A worker that was begun. */
interface Begun<T> {
  readonly remote: Remote<T>;
  /** Settles when it has answered for the first time; fails when it does not. */
  readonly ready: Promise<void>;
  /** Fails when the worker breaks; never settles otherwise. */
  readonly broken: Promise<never>;
  readonly end: () => void;
}

function begin<T extends Loadable>(create: () => Worker): Begun<T> {
  const worker = create();
  const remote = wrap<T>(worker);
  const broken = new Promise<never>((_, reject) => {
    const fail = (event: Event) => {
      event.preventDefault();
      reject(
        new WorkerFailed(
          'The part of the page that computes could not be loaded, or broke. Nothing that is stored has changed.',
        ),
      );
    };
    worker.addEventListener('error', fail);
    worker.addEventListener('messageerror', fail);
  });
  let patience: ReturnType<typeof setTimeout> | undefined;
  const late = new Promise<never>((_, reject) => {
    patience = setTimeout(
      () =>
        reject(
          new WorkerFailed(
            'The part of the page that computes has not answered for ten seconds. Nothing that is stored has changed.',
          ),
        ),
      PATIENCE_MS,
    );
  });
  // Whoever asks hears of a failure; without a question it is none.
  broken.catch(() => undefined);
  late.catch(() => undefined);
  const answered = (remote as unknown as Remote<Loadable>).ready().then(() => clearTimeout(patience));
  return {
    remote,
    ready: Promise.race([answered, broken, late]),
    broken,
    end: () => worker.terminate(),
  };
}

let home: Begun<HomeWorker> | null = null;

/**
 * Asks the worker that holds the open home and computes everything the views show.
 * @throws WorkerFailed when it does not load, does not answer or breaks; the next question begins it anew
 */
export async function askHome<T>(ask: (remote: Remote<HomeWorker>) => Promise<T>): Promise<T> {
  home ??= begin<HomeWorker>(
    () => new Worker(new URL('./homeWorker.ts', import.meta.url), { type: 'module' }),
  );
  const own = home;
  try {
    await own.ready;
    return await Promise.race([ask(own.remote), own.broken]);
  } catch (error) {
    if (error instanceof WorkerFailed && home === own) {
      own.end();
      home = null;
    }
    throw error;
  }
}

/** Files being looked at, read and stored, or books being opened, in a worker of their own. */
export interface ImportSession {
  /** @throws WorkerFailed as {@link askHome} does */
  readonly ask: <T>(ask: (remote: Remote<ImportWorker>) => Promise<T>) => Promise<T>;
  /** Ends the worker where it is and lets go of everything it holds; a transaction that is open is undone. */
  readonly end: () => void;
}

/** Begins an intake. */
export function beginImport(): ImportSession {
  const own = begin<ImportWorker>(
    () => new Worker(new URL('./importWorker.ts', import.meta.url), { type: 'module' }),
  );
  return {
    ask: async (ask) => {
      await own.ready;
      return Promise.race([ask(own.remote), own.broken]);
    },
    end: own.end,
  };
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
  const { ask, end } = beginImport();
  try {
    const looked = await ask((remote) => remote.look(target, files, proxy(onProgress)));
    const read = await ask((remote) => remote.read(target, looked.found, proxy(onProgress)));
    const problems = [...looked.aside, ...read.aside]
      .filter(({ kind }) => kind !== 'left-out')
      .flatMap((aside) => aside.problems);
    if (problems.length > 0) return problems;
    const refused = await ask((remote) => remote.store(target, [], proxy(onProgress)));
    return refused?.problems.slice() ?? [];
  } finally {
    end();
  }
}
