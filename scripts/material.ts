/**
 * Simulated homes with known truth behind meters that err as their stated accuracy says, logged as every kind of material:
 * powers, counters of coarse digits, totals of days and months, logs with glitches. How often an interval holds the truth,
 * and how wide it is against what a simple error model of the same instruments gives.
 */
import { analyse, readFile, type Column, type Quantity, type SourceLog } from '@long-tally/core';
import { seededRandom } from '../core/src/statistics/random.js';
import { countersCsv } from '../core/src/testing/counters.js';
import { statementCsv } from '../core/src/testing/statement.js';
import { simulatedStore, STORE_HOME } from '../core/src/testing/store.js';
import { GAINS, normal } from './fits.js';

const HOMES = 40;
const DAYS = 150;
const KEYS = [
  ...['solar', 'load', 'import', 'export', 'charge', 'discharge', 'losses'].map((key) => `account.${key}`),
  ...['grid', 'supply', 'solar'].map((key) => `account.selfSufficiency.${key}`),
  'account.selfConsumption',
  'account.gridFreeDays',
  'losses.roundTrip.counter',
  'losses.roundTrip.fullToFull',
  'losses.idle.battery',
];

type Material = (log: SourceLog, random: () => number) => Promise<SourceLog>;

async function readText(text: string): Promise<SourceLog> {
  const bytes = new TextEncoder().encode(text);
  async function* chunks() {
    yield await Promise.resolve(bytes);
  }
  const [read] = await readFile('home.csv', chunks, STORE_HOME);
  return read!.log;
}

/** Single values that no home has: a register read half, a value of another unit. */
function withGlitches(log: SourceLog, random: () => number): SourceLog {
  const columns = new Map<Quantity, Column>();
  for (const [quantity, column] of log.columns) {
    const values = column.values.slice();
    if (quantity !== 'soc')
      for (let k = 0; k < 4; k++)
        values[Math.floor(random() * values.length)] =
          (random() < 0.5 ? -1 : 1) * (30_000 + 400_000 * random());
    columns.set(quantity, { ...column, values });
  }
  return { ...log, columns };
}

const MATERIALS: readonly (readonly [name: string, Material])[] = [
  ['powers', (log) => Promise.resolve(log)],
  ['powers with glitches', (log, random) => Promise.resolve(withGlitches(log, random))],
  ...[0.01, 0.1, 1].map(
    (digit) => [`counters of ${digit} kWh`, (log: SourceLog) => readText(countersCsv(log, digit))] as const,
  ),
  ['totals of days', (log) => readText(statementCsv(log, (date) => date))],
  ['totals of months', (log) => readText(statementCsv(log, (date) => date.slice(0, 7)))],
];

/** Prints the table. */
export async function printMaterial(): Promise<void> {
  const random = seededRandom(13);
  const tallies = MATERIALS.map(() => new Map(KEYS.map((key) => [key, { told: 0, held: 0, width: 0 }])));
  for (let home = 0; home < HOMES; home++) {
    const exact = simulatedStore({
      seed: Math.floor(random() * 1e9),
      days: DAYS,
      stepSeconds: 300,
      idleW: 20 + 100 * random(),
      efficiency: 0.86 + 0.1 * random(),
      socStep: 0.01,
      gridCharged: random() < 0.5,
    });
    const truth = analyse(STORE_HOME, [exact]);
    const metered: SourceLog = {
      ...exact,
      columns: new Map(
        [...exact.columns].map(([quantity, column]) => {
          const gain =
            1 + ((quantity in GAINS ? GAINS[quantity as keyof typeof GAINS] : 0) / 1.96) * normal(random);
          return [quantity, { ...column, values: column.values.map((value) => value * gain) }];
        }),
      ),
    };
    for (const [m, [, make]] of MATERIALS.entries()) {
      const { figures } = analyse(STORE_HOME, [await make(metered, random)]);
      for (const key of KEYS) {
        const [figure, real] = [figures[key]!, truth.figures[key]!.value];
        if (figure.value === null || real === null) continue;
        const into = tallies[m]!.get(key)!;
        into.told++;
        into.width += figure.high! - figure.low!;
        if (figure.low! - 1e-9 <= real && real <= figure.high! + 1e-9) into.held++;
      }
    }
  }
  console.log(
    `\nWhat every kind of material gives, from ${HOMES} simulated homes of ${DAYS} days behind meters that err: share of intervals that hold the truth, and their width against that of the powers\n`,
  );
  console.log(`${''.padEnd(30)}${MATERIALS.map(([name]) => name.padStart(22)).join('')}`);
  for (const key of KEYS) {
    const plain = tallies[0]!.get(key)!;
    const cells = tallies.map((tally) => {
      const { told, held, width } = tally.get(key)!;
      if (told === 0) return '–';
      const wide = width / told / (plain.width / plain.told);
      return `${((100 * held) / told).toFixed(0)} % of ${told}, × ${wide.toFixed(1)}`;
    });
    console.log(`${key.padEnd(30)}${cells.map((cell) => cell.padStart(22)).join('')}`);
  }
}
