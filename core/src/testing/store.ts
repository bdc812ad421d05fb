import type { Column, SourceLog } from '../model/log.js';
import type { Quantity } from '../model/quantity.js';
import { chargeTaken, dischargeGiven, storedAfter, type StorageParameters } from '../storage/parameters.js';
import { seededRandom } from '../statistics/random.js';
import type { System } from '../system/schema.js';

/** What is true of a simulated home, and how its meters see it. */
export interface Truth {
  readonly seed: number;
  readonly days: number;
  readonly stepSeconds: number;
  /** Draw of the battery from its cells, W. */
  readonly idleW: number;
  /** Round trip of charging and discharging alone, both ways alike. */
  readonly efficiency: number;
  /** Last digit of the state of charge, as a share. */
  readonly socStep: number;
  readonly batteryGain?: number;
  readonly batteryZeroW?: number;
  /** Change of that gain a year. */
  readonly gainDriftAYear?: number;
  /** How the display counts what is missing to full: 1 as it is. */
  readonly socScale?: number;
  /** How the meter reads discharge against charge. */
  readonly dischargeGain?: number;
  /** Power below which the battery's meter reads zero, W. */
  readonly floorW?: number;
  /** Days alike in sun and load, so that nothing tells idle draw from conversion. */
  readonly alike?: boolean;
  /** Charged by night from the grid for two hours every third day. */
  readonly gridCharged?: boolean;
  /** Share of the capacity lost a year. */
  readonly fadeAYear?: number;
  /**
   * Share by which the capacity swings with the temperature of a year, half of it up and half down; sun and load have
   * seasons of their own then, and the temperature is logged.
   */
  readonly season?: number;
  /** False for a monitor that counts against the nameplate and is only set anew at full. */
  readonly relearns?: boolean;
}

const CAPACITY_WH = 10_000;
const LIMIT_W = 4000;

/** The description of the simulated home. */
export const STORE_HOME: System = {
  schema: 'long-tally/system@1',
  name: 'Simulated store',
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
        reserve: 0.05,
        cutOff: 0.05,
      },
    },
  ],
};

/**
 * A home simulated in steps (invented, with known truth): a sun that differs from day to day, a load with an evening, a
 * battery that charges with a taper above 97 %, draws for itself and is read by meters that err.
 */
export function simulatedStore(truth: Truth): SourceLog {
  const {
    seed,
    days,
    stepSeconds,
    idleW,
    socStep,
    batteryGain = 1,
    gainDriftAYear: drift = 0,
    socScale = 1,
    batteryZeroW = 0,
    dischargeGain = 1,
    floorW = 0,
  } = truth;
  const random = seededRandom(seed);
  const count = Math.floor((days * 86_400) / stepSeconds);
  const hours = stepSeconds / 3600;
  const oneWay = Math.sqrt(truth.efficiency);
  const names: readonly Quantity[] = ['solar', 'load', 'grid', 'battery', 'soc'];
  const [solar, load, grid, battery, soc] = names.map(() => new Float64Array(count)) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  const temperature = new Float64Array(count);
  let stored = CAPACITY_WH * 0.6;
  let shown = 0.6;
  let [sky, use, warmer] = [1, 1, 0];
  for (let i = 0; i < count; i++) {
    const hour = (i * hours) % 24;
    const day = Math.floor((i * hours) / 24);
    const year = (i * hours) / 8766;
    const summer = Math.cos(2 * Math.PI * (year - 0.5));
    if (hour < hours / 2 && !truth.alike) {
      sky = (0.5 + 0.7 * random()) * (truth.season === undefined ? 1 : 1 + 0.3 * summer);
      use = (0.45 + 1.3 * random()) * (truth.season === undefined ? 1 : 1 - 0.2 * summer);
    }
    // Warm and cold weeks beside the season.
    if (hour < hours / 2 && truth.season !== undefined) warmer = 0.8 * warmer + 3 * (random() - 0.5);
    const sun = Math.max(0, 4200 * sky * Math.sin((Math.PI * (hour - 6)) / 12));
    const need = use * (260 + (hour > 18 && hour < 22 ? 700 : 0)) + (truth.alike ? 0 : 60 * random());
    temperature[i] = 20 + 12 * summer + warmer;
    const warmth = (temperature[i]! - 20) / 12;
    const capacity =
      CAPACITY_WH * (1 - (truth.fadeAYear ?? 0) * year) * (1 + ((truth.season ?? 0) / 2) * warmth);
    stored = Math.min(stored, capacity);
    const level = stored / capacity;
    const taper = level > 0.97 ? Math.max(0.015, (1 - level) / 0.03) : 1;
    const parameters: StorageParameters = {
      capacityWh: capacity,
      idleW,
      chargeEfficiency: oneWay,
      dischargeEfficiency: oneWay,
      chargeW: LIMIT_W * taper,
      limitW: LIMIT_W,
      weakBelowWh: 0,
      weakW: Infinity,
    };
    const topUp = truth.gridCharged && day % 3 === 0 && hour >= 2 && hour < 4 ? 1500 : 0;
    const spare = Math.max(sun - need, 0) + topUp;
    // Near empty the grid keeps the store up against its own draw.
    const kept = level < 0.04 && spare < idleW / oneWay ? idleW / oneWay : 0;
    const power =
      spare > 0 || kept > 0
        ? -chargeTaken(parameters, stored, Math.max(spare, kept), hours)
        : dischargeGiven(parameters, stored, need - sun, 0.05 * capacity, hours);
    solar[i] = sun;
    load[i] = need;
    grid[i] = need - sun - power;
    battery[i] =
      Math.abs(power) < Math.max(1, floorW)
        ? 0
        : power * (batteryGain + drift * year) * (power > 0 ? dischargeGain : 1) + batteryZeroW;
    const display = truth.relearns === false ? shown : Math.max(0, 1 - (1 - level) * socScale);
    soc[i] = socStep > 0 ? Math.round(display / socStep) * socStep : display;
    stored = storedAfter(parameters, stored, Math.max(0, -power), Math.max(0, power), idleW, hours);
    stored = Math.max(0, Math.min(capacity, stored));
    // A monitor that does not relearn counts what goes in and out against the nameplate, and knows full when it sees it.
    const moved = (power < 0 ? -power * oneWay : -power / oneWay) - idleW;
    shown = level > 0.995 ? 1 : Math.max(0, Math.min(1, shown + (moved * hours) / CAPACITY_WH));
  }
  const column = (values: Float64Array, resolution: number): Column => ({ values, resolution });
  return {
    name: 'store.csv',
    startMs: Date.UTC(2023, 0, 1),
    stepMs: stepSeconds * 1000,
    count,
    lumps: [],
    findings: [],
    columns: new Map<Quantity, Column>([
      ['solar', column(solar, 1)],
      ['load', column(load, 1)],
      ['grid', column(grid, 1)],
      ['battery', column(battery, 1)],
      ['soc', column(soc, socStep)],
      ...(truth.season === undefined ? [] : [['batteryTemp', column(temperature, 0.1)] as const]),
    ]),
  };
}

/** What the fit should find on the meter's side: draw of the cells seen from the charger, W; loss for each Wh discharged. */
export function expectedOf({ idleW, efficiency }: Truth): { idleW: number; lambda: number } {
  return { idleW: idleW / Math.sqrt(efficiency), lambda: 1 / efficiency - 1 };
}
