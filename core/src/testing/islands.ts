import type { Column, SourceLog } from '../model/log.js';
import type { Quantity } from '../model/quantity.js';
import { chargeTaken, dischargeGiven, storedAfter, type StorageParameters } from '../storage/parameters.js';
import { seededRandom } from '../statistics/random.js';
import type { System } from '../system/schema.js';

/** What is true of a simulated home with outages. */
export interface Islands {
  readonly seed: number;
  readonly days: number;
  readonly stepSeconds: number;
  /** Hours from the beginning of the log, and minutes that they last. */
  readonly outages: readonly (readonly [atHour: number, minutes: number])[];
  readonly hasVoltage: boolean;
}

/** What the simulation knows of one of its outages. */
export interface TrueOutage {
  readonly fromMs: number;
  readonly toMs: number;
  /** When the store was empty; null where it carried the home through. */
  readonly emptyMs: number | null;
}

const CAPACITY_WH = 10_000;
const CUT_OFF = 0.05;
const LIMIT_W = 4000;
const IDLE_W = 35;
const ONE_WAY = 0.955;
/** Counted from empty cells, whose own draw the simulation keeps apart. */
const CELLS: StorageParameters = {
  capacityWh: CAPACITY_WH,
  idleW: IDLE_W,
  chargeEfficiency: ONE_WAY,
  dischargeEfficiency: ONE_WAY,
  chargeW: LIMIT_W,
  limitW: LIMIT_W,
  weakBelowWh: 0,
  weakW: Infinity,
};
const START_MS = Date.UTC(2023, 0, 1);

/** The description of the simulated home. */
export const ISLAND_HOME: System = {
  schema: 'long-tally/system@1',
  name: 'Simulated islands',
  timeZone: 'UTC',
  configurations: [
    {
      from: '2020-01-01T00:00:00Z',
      battery: {
        modules: 2,
        moduleKWh: CAPACITY_WH / 2000,
        usableShare: 1,
        maxChargeKW: LIMIT_W / 1000,
        maxDischargeKW: LIMIT_W / 1000,
        reserve: 0.2,
        cutOff: CUT_OFF,
      },
      inverter: { batteryOnlyKW: 6 },
    },
  ],
};

/** Outages of so many lengths, from 7 minutes to 31 hours, spread over the days at random (seeded) times. */
export function drawnOutages(seed: number, days: number): [atHour: number, minutes: number][] {
  const random = seededRandom(seed);
  const lengths = [7, 12, 20, 45, 90, 180, 360, 660, 1080, 31 * 60];
  const apart = Math.floor((days - 40) / lengths.length);
  return lengths
    .map((minutes) => ({ minutes, key: random() }))
    .sort((a, b) => a.key - b.key)
    .map(({ minutes }, k) => [24 * (32 + k * apart) + Math.floor(random() * 24 * (apart - 3)), minutes]);
}

/**
 * A home simulated minute by minute (invented, with known truth) and logged in steps: a store that carries it until it is
 * at its cut-off, when it goes dark until the grid is back; sun held back by a full store; a grid that trickles.
 */
export function simulatedIslands(truth: Islands): { log: SourceLog; outages: TrueOutage[] } {
  const random = seededRandom(truth.seed);
  const perStep = Math.round(truth.stepSeconds / 60);
  const count = Math.floor((truth.days * 1440) / perStep);
  const names: readonly Quantity[] = ['solar', 'load', 'grid', 'battery', 'soc', 'gridV'];
  const columns = new Map(names.map((name) => [name, new Float64Array(count)]));
  const outages = truth.outages.map(
    ([atHour, minutes]): { fromMs: number; toMs: number; emptyMs: number | null } => {
      const fromMs = START_MS + atHour * 3_600_000;
      return { fromMs, toMs: fromMs + minutes * 60_000, emptyMs: null };
    },
  );
  let stored = CAPACITY_WH * 0.6;
  let [sky, use, drift, next, isDark] = [1, 1, 0, 0, false];
  for (let m = 0; m < count * perStep; m++) {
    const ms = START_MS + m * 60_000;
    const hour = (m / 60) % 24;
    if (m % 1440 === 0) {
      sky = 0.25 + 0.8 * random();
      use = 0.6 + 0.9 * random();
    }
    if (m % 20 === 0) drift = random();
    while (next < outages.length && outages[next]!.toMs <= ms) next++;
    const outage = outages[next];
    const isDown = outage !== undefined && outage.fromMs <= ms;
    if (!isDown) isDark = false;
    const sun = Math.max(0, 4000 * sky * Math.sin((Math.PI * (hour - 6)) / 12));
    const need = use * (220 + (hour > 17 && hour < 22 ? 650 : 0) + 260 * drift);
    const floor = isDown ? CUT_OFF : 0.2;
    const canGive = dischargeGiven(CELLS, stored, Infinity, floor * CAPACITY_WH, 1 / 60);
    let [solar, load, battery] = [sun, need, 0];
    if (isDown && (isDark || need - sun > canGive)) {
      if (!isDark) outage.emptyMs = ms;
      isDark = true;
      [solar, load] = [0, 0];
    } else if (sun >= need) {
      battery = -chargeTaken(CELLS, stored, sun - need, 1 / 60);
      if (isDown) solar = need - battery;
    } else {
      const trickle = isDown ? 0 : 6 + 18 * random();
      battery = Math.min(Math.max(0, need - sun - trickle), canGive);
      if (isDown) battery = need - sun;
    }
    const i = Math.floor(m / perStep);
    const grid = isDown ? 0 : load - solar - battery;
    const add = (name: Quantity, value: number) => (columns.get(name)![i]! += value / perStep);
    add('solar', solar);
    add('load', load);
    add('battery', battery);
    add('grid', Math.abs(grid) < 3 ? 0 : grid);
    add('gridV', isDown ? 0 : 230);
    if (m % perStep === 0) columns.get('soc')![i] = Math.round((100 * stored) / CAPACITY_WH) / 100;
    stored = storedAfter(CELLS, stored, Math.max(0, -battery), Math.max(0, battery), 0, 1 / 60);
    // Its own draw is topped up by the grid where there is one and the store is at its floor.
    const isKept = !isDown && stored <= floor * CAPACITY_WH;
    if (!isDark && !isKept) stored = Math.max(0, stored - IDLE_W / 60);
  }
  const digit = (name: Quantity) => (name === 'soc' ? 0.01 : name === 'gridV' ? 0.1 : 1);
  const column = (name: Quantity): Column => ({ values: columns.get(name)!, resolution: digit(name) });
  const logged = truth.hasVoltage ? names : names.filter((name) => name !== 'gridV');
  return {
    outages,
    log: {
      name: 'islands.csv',
      startMs: START_MS,
      stepMs: truth.stepSeconds * 1000,
      count,
      lumps: [],
      findings: [],
      columns: new Map(logged.map((name) => [name, column(name)])),
    },
  };
}
