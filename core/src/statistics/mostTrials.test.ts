import { expect, test } from '@jest/globals';
import { binomialDistribution } from 'simple-statistics';
import { mostTrials } from './mostTrials.js';

test('is where the binomial distribution of a general library crosses the level (simple-statistics)', () => {
  const atMost = (seen: number, trials: number, chance: number) =>
    binomialDistribution(trials, chance)!
      .slice(0, seen + 1)
      .reduce((sum, each) => sum + each, 0);
  for (const [seen, chance] of [
    [0, 0.5],
    [0, 0.9],
    [3, 0.4],
    [8, 0.75],
    [20, 0.6],
  ] as const) {
    const most = mostTrials(seen, chance, 0.025);
    expect(atMost(seen, most, chance)).toBeGreaterThanOrEqual(0.025);
    expect(atMost(seen, most + 1, chance)).toBeLessThan(0.025);
  }
});

test('is what was seen where nothing goes unseen', () => {
  expect(mostTrials(7, 1, 0.025)).toBe(7);
});
