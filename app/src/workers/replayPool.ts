import type { Scenario, ScenarioOutcome } from '@long-tally/core';
import { transfer, wrap } from 'comlink';
import type { At, ReplayWorker } from '../protocol.js';
import { askHome } from './client.js';

/** No more workers than scenarios to give them, and one for each core up to this. */
const MOST_WORKERS = 4;

/**
 * Begins an outage in every hour of a range for each of several scenarios, on all cores. What it is begun from goes straight
 * from the worker that holds the home to those that replay.
 * @param onOutcome told of each scenario as it is done, in whatever order
 * @param signal ends the workers where they are
 * @throws Error when one of the workers does not load or breaks
 */
export async function runScenarios(
  at: At,
  from: string,
  to: string,
  scenarios: readonly Scenario[],
  onOutcome: (index: number, outcome: ScenarioOutcome) => void,
  signal: AbortSignal,
): Promise<void> {
  let next = 0;
  const cores = Math.min(MOST_WORKERS, navigator.hardwareConcurrency || 1, scenarios.length);
  const workers = Array.from(
    { length: cores },
    () => new Worker(new URL('./replayWorker.ts', import.meta.url), { type: 'module' }),
  );
  const end = () => workers.forEach((worker) => worker.terminate());
  // What a worker that was ended still owes never comes, so leaving does not wait for it.
  const left = new Promise<'left'>((resolve) =>
    signal.addEventListener('abort', () => resolve('left'), { once: true }),
  );
  const broken = new Promise<never>((_, reject) =>
    workers.forEach((worker) =>
      worker.addEventListener('error', (event) => {
        event.preventDefault();
        reject(new Error('A part of the page that computes could not be loaded, or broke.'));
      }),
    ),
  );
  // Whoever waits hears of it; when nobody does it is no failure.
  broken.catch(() => undefined);
  const channels = workers.map(() => new MessageChannel());
  const work = async (worker: Worker, k: number) => {
    const remote = wrap<ReplayWorker>(worker);
    const { port2 } = channels[k]!;
    await remote.hold(transfer(port2, [port2]));
    while (next < scenarios.length) {
      const index = next++;
      const outcome = await Promise.race([remote.run(scenarios[index]!), left]);
      if (outcome === 'left') return;
      onOutcome(index, outcome);
    }
  };
  const lend = async () => {
    const ports = channels.map(({ port1 }) => port1);
    const isLent = await askHome((home) => home.lendStarts(at, from, to, transfer(ports, ports)));
    if (isLent) await Promise.all(workers.map(work));
  };
  try {
    signal.throwIfAborted();
    await Promise.race([lend(), left, broken]);
  } finally {
    end();
  }
}
