/**
 * Simulated homes whose sun is held down, at an inverter's rating, an export limit or a full battery: how far what is told of
 * the loss lies from the truth, and how often its interval holds it.
 */
import { endMs, prepare, report } from '@long-tally/core';
import { simulatedSun, type SunTruth } from '../core/src/testing/sun.js';
import { count, tally } from './fits.js';

const HOMES = 6;
const BASE: SunTruth = {
  seed: 1,
  days: 365,
  stepSeconds: 900,
  coupling: 'ac',
  kWp: 7,
  ratingKW: 5,
  exportLimitKW: null,
  hasGrid: true,
  capacityKWh: 10,
};
const LINES: readonly (readonly [string, Partial<SunTruth>, 'clipped' | 'heldBack'])[] = [
  ['7 kW behind 5 kW', {}, 'clipped'],
  ['7 kW behind 3.68 kW', { ratingKW: 3.68 }, 'clipped'],
  ['the same at 30° north', { ratingKW: 3.68, latitude: 30 }, 'clipped'],
  ['7 kW behind a hybrid of 4 kW', { coupling: 'dc', ratingKW: 4 }, 'clipped'],
  ['nothing sold', { kWp: 5, ratingKW: 6, exportLimitKW: 0 }, 'heldBack'],
  ['2 kW sold at most', { ratingKW: 7, exportLimitKW: 2 }, 'heldBack'],
  ['off the grid', { coupling: 'dc', kWp: 4, ratingKW: 6, hasGrid: false }, 'heldBack'],
];

/** Prints the table. */
export function printSuns(): void {
  console.log(`\nSolar that was not made, ${HOMES} homes a line, half of 200 days and half of a year\n`);
  for (const [name, change, which] of LINES) {
    const line = tally();
    let truth = 0;
    for (let seed = 1; seed <= HOMES; seed++) {
      const home = simulatedSun({ ...BASE, ...change, seed, days: seed % 2 === 0 ? 365 : 200 });
      const range = { fromMs: home.log.startMs, toMs: endMs(home.log) };
      count(
        line,
        report(prepare(home.system, [home.log]), range).figures[`solar.${which}`]!,
        home.lost[which],
      );
      truth += home.lost[which];
    }
    console.log(
      `${name.padEnd(30)} ${which.padEnd(9)} off by ${((100 * line.off) / truth).toFixed(1).padStart(6)} %, held ${line.held}/${line.told}`,
    );
  }
}
