import type { Column, SourceLog } from '../model/log.js';
import type { Quantity } from '../model/quantity.js';
import { chargeTaken, dischargeGiven, storedAfter, type StorageParameters } from '../storage/parameters.js';
import { seededRandom } from '../statistics/random.js';
import type { System } from '../system/schema.js';

/** What is true of a simulated home whose sun is held down. */
export interface SunTruth {
  readonly seed: number;
  readonly days: number;
  readonly stepSeconds: number;
  readonly coupling: 'ac' | 'dc';
  readonly kWp: number;
  /** AC rating: of the arrays' own inverter, or of the hybrid inverter. */
  readonly ratingKW: number;
  /** Null where everything may be sold; 0 for nothing. */
  readonly exportLimitKW: number | null;
  readonly hasGrid: boolean;
  readonly capacityKWh: number;
  readonly latitude?: number;
  /** Kept for outages while there is a grid, a share; a tenth where nothing is said. */
  readonly reserve?: number;
  /** What the battery itself draws; 30 W where nothing is said. */
  readonly idleW?: number;
  /** A car that takes so much from 23:00 on, at 7 kW. */
  readonly carKWhADay?: number;
  /** Appliances of up to so many W that come for 5 to 60 minutes, fifteen times a day. */
  readonly appliancesW?: number;
  /** Behind the AC side: charged from the grid up to this share between midnight and four, and not discharged then. */
  readonly chargedByNightTo?: number;
}

/** What the simulation knows was not made, or gained, kWh. */
export interface SunLost {
  readonly clipped: number;
  readonly heldBack: number;
  readonly dcGain: number;
}

const START_MS = Date.UTC(2023, 0, 1);
export const EFFICIENCY = 0.96;
const ONE_WAY = 0.97;
const CHARGE_W = 3500;
const CAR_KW = 7;

/**
 * A home simulated minute by minute (invented, with known truth) under a sky of clear, mixed and dull days at a latitude,
 * with panels above the inverter's rating, a limit of export or none to sell to, and a battery that fills.
 */
export function simulatedSun(truth: SunTruth): { log: SourceLog; system: System; lost: SunLost } {
  const { seed, days, coupling, hasGrid, latitude = 45 } = truth;
  const random = seededRandom(seed);
  const perStep = Math.round(truth.stepSeconds / 60);
  const count = Math.floor((days * 1440) / perStep);
  const names: readonly Quantity[] = [
    'solar',
    'load',
    'grid',
    coupling === 'dc' ? 'batteryDc' : 'battery',
    'soc',
  ];
  const columns = new Map(names.map((name) => [name, new Float64Array(count)]));
  const rated = 1000 * truth.ratingKW;
  const limitW = truth.exportLimitKW === null ? Infinity : 1000 * truth.exportLimitKW;
  const capacityWh = 1000 * truth.capacityKWh;
  const parameters: StorageParameters = {
    capacityWh,
    idleW: truth.idleW ?? 30,
    chargeEfficiency: ONE_WAY,
    dischargeEfficiency: ONE_WAY,
    chargeW: CHARGE_W,
    limitW: CHARGE_W,
    weakBelowWh: 0,
    weakW: Infinity,
  };
  const lost = { clipped: 0, heldBack: 0, dcGain: 0 };
  const phi = (latitude * Math.PI) / 180;
  let stored = 0.5 * capacityWh;
  let [clear, cloudy, cloud, use] = [1, 0, 0, 1];
  // Of its own, so that a home with appliances has the sky of the one without.
  const chance = seededRandom(seed + 1);
  let [applianceW, applianceMinutes] = [0, 0];
  for (let m = 0; m < count * perStep; m++) {
    const hour = (m / 60) % 24;
    if (m % 1440 === 0) {
      const kind = random();
      [clear, cloudy] =
        kind < 0.45 ? [0.95 + 0.08 * random(), 0] : kind < 0.8 ? [0.85, 0.5] : [0.15 + 0.35 * random(), 0.1];
      use = 0.6 + 0.9 * random();
    }
    if (m % 5 === 0) cloud = Math.max(0, Math.min(1, 0.85 * cloud + 0.3 * (random() - 0.35)));
    const declination = -0.4093 * Math.cos((2 * Math.PI * (m / 1440 + 10)) / 365.25);
    const angle = (Math.PI * (hour - 12)) / 12;
    const height =
      Math.sin(phi) * Math.sin(declination) + Math.cos(phi) * Math.cos(declination) * Math.cos(angle);
    const sky = clear * (1 - cloudy * cloud);
    const could = height > 0 ? 1000 * truth.kWp * 0.95 * height ** 1.15 * sky : 0;
    const car = (60 * (truth.carKWhADay ?? 0)) / CAR_KW;
    if (--applianceMinutes <= 0)
      [applianceW, applianceMinutes] =
        truth.appliancesW !== undefined && chance() < 15 / 1440
          ? [truth.appliancesW * (0.2 + 0.8 * chance()), 5 + 55 * chance()]
          : [0, 0];
    const need =
      applianceW +
      use * (300 + (hour > 17 && hour < 22 ? 700 : 0)) +
      ((hour - 23) * 60 >= 0 && (hour - 23) * 60 < car ? 1000 * CAR_KW : 0);
    const isNight = truth.chargedByNightTo !== undefined && hour < 4;
    let solar: number;
    let battery: number;
    if (coupling === 'ac') {
      const after = Math.min(could, rated);
      lost.clipped += (could - after) / 60;
      const spare = after - need;
      battery = spare > 0 ? -chargeTaken(parameters, stored, spare, 1 / 60) : 0;
      if (isNight) {
        const missing = Math.max(0, truth.chargedByNightTo * capacityWh - stored) * 60;
        battery = -chargeTaken(parameters, stored, Math.max(spare, Math.min(CHARGE_W, missing)), 1 / 60);
      }
      const out = Math.max(0, spare + Math.max(battery, -Math.max(0, spare)));
      const sold = hasGrid ? Math.min(out, limitW) : 0;
      lost.heldBack += (out - sold) / 60;
      solar = after - (out - sold);
    } else {
      // At the inverter's DC input: what the AC side does not take goes into the battery, what it cannot take is lost.
      const passes = Math.min(rated, hasGrid ? need + limitW : need) / EFFICIENCY;
      const charge = chargeTaken(
        parameters,
        stored,
        Math.max(0, could - Math.min(passes, need / EFFICIENCY)),
        1 / 60,
      );
      const used = Math.min(could, passes + charge);
      const cut = could - used;
      if (cut > 1 && passes * EFFICIENCY >= rated - 1) lost.clipped += cut / 60;
      else lost.heldBack += cut / 60;
      if (
        could - charge >= rated / EFFICIENCY - 1 ||
        (could > rated / EFFICIENCY && charge > 0 && used - charge >= passes - 1)
      )
        lost.dcGain += Math.min(charge, Math.max(0, used - rated / EFFICIENCY)) / 60;
      solar = used;
      battery = -charge;
    }
    const made = coupling === 'ac' ? solar : EFFICIENCY * Math.max(0, solar + Math.min(0, battery));
    const short = need - made + (coupling === 'ac' ? -Math.min(0, battery) : 0);
    if (short > 1 && battery === 0 && !isNight) {
      const floor = hasGrid ? (truth.reserve ?? 0.1) * capacityWh : 0;
      battery = dischargeGiven(
        parameters,
        stored,
        coupling === 'ac' ? short : short / EFFICIENCY,
        floor,
        1 / 60,
      );
    }
    const given = coupling === 'ac' ? solar + battery : EFFICIENCY * (solar + battery);
    const grid = hasGrid ? need - given : 0;
    const load = hasGrid ? need : Math.min(need, Math.max(0, given));
    const i = Math.floor(m / perStep);
    const add = (name: Quantity, value: number) => (columns.get(name)![i]! += value / perStep);
    add('solar', solar);
    add('load', load);
    add('grid', grid);
    add(coupling === 'dc' ? 'batteryDc' : 'battery', battery);
    if (m % perStep === 0) columns.get('soc')![i] = Math.round((100 * stored) / capacityWh) / 100;
    stored = storedAfter(
      parameters,
      stored,
      Math.max(0, -battery),
      Math.max(0, battery),
      parameters.idleW,
      1 / 60,
    );
    stored = Math.max(0, Math.min(capacityWh, stored));
  }
  const column = (name: Quantity): Column => ({
    values: columns.get(name)!,
    resolution: name === 'soc' ? 0.01 : 1,
  });
  const arrays = [
    { name: 'roof', kWp: truth.kWp, ...(coupling === 'ac' ? { inverterKW: truth.ratingKW } : {}) },
  ];
  return {
    lost: { clipped: lost.clipped / 1000, heldBack: lost.heldBack / 1000, dcGain: lost.dcGain / 1000 },
    system: {
      schema: 'long-tally/system@1',
      name: 'Simulated sun',
      timeZone: 'UTC',
      latitude,
      longitude: 0,
      configurations: [
        {
          from: '2020-01-01T00:00:00Z',
          coupling,
          grid: hasGrid ? 'connected' : 'none',
          battery: {
            modules: 1,
            moduleKWh: truth.capacityKWh,
            usableShare: 1,
            maxChargeKW: CHARGE_W / 1000,
            maxDischargeKW: CHARGE_W / 1000,
            reserve: truth.reserve ?? 0.1,
            cutOff: 0.05,
          },
          inverter: { continuousKW: coupling === 'dc' ? truth.ratingKW : 5 },
          arrays,
          ...(truth.exportLimitKW === null ? {} : { exportLimitKW: truth.exportLimitKW }),
        },
      ],
    },
    log: {
      name: 'sun.csv',
      startMs: START_MS,
      stepMs: truth.stepSeconds * 1000,
      count,
      lumps: [],
      findings: [],
      columns: new Map(names.map((name) => [name, column(name)])),
    },
  };
}
