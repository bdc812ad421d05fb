import { optionCourse, type Option, type OptionCourse, type Starts } from '@long-tally/core';
import { expose } from 'comlink';

let held: Starts | null = null;

const replayWorker = {
  /** Takes what the outages are begun from; it is kept for all options. */
  hold(starts: Starts): void {
    held = starts;
  },

  run(option: Option): OptionCourse {
    if (!held) throw new Error('Nothing is held to begin an outage from.');
    return optionCourse(held, option);
  },
};

export type ReplayWorker = typeof replayWorker;

expose(replayWorker);
