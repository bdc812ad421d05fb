import { counted } from '../model/counted.js';
import type { SourceLog } from '../model/log.js';
import type { System } from '../system/schema.js';
import { HAND_HOME, hourlyLog } from './handHome.js';
import { ISLAND_HOME, simulatedIslands } from './islands.js';
import { legHome, simulatedLegs } from './legs.js';
import { simulatedStore, STORE_HOME } from './store.js';
import { simulatedSun } from './sun.js';

const day = (hour: number) => hour % 24;
const lived = (hour: number) => ({
  solar: day(hour) > 8 && day(hour) < 16 ? 3000 : 0,
  load: 600,
  grid: day(hour) > 8 && day(hour) < 16 ? -900 : 100,
  battery: day(hour) > 8 && day(hour) < 16 ? -1500 : 500,
  soc: 0.5 + 0.3 * Math.sin((2 * Math.PI * hour) / 24),
});
const BARE: System = { schema: 'long-tally/system@1', name: 'Bare', timeZone: 'UTC' };
const OFF_GRID: System = {
  ...HAND_HOME,
  configurations: [{ ...HAND_HOME.configurations![0]!, grid: 'none' }],
};
const STORE = { seed: 3, stepSeconds: 900, idleW: 60, efficiency: 0.9, socStep: 0.01 };
const SUN = { seed: 4, days: 40, stepSeconds: 900, kWp: 7, hasGrid: true, capacityKWh: 10 };
const sun = simulatedSun({ ...SUN, coupling: 'ac', ratingKW: 7, exportLimitKW: 2 });
const hybrid = simulatedSun({ ...SUN, coupling: 'dc', ratingKW: 4, exportLimitKW: null });
const islands = simulatedIslands({
  ...{ seed: 5, days: 40, stepSeconds: 900, hasVoltage: true },
  outages: [
    [200, 90],
    [500, 1500],
  ],
});
const LEGS = { seed: 6, days: 6, stepSeconds: 60, perLegW: 2400 };

/** Homes and logs from an hour to half a year, with much and with little known; invented. */
export const ANY_HOMES: readonly (readonly [string, System, SourceLog])[] = [
  ...[1, 2, 7, 40].map(
    (days) => [`a home of ${counted(days, 'day')}`, HAND_HOME, hourlyLog(days, lived)] as const,
  ),
  ...[1, 3].map((days) => [`a bare home of ${counted(days, 'day')}`, BARE, hourlyLog(days, lived)] as const),
  ['only a load', BARE, hourlyLog(2, () => ({ load: 400 }))],
  ['a load that never flows', HAND_HOME, hourlyLog(2, () => ({ load: 0, solar: 0, grid: 0 }))],
  ['one that knows nothing', HAND_HOME, hourlyLog(2, () => ({ load: NaN }))],
  ['one without a grid', OFF_GRID, hourlyLog(5, (hour) => ({ ...lived(hour), grid: 0 }))],
  [
    'one with an outage',
    HAND_HOME,
    hourlyLog(5, (hour) => ({ ...lived(hour), gridUp: hour === 30 ? 0 : 1 })),
  ],
  ...[3, 20, 180].map(
    (days) => [`a store of ${days} days`, STORE_HOME, simulatedStore({ ...STORE, days })] as const,
  ),
  ['a limit of export', sun.system, sun.log],
  ['a battery on the DC side', hybrid.system, hybrid.log],
  ['one that goes dark', ISLAND_HOME, islands.log],
  ['one of two legs alone', legHome(2400), simulatedLegs(LEGS).log],
];

/** What a program says that was asked for what it does not have; no reader is to meet it. */
export const PROGRAM_WORDS = /\b(?:undefined|NaN|null|Infinity)\b|\[object|\de[-+]\d/;

/** A plural beside a one. “1 of”, “1 is”, “1 inverter carries” are none, nor are units. */
export const PLURAL_OF_ONE =
  /(?<![\d.,–-])1 (?:[a-z]{3,} )?(?!(?:is|was|has|less|this|its|does|carries|holds)\b)[a-z]{2,}s\b/;
