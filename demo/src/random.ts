import { seededRandom } from '@long-tally/core';

/** Draws from one seed; two streams with different names do not disturb each other. */
export interface Dice {
  /** Uniform in [0, 1). */
  readonly roll: () => number;
  /** Standard normal, by the sum of twelve uniforms: quick, and bounded at six. */
  readonly normal: () => number;
}

/** A stream of its own for each part of the simulation. */
export function dice(seed: number, name: string): Dice {
  let hash = seed;
  for (const letter of name) hash = Math.imul(hash ^ letter.charCodeAt(0), 0x01000193);
  const roll = seededRandom(hash);
  return {
    roll,
    normal: () => {
      let sum = -6;
      for (let i = 0; i < 12; i++) sum += roll();
      return sum;
    },
  };
}
