import { fork, type ChildProcess } from 'node:child_process';
import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { FleetHome } from './homes.js';
import { rowOf, type FleetRow } from './row.js';

/** The worker's bundle stands beside the command's own; from its sources, in the bundle's folder. */
function workerFile(): string {
  const here = fileURLToPath(new URL('./fleetWorker.js', import.meta.url));
  return existsSync(here) ? here : fileURLToPath(new URL('../../dist/fleetWorker.js', import.meta.url));
}

/**
 * Makes the rows of homes, each by whichever worker is free; with one job in this process. A home that brings its worker down is a
 * row with its problem, and another worker goes on. Workers are processes, not threads: threads of one process wait for each other
 * whenever one is given memory, which this is full of (docs/decisions/032).
 * @param take is given each row as it is made, in no order
 */
export async function eachRow(
  homes: readonly FleetHome[],
  jobs: number,
  take: (row: FleetRow) => Promise<void>,
): Promise<void> {
  if (jobs === 1) {
    for (const home of homes) await take(await rowOf(home));
    return;
  }
  let next = 0;
  const lane = async () => {
    let worker: ChildProcess | null = null;
    while (next < homes.length) {
      const home = homes[next++]!;
      worker ??= fork(workerFile(), { stdio: ['ignore', 'ignore', 'inherit', 'ipc'] });
      const row = await rowBy(worker, home);
      if (row.isLost) {
        worker.kill();
        worker = null;
      }
      await take(row.row);
    }
    worker?.kill();
  };
  await Promise.all(Array.from({ length: Math.min(jobs, homes.length) }, lane));
}

function rowBy(
  worker: ChildProcess,
  home: FleetHome,
): Promise<{ readonly row: FleetRow; readonly isLost: boolean }> {
  return new Promise((resolve) => {
    const end = (row: FleetRow, isLost: boolean) => {
      worker.off('message', onRow);
      worker.off('error', onError);
      worker.off('exit', onExit);
      resolve({ row, isLost });
    };
    const lost = (why: string) =>
      end({ home: home.name, problem: `It could not be gone through: ${why}`, figures: {} }, true);
    const onRow = (row: unknown) => end(row as FleetRow, false);
    const onError = (error: Error) => lost(error.message);
    const onExit = () => lost('its worker ended, as when there is not enough memory.');
    worker.once('message', onRow);
    worker.once('error', onError);
    worker.once('exit', onExit);
    worker.send(home);
  });
}
