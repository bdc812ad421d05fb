import { describe, expect, test } from '@jest/globals';
import { figureEntry } from '../../report/registry.js';
import { analyse } from '../../report/report.js';
import type { Report } from '../../report/reportFormat.js';
import { read, systemOf, TEN_KWH, valueOf } from '../../testing/logs.js';
import type { System } from '../../system/schema.js';

const START = Date.UTC(2024, 4, 1);
const home = systemOf(TEN_KWH);
const withArrays: System = {
  ...home,
  configurations: [
    {
      ...home.configurations![0]!,
      arrays: [
        { name: 'east', kWp: 3 },
        { name: 'west', kWp: 2 },
      ],
    },
  ],
};

/** Rows of 15 minutes from columns by name, invented. */
async function reportOf(
  count: number,
  columns: Readonly<Record<string, (i: number) => number | ''>>,
  system: System = home,
): Promise<Report> {
  const names = Object.keys(columns);
  const rows = Array.from({ length: count }, (_, i) =>
    [new Date(START + i * 900_000).toISOString(), ...names.map((name) => columns[name]!(i))].join(','),
  );
  return analyse(system, [(await read(`time,${names.join(',')}\n${rows.join('\n')}\n`)).log]);
}

describe('parts of the home that are logged by name', () => {
  test('have their energy and their share, summed by hand', async () => {
    const report = await reportOf(96, {
      load_w: () => 1000,
      car_load_w: (i) => (i < 8 ? 7000 : 0),
      pool_load_w: (i) => (i % 2 ? 400 : ''),
    });
    // Two hours of 7 kW; 400 W over the half of the day that is logged.
    expect(valueOf(report, 'load.part.car')).toBeCloseTo(14, 9);
    expect(report.figures['load.part.car']!.basis.shareOfWhole).toBeCloseTo(14 / 24, 9);
    expect(report.figures['load.part.pool']!.basis.coverage).toBeGreaterThan(0.49);
    expect(figureEntry('load.part.car')).toMatchObject({ label: 'Load, car', unit: 'kWh' });
    const { value, low, high } = report.figures['load.part.car']!;
    // 2 % of the reading and 5 W for two hours, which is nothing beside it.
    expect(high! - value!).toBeCloseTo(Math.hypot(0.28, 0.011), 2);
    expect(value! - low!).toBeCloseTo(high! - value!, 9);
  });

  test('add up to the solar of a home whose arrays alone are logged, and give its yield', async () => {
    const report = await reportOf(
      96,
      {
        east_solar_w: (i) => (i < 48 ? 1200 : 0),
        west_solar_w: (i) => (i < 48 ? 0 : 800),
        load_w: () => 500,
      },
      withArrays,
    );
    expect(valueOf(report, 'solar.part.east')).toBeCloseTo(14.4, 9);
    expect(valueOf(report, 'solar.part.west')).toBeCloseTo(9.6, 9);
    expect(valueOf(report, 'account.solar')).toBeCloseTo(24, 9);
    expect(valueOf(report, 'solar.specificYield')).toBeCloseTo(24 / 5, 9);
  });

  test('do not take the place of a meter of the whole', async () => {
    const report = await reportOf(96, { solar_w: () => 900, east_solar_w: () => 300 });
    expect(valueOf(report, 'account.solar')).toBeCloseTo(21.6, 9);
  });

  test('legs alone are the load', async () => {
    const report = await reportOf(96, {
      leg1_w: () => 700,
      leg2_w: () => 300,
      grid_w: () => 1000,
      solar_w: () => 0,
      battery_w: () => 0,
    });
    expect(valueOf(report, 'account.load')).toBeCloseTo(24, 9);
    expect(valueOf(report, 'account.selfSufficiency.grid')).toBeCloseTo(0, 9);
  });
});

describe('the base load', () => {
  test('is the 5th percentile of the half hours from midnight to five', async () => {
    // By hand: in every night the half hours stand at 200, 210, … 290 W, ten of them: the 5th percentile is 200 W.
    const report = await reportOf(96 * 20, {
      load_w: (i) => (i % 96 < 20 ? 200 + 10 * Math.floor((i % 96) / 2) : 1500),
    });
    expect(valueOf(report, 'load.baseLoad')).toBeCloseTo(200, 6);
    const { low, high } = report.figures['load.baseLoad']!;
    expect(low).toBeLessThan(200);
    expect(high).toBeLessThan(225);
  });
  test('needs nights and half hours', async () => {
    expect((await reportOf(20, { load_w: () => 300 })).figures['load.baseLoad']!.reason).toMatch(
      /20 are needed/,
    );
  });
});

test('weather and prices of a canonical log are known columns', async () => {
  const { log } = await read(
    'time,load_w,rain_mm,irradiance_wm2,import_rate,export_rate,island_hz\n2024-05-01T00:00:00Z,500,0.2,0,0.31,0.08,50.2\n2024-05-01T00:30:00Z,500,0,12,0.31,0.08,\n',
  );
  expect([...log.columns.keys()]).toEqual([
    'load',
    'rain',
    'irradiance',
    'importRate',
    'exportRate',
    'islandHz',
  ]);
  expect(log.findings).toEqual([]);
});
