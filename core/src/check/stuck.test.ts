import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Log } from '../model/log.js';
import { stuckFindings } from './stuck.js';

const STEP_MS = 300_000;
const START = Date.UTC(2024, 0, 1);
/** Five hours of it. */
const LEAST = 60;

function logOf(values: Float64Array): Log {
  return {
    zone: 'UTC',
    startMs: START,
    stepMs: STEP_MS,
    count: values.length,
    lumps: [],
    fills: [],
    channels: new Map([
      [
        'load',
        {
          origin: 'logged',
          sources: ['a.csv'],
          values,
          bridged: new Uint8Array(values.length),
          resolution: 1,
        },
      ],
    ]),
  } as unknown as Log;
}

/** Every cell looked at, as the words of it say. */
function plainly(values: Float64Array): [number, number][] {
  const runs: [number, number][] = [];
  for (let from = 0; from < values.length;) {
    let to = from + 1;
    while (to < values.length && values[to] === values[from]) to++;
    if (to - from >= LEAST && Math.abs(values[from]!) > 40) runs.push([from, to]);
    from = to;
  }
  return runs;
}

test('a value that stands still is found wherever it begins and however long it does, as by looking at every cell', () => {
  const stretch = fc.record({
    watts: fc.constantFrom(0, 30, 500, 900, NaN),
    cells: fc.oneof(fc.integer({ min: 1, max: 8 }), fc.integer({ min: 50, max: 140 })),
  });
  fc.assert(
    fc.property(fc.array(stretch, { minLength: 1, maxLength: 12 }), (stretches) => {
      const values = Float64Array.from(
        stretches.flatMap(({ watts, cells }) => Array<number>(cells).fill(watts)),
      );
      const [found] = stuckFindings(logOf(values), null);
      const told = found?.proposal?.kind === 'blank' ? found.proposal.stretches : [];
      const cells = told.map(([from, to]) => [(from - START) / STEP_MS, (to - START) / STEP_MS]);
      expect(cells.sort((a, b) => a[0]! - b[0]!)).toEqual(plainly(values));
    }),
    { numRuns: 300 },
  );
});
