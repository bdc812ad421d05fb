/**
 * Idle draw behind battery meters that read nothing below a floor: how far it lies from the truth of simulated homes, and how
 * often its interval holds it.
 */
import { endMs, prepare, report } from '@long-tally/core';
import { seededRandom } from '../core/src/statistics/random.js';
import { expectedOf, simulatedStore, STORE_HOME, type Truth } from '../core/src/testing/store.js';
import { count, normal, tally } from './fits.js';

const RUNS = 16;
const FLOORS_W = [0, 20, 40, 60];
const MINUTES = [5, 15];
const GAIN = 0.03;

/** Prints the table. */
export function printFloors(): void {
  const random = seededRandom(40);
  console.log(`\nIdle draw behind a meter with a floor, a year of ${RUNS} homes a line\n`);
  console.log('floor W  step min  told   off W  held  width W');
  for (const floorW of FLOORS_W)
    for (const minutes of MINUTES) {
      const line = tally();
      let width = 0;
      for (let run = 0; run < RUNS; run++) {
        const truth: Truth = {
          seed: Math.floor(random() * 1e9),
          days: 365,
          stepSeconds: minutes * 60,
          idleW: 5 + 95 * random(),
          efficiency: 0.84 + 0.1 * random(),
          socStep: 0.01,
          batteryGain: 1 + (GAIN / 1.96) * normal(random),
          floorW,
        };
        const log = simulatedStore(truth);
        const range = { fromMs: log.startMs, toMs: endMs(log) };
        const figure = report(prepare(STORE_HOME, [log]), range, 'days').figures['losses.idle.battery']!;
        count(line, figure, expectedOf(truth).idleW);
        if (figure.value !== null) width += figure.high! - figure.low!;
      }
      const { told, off, held } = line;
      console.log(
        `${String(floorW).padStart(7)}  ${String(minutes).padStart(8)}  ${`${told}/${RUNS}`.padStart(5)}  ${(off / told).toFixed(1).padStart(6)}  ${`${held}/${told}`.padStart(5)}  ${(width / told).toFixed(1).padStart(7)}`,
      );
    }
}
