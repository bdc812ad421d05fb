import { describe, expect, test } from '@jest/globals';
import { analyse } from '../../report/report.js';
import type { System } from '../../system/schema.js';
import { read, reportOf, systemOf, TEN_KWH, testTable, type Row } from '../../testing/logs.js';

const HOME = systemOf(TEN_KWH);
const figuresOf = async (system: System, rows: readonly Row[]) =>
  (await reportOf(system, rows, '2023-01-01T00:00:00Z', 3600)).figures;

describe('degree days', () => {
  test('of the NOAA hourly normals of Seattle, against their sum day by day', async () => {
    const celsius = [...testTable('seattle_hourly_normals.csv')[2]!];
    const rows = celsius.map((outdoor_temp_c) => ({ load_w: 100, outdoor_temp_c })) as unknown as Row[];
    const figures = await figuresOf(HOME, rows);
    let sum = 0;
    for (let day = 0; day < celsius.length / 24; day++) {
      const own = celsius.slice(day * 24, day * 24 + 24);
      const mean = own.reduce((total, one) => total + one, 0) / own.length;
      sum += Math.max(0, 15.5 - mean);
    }
    expect(figures['weather.heatingDegreeDays']!.value).toBeCloseTo(sum, 6);
  });

  test('come from the daily means of a weather service too', async () => {
    const means = [12.5, 3, 18];
    const text = `Date,Mean temperature (°C)\n${means.map((celsius, d) => `2023-01-0${d + 1},${celsius}`).join('\n')}\n`;
    const load = `time,load_w\n${Array.from({ length: 72 }, (_, i) => `${new Date(Date.UTC(2023, 0, 1) + i * 3_600_000).toISOString()},400`).join('\n')}\n`;
    const logs = await Promise.all([load, text].map((file) => read(file)));
    const { figures } = analyse(
      HOME,
      logs.map(({ log }) => log),
    );
    // By hand: 3 K and 12.5 K below 15.5 °C.
    expect(figures['weather.heatingDegreeDays']!.value).toBeCloseTo(15.5, 9);
  });

  test('have the bases that the home states', async () => {
    // Two days at 10 °C and one at 20 °C, by hand: below 18 °C 2 × 8 K, above 19 °C 1 K.
    const rows = Array.from({ length: 72 }, (_, i) => ({
      load_w: 100,
      outdoor_temp_c: i < 48 ? 10 : 20,
    })) as unknown as Row[];
    const home = { ...HOME, degreeDays: { heatingBaseC: 18, coolingBaseC: 19 } };
    const figures = await figuresOf(home, rows);
    expect(figures['weather.heatingDegreeDays']!.value).toBeCloseTo(16, 9);
    expect(figures['weather.coolingDegreeDays']!.value).toBeCloseTo(1, 9);
  });
});
