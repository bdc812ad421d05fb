/**
 * Simulated homes with known truth behind meters that err as their stated accuracy says, gain and zero: for every figure
 * how far the truth lies from the value in half-widths of its interval. Of intervals at 95 % the root mean square is
 * 1 / 1.96 = 0.51; much less says that they are wider than what the meters leave open, much more that they are too narrow.
 * Errors that these homes do not have (netting within steps, a monitor of charge that errs) widen intervals here.
 */
import { analyse, type Column, type Quantity, type SourceLog, type System } from '@long-tally/core';
import { seededRandom } from '../core/src/statistics/random.js';
import { simulatedStore, STORE_HOME } from '../core/src/testing/store.js';
import { GAINS, normal, ZERO_W } from './fits.js';

const HOMES = 100;
const DAYS = 120;
/** With a tariff by hours, so that money is told too. */
const HOME: System = {
  ...STORE_HOME,
  currency: 'EUR',
  tariffs: [
    {
      from: '2020-01-01',
      standingPerDay: 0.5,
      import: [
        { rate: 0.3 },
        { rate: 0.1, start: '00:00', end: '05:00' },
        { rate: 0.42, start: '16:00', end: '19:00', days: ['mon', 'tue', 'wed', 'thu', 'fri'] },
      ],
      export: [{ rate: 0.1 }],
    },
  ],
};
/** Intervals far from theirs are pointed at. */
const [NARROW, WIDE] = [0.7, 0.25];

/** What a meter of each quantity shows: its gain all the time, its zero while something flows. */
function metered(exact: SourceLog, random: () => number): SourceLog {
  const columns = [...exact.columns].map(([quantity, column]): [Quantity, Column] => {
    if (!(quantity in GAINS)) return [quantity, column];
    const accuracy = GAINS[quantity as keyof typeof GAINS];
    const gain = 1 + (accuracy / 1.96) * normal(random);
    const zero = (ZERO_W / 1.96) * normal(random);
    const values = column.values.map((value) => (Math.abs(value) < 1 ? value : value * gain + zero));
    return [quantity, { ...column, values }];
  });
  return { ...exact, columns: new Map(columns) };
}

/** Prints the table. */
export function printCalibration(): void {
  const random = seededRandom(29);
  const off = new Map<string, number[]>();
  for (let home = 0; home < HOMES; home++) {
    const exact = simulatedStore({
      seed: Math.floor(random() * 1e9),
      days: DAYS,
      stepSeconds: 300,
      idleW: 20 + 100 * random(),
      efficiency: 0.86 + 0.1 * random(),
      socStep: 0.01,
      gridCharged: home % 2 === 0,
    });
    const truth = analyse(HOME, [exact]).figures;
    const told = analyse(HOME, [metered(exact, random)]).figures;
    for (const [key, { value, low, high, unit }] of Object.entries(told)) {
      const real = truth[key]?.value ?? null;
      if (value === null || real === null || unit === 'date' || low === high) continue;
      const half = real > value ? high! - value : value - low!;
      const list = off.get(key) ?? [];
      off.set(key, list);
      // Off by anything where the interval leaves nothing counts as ten half-widths.
      list.push(real === value ? 0 : Math.max(-10, Math.min(10, (real - value) / Math.max(half, 1e-12))));
    }
  }
  console.log(
    `\nHow far the truth lies from each value, in half-widths of its interval, from ${HOMES} simulated homes of ${DAYS} days\n`,
  );
  for (const [key, list] of off) {
    const rms = Math.sqrt(list.reduce((sum, z) => sum + z * z, 0) / list.length);
    // What the meters do not touch (a share of the charge's course) says nothing here.
    if (rms < 0.02) continue;
    const held = list.filter((z) => Math.abs(z) <= 1 + 1e-9).length / list.length;
    const mark = rms > NARROW ? '  too narrow' : rms < WIDE ? '  wide' : '';
    console.log(
      `${key.padEnd(40)}${rms.toFixed(2).padStart(6)}${`${(100 * held).toFixed(0)} % of ${list.length}`.padStart(14)}${mark}`,
    );
  }
}
