import type { Column, SourceLog } from '../model/log.js';
import type { Quantity } from '../model/quantity.js';
import { seededRandom } from '../statistics/random.js';
import type { System } from '../system/schema.js';

/** A simulated home on two legs without a grid (invented, with known truth). */
export interface LegTruth {
  readonly seed: number;
  readonly days: number;
  /** Step of the log, s. */
  readonly stepSeconds: number;
  /** What a leg carries before the output stops, W. */
  readonly perLegW: number;
}

/** An output bears too much for so long. */
const BEARS_S = 4;
const DAY_S = 86_400;
/** Running power, and how many times of it a first second takes. */
const APPLIANCES = [
  { watts: 1500, start: 1, seconds: 190, often: 5 },
  { watts: 1200, start: 1, seconds: 300, often: 3 },
  { watts: 900, start: 3.4, seconds: 240, often: 8 },
  { watts: 1900, start: 1, seconds: 1500, often: 2 },
  { watts: 120, start: 6, seconds: 1100, often: 24 },
] as const;

export function legHome(perLegW: number): System {
  return {
    schema: 'long-tally/system@1',
    name: 'Simulated legs',
    timeZone: 'UTC',
    configurations: [
      {
        from: '2020-01-01T00:00:00Z',
        battery: { modules: 2, moduleKWh: 10, usableShare: 1, cutOff: 0.05 },
        inverter: { continuousKW: (2 * perLegW) / 1000, legs: 2, perLegKW: perLegW / 1000 },
        coupling: 'ac',
        grid: 'none',
        arrays: [],
      },
    ],
  };
}

/** The home's log as means over its step, and the instants at which its output stopped, with the seconds dark. */
export function simulatedLegs({ seed, days, stepSeconds, perLegW }: LegTruth): {
  readonly log: SourceLog;
  readonly stops: readonly { readonly atMs: number; readonly darkS: number }[];
} {
  const random = seededRandom(seed);
  const startMs = Date.UTC(2024, 0, 1);
  const seconds = days * DAY_S;
  const legs = [new Float64Array(seconds), new Float64Array(seconds)] as const;
  for (const leg of legs) leg.fill(60 + 80 * random());
  for (let day = 0; day < days; day++)
    for (const { watts, start, seconds: lasts, often } of APPLIANCES)
      for (let k = 0; k < often; k++) {
        const leg = legs[random() < 0.5 ? 0 : 1];
        const from = day * DAY_S + Math.floor(random() * (DAY_S - lasts));
        leg[from]! += watts * start;
        for (let s = from + 1; s < from + lasts; s++) leg[s]! += watts;
      }
  const stops: { atMs: number; darkS: number }[] = [];
  let over = 0;
  for (let s = 0; s < seconds; s++) {
    over = Math.max(legs[0][s]!, legs[1][s]!) > perLegW ? over + 1 : 0;
    if (over <= BEARS_S) continue;
    const darkS = 90 + Math.floor(300 * random());
    const end = Math.min(seconds, s + 1 + darkS);
    for (const leg of legs) leg.fill(0, s + 1, end);
    if (s + 1 < seconds) stops.push({ atMs: startMs + (s + 1) * 1000, darkS });
    // What was too much is switched off before the output comes back.
    for (const leg of legs)
      for (let t = end; t < Math.min(seconds, end + 2000); t++) leg[t] = Math.min(leg[t]!, 0.6 * perLegW);
    over = 0;
    s = end;
  }
  const count = Math.floor(seconds / stepSeconds);
  const mean = (values: Float64Array) =>
    Float64Array.from({ length: count }, (_, i) => {
      let sum = 0;
      for (let s = i * stepSeconds; s < (i + 1) * stepSeconds; s++) sum += values[s]!;
      return sum / stepSeconds;
    });
  const [leg1, leg2] = [mean(legs[0]), mean(legs[1])];
  const load = leg1.map((watts, i) => watts + leg2[i]!);
  const column = (values: Float64Array): Column => ({ values, resolution: 1 });
  return {
    stops,
    log: {
      name: 'legs.csv',
      startMs,
      stepMs: stepSeconds * 1000,
      count,
      lumps: [],
      findings: [],
      columns: new Map<Quantity, Column>([
        ['load', column(load)],
        ['leg1', column(leg1)],
        ['leg2', column(leg2)],
        ['battery', column(load)],
        ['soc', { values: new Float64Array(count).fill(0.6), resolution: 0.01 }],
      ]),
    },
  };
}
