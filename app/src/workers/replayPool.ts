import type { Scenario, ScenarioOutcome, Starts } from '@long-tally/core';
import { wrap } from 'comlink';
import type { ReplayWorker } from './replayWorker.js';

/** No more workers than options to give them, and one for each core up to this. */
const MOST_WORKERS = 4;

/**
 * Begins an outage in every hour for each of several options, on all cores.
 * @param onCourse told of each option as it is done, in whatever order
 * @param signal ends the workers where they are
 */
export async function runScenarios(
  starts: Starts,
  options: readonly Scenario[],
  onCourse: (index: number, course: ScenarioOutcome) => void,
  signal: AbortSignal,
): Promise<void> {
  let next = 0;
  const cores = Math.min(MOST_WORKERS, navigator.hardwareConcurrency || 1, options.length);
  const workers = Array.from(
    { length: cores },
    () => new Worker(new URL('./replayWorker.ts', import.meta.url), { type: 'module' }),
  );
  const end = () => workers.forEach((worker) => worker.terminate());
  // What a worker that was ended still owes never comes, so leaving does not wait for it.
  const left = new Promise<'left'>((resolve) =>
    signal.addEventListener('abort', () => resolve('left'), { once: true }),
  );
  const work = async (worker: Worker) => {
    const remote = wrap<ReplayWorker>(worker);
    await remote.hold(starts);
    while (next < options.length) {
      const index = next++;
      const course = await Promise.race([remote.run(options[index]!), left]);
      if (course === 'left') return;
      onCourse(index, course);
    }
  };
  try {
    signal.throwIfAborted();
    await Promise.race([Promise.all(workers.map(work)), left]);
  } finally {
    end();
  }
}
