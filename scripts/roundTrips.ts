/**
 * The round trip from a day to a year of simulated homes: how often there is one, how far it lies from the ratio of the same
 * windows without a meter's error and from the home's year, and how often its interval holds either.
 */
import { endMs, prepare, report, type Figure } from '@long-tally/core';
import { seededRandom } from '../core/src/statistics/random.js';
import { simulatedStore, STORE_HOME, type Truth } from '../core/src/testing/store.js';
import { count, normal, tally } from './fits.js';

const HOMES = 40;
const DAYS = [1.5, 3, 7, 30, 90, 365];
const [GAIN, ZERO_W, DIRECTION] = [0.03, 5, 0.25];

/** Prints the table. */
export function printRoundTrips(): void {
  console.log(`\nRound trip of ${HOMES} simulated homes a line, 5 minutes, meters off by their accuracy\n`);
  console.log('  days   told   off their windows   held   off the year   held   width');
  const figureOf = (truth: Truth, days: number): Figure => {
    const log = simulatedStore(truth);
    const range = { fromMs: log.startMs, toMs: Math.min(endMs(log), log.startMs + days * 86_400_000) };
    return report(prepare(STORE_HOME, [log]), range, 'days').figures['losses.roundTrip.fullToFull']!;
  };
  for (const days of DAYS) {
    const random = seededRandom(31);
    const [own, year] = [tally(), tally()];
    let width = 0;
    for (let home = 0; home < HOMES; home++) {
      const real: Truth = {
        seed: Math.floor(random() * 1e9),
        days: 365,
        stepSeconds: 300,
        idleW: 5 + 95 * random(),
        efficiency: 0.82 + 0.12 * random(),
        socStep: 0.01,
      };
      const seen: Truth = {
        ...real,
        batteryGain: 1 + (GAIN / 1.96) * normal(random),
        batteryZeroW: (ZERO_W / 1.96) * normal(random),
        dischargeGain: 1 + (DIRECTION * GAIN * normal(random)) / 1.96,
      };
      const figure = figureOf(seen, days);
      if (figure.value === null) continue;
      width += figure.high! - figure.low!;
      count(own, figure, figureOf(real, days).value!);
      count(year, figure, figureOf(real, 365).value!);
    }
    const part = ({ told, held }: typeof own) => (told === 0 ? '–' : `${((100 * held) / told).toFixed(0)} %`);
    const off = ({ told, off: sum }: typeof own) => (told === 0 ? '–' : (sum / told).toFixed(4));
    console.log(
      `${String(days).padStart(6)}  ${`${own.told}/${HOMES}`.padStart(5)}  ${off(own).padStart(18)}  ${part(own).padStart(5)}  ${off(year).padStart(13)}  ${part(year).padStart(5)}  ${(width / Math.max(1, own.told)).toFixed(3).padStart(6)}`,
    );
  }
}
