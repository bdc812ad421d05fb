/**
 * Simulated homes with known truth, over a grid of draws, efficiencies, lengths and digits: how far the fits of the
 * losses lie from the truth, and how often their interval holds it. Meters err as their stated accuracy says.
 */
import { prepare, report, type Figure } from '@long-tally/core';
import { seededRandom } from '../core/src/statistics/random.js';
import { expectedOf, simulatedStore, STORE_HOME, type Truth } from '../core/src/testing/store.js';

const RUNS = 12;
const DRAWS_W = [5, 40, 120, 250];
const EFFICIENCIES = [0.8, 0.88, 0.96];
const DAYS = [30, 90, 400];
const SOC_STEPS = [0.001, 0.01];
/** Half-widths at 95 % of the meters' gains and of their zero, as the core takes them where nothing is stated. */
export const GAINS = { solar: 0.03, load: 0.02, grid: 0.02, battery: 0.03 } as const;
export const ZERO_W = 5;
/** Of its gain so much differs between its two directions. */
const DIRECTION = 0.25;

/** A normal number from two uniform ones (Box and Muller 1958). */
export function normal(random: () => number): number {
  return Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
}

export interface Tally {
  told: number;
  off: number;
  held: number;
}

export const tally = (): Tally => ({ told: 0, off: 0, held: 0 });

export function count(into: Tally, figure: Figure, truth: number): void {
  if (figure.value === null) return;
  into.told++;
  into.off += figure.value - truth;
  if (figure.low! <= truth && truth <= figure.high!) into.held++;
}

/** Prints the table. */
export function printFits(): void {
  const random = seededRandom(2026);
  const all = { idle: tally(), lambda: tally() };
  console.log(
    `\nIdle draw and conversion from simulated logs of 5 minutes, ${RUNS} homes a line; meters off by their accuracy\n`,
  );
  console.log(' days  SOC step  draw W     η   told   idle: off W  held   conversion: off  held');
  for (const days of DAYS)
    for (const socStep of SOC_STEPS)
      for (const idleW of DRAWS_W)
        for (const efficiency of EFFICIENCIES) {
          const line = { idle: tally(), lambda: tally() };
          for (let run = 0; run < RUNS; run++) {
            const truth: Truth = {
              seed: Math.floor(random() * 1e9),
              days,
              stepSeconds: 300,
              idleW,
              efficiency,
              socStep,
              batteryGain: 1 + (GAINS.battery / 1.96) * normal(random),
              batteryZeroW: (ZERO_W / 1.96) * normal(random),
              dischargeGain: 1 + (DIRECTION * GAINS.battery * normal(random)) / 1.96,
            };
            const log = simulatedStore(truth);
            const range = { fromMs: log.startMs, toMs: log.startMs + log.count * log.stepMs };
            const { figures } = report(prepare(STORE_HOME, [log]), range, 'days');
            const real = expectedOf(truth);
            for (const into of [line, all]) {
              count(into.idle, figures['losses.idle.battery']!, real.idleW);
              count(into.lambda, figures['losses.conversion.discharge']!, real.lambda);
            }
          }
          const { idle, lambda } = line;
          const part = (held: Tally) =>
            held.told === 0 ? '   –' : `${((100 * held.held) / held.told).toFixed(0).padStart(3)} %`;
          const off = ({ told, off: sum }: Tally, digits: number) =>
            told === 0 ? '–' : (sum / told).toFixed(digits);
          console.log(
            `${String(days).padStart(5)}  ${`${100 * socStep} %`.padStart(8)}  ${String(idleW).padStart(6)}  ${efficiency.toFixed(2)}  ${`${idle.told}/${RUNS}`.padStart(5)}   ${off(idle, 2).padStart(11)}  ${part(idle)}   ${off(lambda, 4).padStart(15)}  ${part(lambda)}`,
          );
        }
  for (const [name, { told, held }] of Object.entries(all))
    console.log(
      `${name}: told in ${told} homes, the interval holds the truth in ${((100 * held) / told).toFixed(1)} %`,
    );
}
