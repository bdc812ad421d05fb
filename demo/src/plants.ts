import type { System } from '@long-tally/core';
import type { Plane } from './sun.js';
import type { Climate } from './weather.js';

/** A home to simulate: its place, its parts and what its log does not say. Everything about it is invented. */
export interface Plant {
  readonly id: string;
  readonly about: string;
  readonly system: System;
  readonly seed: number;
  readonly from: string;
  readonly to: string;
  /** Day of the year with the most warmth. */
  readonly warmest: number;
  readonly climate: Climate;
  readonly planes: readonly Plane[];
  readonly capacityWh: number;
  readonly limitW: number;
  readonly chargeEfficiency: number;
  readonly dischargeEfficiency: number;
  /** The battery's own draw, from its cells. */
  readonly idleW: number;
  /** What the inverters draw to run at all, from the DC side. */
  readonly tareW: number;
  /** AC from DC; 1 where the solar is measured on the AC side. */
  readonly solarToAc: number;
  readonly floor: number;
  readonly loadShare: number;
  readonly heatsWithPower: boolean;
  /** What a car draws in a minute of a day, W. */
  readonly carW?: (dayNumber: number, minute: number) => number;
}

/** A staffed hut in the Julian Alps without any grid: two inverters side by side that idle heavily, batteries in the cold. */
export const HUT: Plant = {
  id: 'koca-pod-skalo',
  about:
    'A staffed mountain hut in the Julian Alps without any grid: two inverters that idle heavily, a long winter, batteries in a cold room with their temperature logged.',
  seed: 20221001,
  from: '2022-10-01T00:00:00+02:00',
  to: '2024-10-01T00:00:00+02:00',
  warmest: 205,
  climate: { meanC: 4.5, swingC: 8.2, sky: 0.55 },
  planes: [
    { kWp: 9.6, tilt: 65, azimuth: 175 },
    { kWp: 4.8, tilt: 65, azimuth: 235 },
  ],
  capacityWh: 28_800,
  limitW: 9000,
  chargeEfficiency: 0.972,
  dischargeEfficiency: 0.958,
  idleW: 24,
  tareW: 196,
  solarToAc: 0.955,
  floor: 0.1,
  loadShare: 0.62,
  heatsWithPower: false,
  system: {
    schema: 'long-tally/system@1',
    name: 'Koča pod Skalo',
    timeZone: 'Europe/Ljubljana',
    currency: 'EUR',
    latitude: 46.38,
    longitude: 13.83,
    configurations: [
      {
        from: '2022-10-01T00:00:00+02:00',
        name: 'two inverters',
        battery: {
          modules: 6,
          moduleKWh: 5,
          usableShare: 0.96,
          chemistry: 'LFP',
          maxChargeKW: 9,
          maxDischargeKW: 9,
          reserve: 0.1,
          cutOff: 0.1,
        },
        inverter: { units: 2, continuousKW: 5, batteryOnlyKW: 9, surgeKW: 18, legs: 1, statedIdleW: 60 },
        coupling: 'dc',
        grid: 'none',
        arrays: [
          { name: 'south wall', kWp: 9.6, tilt: 65, azimuth: 175 },
          { name: 'west wall', kWp: 4.8, tilt: 65, azimuth: 235 },
        ],
        warranty: { years: 8, cycles: 5000, cycleDepth: 0.8, endCapacity: 0.7 },
      },
    ],
  },
};

/** A terrace house in Porto, the battery added later on the AC side; its inverter's log and its utility meter disagree a little. */
export const TERRACE: Plant = {
  id: 'casa-da-azenha',
  about:
    'A terrace house in Porto with a battery added on the AC side: the inverter’s log and a download of the utility meter, which disagree a little.',
  seed: 20230401,
  from: '2023-04-01T00:00:00+01:00',
  to: '2024-10-01T00:00:00+01:00',
  warmest: 215,
  climate: { meanC: 15.4, swingC: 5.2, sky: 0.63 },
  planes: [{ kWp: 3.9, tilt: 28, azimuth: 195 }],
  capacityWh: 8600,
  limitW: 3300,
  chargeEfficiency: 0.945,
  dischargeEfficiency: 0.942,
  idleW: 17,
  tareW: 0,
  solarToAc: 1,
  floor: 0.08,
  loadShare: 0.8,
  heatsWithPower: true,
  system: {
    schema: 'long-tally/system@1',
    name: 'Casa da Azenha',
    timeZone: 'Europe/Lisbon',
    currency: 'EUR',
    latitude: 41.15,
    longitude: -8.61,
    configurations: [
      {
        from: '2023-04-01T00:00:00+01:00',
        name: 'battery retrofit',
        battery: {
          modules: 1,
          moduleKWh: 9.2,
          usableShare: 0.935,
          chemistry: 'LFP',
          maxChargeKW: 3.3,
          maxDischargeKW: 3.3,
          reserve: 0.08,
          cutOff: 0.05,
        },
        inverter: { units: 1, continuousKW: 3.6, batteryOnlyKW: 3.3, legs: 1 },
        coupling: 'ac',
        arrays: [{ name: 'back roof', kWp: 3.9, tilt: 28, azimuth: 195 }],
        warranty: { years: 10, throughputKWh: 27600, endCapacity: 0.7 },
      },
    ],
    tariffs: [
      {
        from: '2023-04-01',
        standingPerDay: 0.31,
        import: [{ rate: 0.172 }, { rate: 0.098, start: '22:00', end: '08:00' }],
        export: [{ rate: 0.048 }],
      },
      {
        from: '2024-01-01',
        standingPerDay: 0.33,
        taxShare: 0.06,
        import: [
          { rate: 0.181 },
          { rate: 0.104, start: '22:00', end: '08:00' },
          { rate: 0.42, dayClass: 'dear', start: '08:00', end: '22:00' },
        ],
        dayClasses: {
          dear: ['2024-01-09', '2024-01-10', '2024-01-18', '2024-02-06', '2024-02-27', '2024-03-05'],
        },
        exportScheme: 'net',
        settleMonth: 3,
        settleRate: 0.031,
      },
    ],
  },
};
