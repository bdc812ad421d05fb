import type { System } from '@long-tally/core';

/** The invented home whose logs the bench measures with. */
export const BENCH_HOME: System = {
  schema: 'long-tally/system@1',
  name: 'Bench',
  timeZone: 'Pacific/Auckland',
  latitude: -36.9,
  longitude: 174.6,
  configurations: [
    {
      from: '2014-01-01T00:00:00Z',
      battery: {
        modules: 2,
        moduleKWh: 5,
        usableShare: 0.9,
        maxChargeKW: 5,
        maxDischargeKW: 5,
        reserve: 0.1,
      },
      inverter: { batteryOnlyKW: 6 },
    },
  ],
};
