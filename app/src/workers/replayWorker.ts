import { scenarioOutcome, type Scenario, type ScenarioOutcome, type Starts } from '@long-tally/core';
import { expose } from 'comlink';

let held: Starts | null = null;

const replayWorker = {
  /** Takes what the outages are begun from; it is kept for all options. */
  hold(starts: Starts): void {
    held = starts;
  },

  run(option: Scenario): ScenarioOutcome {
    if (!held) throw new Error('Nothing is held to begin an outage from.');
    return scenarioOutcome(held, option);
  },
};

export type ReplayWorker = typeof replayWorker;

expose(replayWorker);
