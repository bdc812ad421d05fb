import { scenarioOutcome, type Starts } from '@long-tally/core';
import { expose } from 'comlink';
import type { ReplayWorker } from '../protocol.js';

let held: Starts | null = null;

const replayWorker: ReplayWorker = {
  hold: (port) =>
    new Promise((resolve) => {
      port.onmessage = ({ data }: MessageEvent<Starts | null>) => {
        held = data;
        port.close();
        resolve();
      };
    }),

  run(scenario) {
    if (!held) throw new Error('Nothing is held to begin an outage from.');
    return scenarioOutcome(held, scenario);
  },
};

expose(replayWorker);
