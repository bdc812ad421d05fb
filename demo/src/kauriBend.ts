import type { System } from '@long-tally/core';

type DeepReadonly<T> = T extends object ? { readonly [K in keyof T]: DeepReadonly<T[K]> } : T;

/** What stays the same when the third module is added. */
const ALWAYS = {
  inverter: {
    units: 1,
    continuousKW: 8,
    batteryOnlyKW: 6,
    surgeKW: 12,
    legs: 1,
    perLegKW: null,
    statedIdleW: 35,
  },
  coupling: 'dc',
  grid: 'connected',
  arrays: [{ name: 'north roof', kWp: 6.4, tilt: 25, azimuth: 0 }],
  exportLimitKW: 5,
} as const;
const MODULE = { moduleKWh: 5.12, usableShare: 0.9, chemistry: 'LFP', reserve: 0.1, cutOff: 0.05 } as const;
const WARRANTY = { years: 10, cycles: 6000, cycleDepth: 0.9, endCapacity: 0.7 } as const;

/** The system file of the demo home near Auckland. Everything about it is invented. */
export const KAURI_BEND = {
  schema: 'long-tally/system@1',
  name: 'Kauri Bend',
  timeZone: 'Pacific/Auckland',
  currency: 'NZD',
  latitude: -36.9,
  longitude: 174.6,
  configurations: [
    {
      from: '2022-03-01T00:00:00+13:00',
      name: 'two modules',
      battery: { modules: 2, ...MODULE, maxChargeKW: 5, maxDischargeKW: 5 },
      ...ALWAYS,
      warranty: { ...WARRANTY, throughputKWh: 30000 },
      price: { paid: 16800, incentives: 0 },
    },
    {
      from: '2023-09-12T10:00:00+12:00',
      name: 'three modules',
      battery: { modules: 3, ...MODULE, maxChargeKW: 7.5, maxDischargeKW: 7.5 },
      ...ALWAYS,
      warranty: { ...WARRANTY, throughputKWh: 45000 },
      price: { paid: 20900, incentives: 0 },
    },
  ],
  tariffs: [
    {
      from: '2022-03-01',
      standingPerDay: 1.2,
      import: [
        { rate: 0.34 },
        { rate: 0.19, days: ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'], start: '23:00', end: '07:00' },
      ],
      export: [{ rate: 0.12 }],
    },
    {
      from: '2024-04-01',
      standingPerDay: 1.35,
      import: [
        { rate: 0.362 },
        { rate: 0.204, start: '23:00', end: '07:00' },
        {
          rate: 0.398,
          days: ['mon', 'tue', 'wed', 'thu', 'fri'],
          months: [6, 7, 8],
          start: '17:00',
          end: '20:00',
        },
      ],
      export: [{ rate: 0.125 }],
    },
  ],
} as const satisfies DeepReadonly<System>;

/** What the simulation knows and the log does not say. */
export const KAURI_BEND_TRUTH = {
  seed: 20220301,
  from: '2022-03-01T00:00:00+13:00',
  to: '2025-03-01T00:00:00+13:00',
  /** Capacity lost in a year, as a share of new: about 2–3 points in field studies of measured home systems. */
  fadePerYear: 0.025,
  chargeEfficiency: 0.958,
  dischargeEfficiency: 0.956,
  /** The battery's own draw rises with a firmware of this date. */
  idleW: 22,
  idleAfterW: 41,
  firmware: '2024-05-14T09:00:00+12:00',
  solarToAc: 0.97,
  inverterTareW: 14,
  /** Gains of the meters, well within their classes. */
  gain: { solar: 0.988, load: 1.007, grid: 1.004, battery: 1.005 },
  batteryZeroW: 0.6,
  batteryFloorW: 8,
} as const;
