import { describe, expect, test } from '@jest/globals';
import { described } from './described.js';

describe('a configuration in words', () => {
  test('says each part with its units, and what is not described', () => {
    expect(
      described({
        from: '2024-01-01T00:00:00Z',
        battery: {
          modules: 2,
          moduleKWh: 5.12,
          usableShare: 0.9,
          chemistry: 'LFP',
          reserve: 0.1,
          cutOff: 0.05,
        },
        inverter: { units: 1, continuousKW: 8, batteryOnlyKW: 6, perLegKW: null, statedIdleW: 35 },
        coupling: 'dc',
        arrays: [
          { name: 'north roof', kWp: 6.4, tilt: 25, azimuth: 0 },
          { kWp: 3, inverterKW: 2.5 },
        ],
        exportLimitKW: 5,
        warranty: { years: 10, throughputKWh: 30000, cycles: 6000, cycleDepth: 0.9, endCapacity: 0.7 },
      }),
    ).toEqual([
      'Battery: 2 modules, 5.12 kWh nameplate each, 90 % of it usable, LFP, reserve 10 %, cut-off at 5 %.',
      'Inverter: 1 unit, 8 kW continuous, 6 kW on the battery alone, idle draw stated as 35 W, DC-coupled.',
      'Panels: north roof 6.4 kWp, tilt 25°, azimuth 0°; 3 kWp, inverter of its own 2.5 kW.',
      'Export limit: 5 kW.',
      'Warranty: 10 years, 30,000 kWh of throughput, 6,000 cycles of 90 % depth, at least 70 % of the capacity at the end.',
    ]);
    expect(described({ from: '2024-01-01T00:00:00Z', battery: {}, grid: 'none' })).toEqual([
      'Battery: not described.',
      'Inverter: not described.',
      'Panels: not described.',
      'No grid.',
    ]);
  });
});
