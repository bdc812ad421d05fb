import { describe, expect } from '@jest/globals';
import { SHAPES } from './corpus.js';
import { tryDocument } from './documents.js';
import { tryLog, tryMany } from './fuzzing.js';
import { longTest } from './long.js';
import { MUTATIONS } from './mutations.js';

// Simulated faults of invented logs: nothing may break, hang, or change a figure without a word. That
// most of what is tried says something; how much of it is silent is told of thousands by scripts/fuzz.ts.
describe('spoilt files', () => {
  longTest('of logs change no figure in silence', async () => {
    const { counts, bad } = await tryMany(1, 60, tryLog);
    expect(bad.map(({ seed, mutation, shape, why }) => `${seed} ${mutation} of ${shape}: ${why}`)).toEqual(
      [],
    );
    expect(MUTATIONS.length).toBeGreaterThanOrEqual(50);
    expect(SHAPES.length).toBeGreaterThanOrEqual(50);
    // A check that explains everything away would not be one: most files that say the same are read the same.
    expect(counts.equal).toBeGreaterThan(20);
    expect(counts.told).toBeGreaterThan(7);
  });

  longTest('that describe a home are refused in words or give figures that are well formed', async () => {
    const { counts, bad } = await tryMany(1, 200, tryDocument);
    expect(bad.map(({ seed, mutation, shape, why }) => `${seed} ${mutation} of ${shape}: ${why}`)).toEqual(
      [],
    );
    expect(counts.refused).toBeGreaterThan(80);
    expect(counts.equal).toBeGreaterThan(20);
  });
});
