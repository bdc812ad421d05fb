/**
 * Stops of the output by a leg above its limit in simulated homes: how many are found at each step, what is invented, how
 * often the cause is told, and whether the highest held and the lowest that stopped enclose the leg's true limit.
 */
import { endMs, outagesView, prepare } from '@long-tally/core';
import { seededRandom } from '../core/src/statistics/random.js';
import { legHome, simulatedLegs } from '../core/src/testing/legs.js';

const HOMES = 20;
const DAYS = 4;
const STEPS_S = [1, 5, 20, 60];

/** Prints the table. */
export function printTrips(): void {
  console.log(`\nStops by a leg above its limit, ${HOMES} simulated homes of ${DAYS} days a line\n`);
  console.log('step s   stops   found   invented   cause told   seconds dark, off   limit enclosed');
  for (const stepSeconds of STEPS_S) {
    const random = seededRandom(77);
    const sum = { stops: 0, found: 0, invented: 0, cause: 0, off: 0, enclosed: 0, told: 0 };
    for (let home = 0; home < HOMES; home++) {
      const perLegW = 2200 + 1800 * random();
      const { log, stops } = simulatedLegs({
        seed: Math.floor(random() * 1e9),
        days: DAYS,
        stepSeconds,
        perLegW,
      });
      const { peaks } = outagesView(prepare(legHome(perLegW), [log]), {
        fromMs: log.startMs,
        toMs: endMs(log),
      });
      const matching = (atMs: number) =>
        peaks.stops.find((one) => one.atMs > atMs - 2 * log.stepMs && one.atMs < atMs + 3 * log.stepMs);
      sum.stops += stops.length;
      for (const { atMs, darkS } of stops) {
        const found = matching(atMs);
        if (!found) continue;
        sum.found++;
        if (found.cause === 'leg') sum.cause++;
        if (found.restartMs !== null) sum.off += Math.abs((found.restartMs - found.atMs) / 1000 - darkS);
      }
      sum.invented += peaks.stops.length - stops.filter(({ atMs }) => matching(atMs)).length;
      for (const { leg, heldW, trippedW } of peaks.proven) {
        if (leg === 0 || Number.isNaN(trippedW)) continue;
        sum.told++;
        if (heldW <= perLegW * 1.02 && trippedW >= perLegW * 0.98) sum.enclosed++;
      }
    }
    const share = (part: number, of: number) => (of === 0 ? '–' : `${((100 * part) / of).toFixed(0)} %`);
    console.log(
      `${String(stepSeconds).padStart(6)}  ${String(sum.stops).padStart(6)}  ${share(sum.found, sum.stops).padStart(6)}  ${String(sum.invented).padStart(9)}  ${share(sum.cause, sum.found).padStart(11)}  ${(sum.off / Math.max(1, sum.found)).toFixed(0).padStart(18)}  ${`${sum.enclosed}/${sum.told}`.padStart(15)}`,
    );
  }
}
