import { describe, expect, test } from '@jest/globals';
import type { System } from '../system/schema.js';
import { reportOf, systemOf, TEN_KWH, type Row } from '../testing/logs.js';

const START = '2024-03-01T00:00:00Z';

describe('findings', () => {
  const codes = async (system: System, rows: readonly Row[], step = 900) =>
    (await reportOf(system, rows, START, step)).findings
      .map(({ code, message }) => `${code}: ${message}`)
      .join('\n');
  const steady = (row: Row) => Array.from({ length: 96 }, () => row);
  const system = systemOf(TEN_KWH);

  test('an account that leaves more than 5 % open', async () => {
    expect(await codes(system, steady({ solar_w: 1000, load_w: 700, grid_w: 0, battery_w: 0 }))).toMatch(
      /closing-error: The account leaves 30\.0 % of what came in \(7\.2 kWh\) open, more than the 5 %/,
    );
    expect(await codes(system, steady({ solar_w: 1000, load_w: 970, grid_w: 0, battery_w: 0 }))).not.toMatch(
      /closing-error/,
    );
    expect(await codes(system, steady({ solar_w: 1000, load_w: 700, grid_w: 0, battery_dc_w: 0 }))).toMatch(
      /closing-error: .*conversion and idle draw, since a flow is measured on its DC side/,
    );
  });

  test('battery power beyond its rating, with when and how much', async () => {
    const rows = steady({ battery_w: 1000 });
    rows[10] = { battery_w: -7300 };
    expect(await codes(system, rows)).toMatch(
      /above-rating: .* in 1 interval, most at 2024-03-01 02:30 with 7\.3 kW/,
    );
  });

  test('a log from before the first configuration, and a coarse step', async () => {
    const late = { ...system, configurations: [{ from: '2024-03-01T12:00:00Z', battery: TEN_KWH }] };
    expect(await codes(late, steady({ load_w: 1 }))).toMatch(
      /before-configuration: The log begins before the first configuration \(2024-03-01 12:00\)/,
    );
    const odd = { ...system, configurations: [{ from: '2024-03-02T00:00:00,5+1300', battery: TEN_KWH }] };
    expect(await codes(odd, steady({ load_w: 1 }))).toMatch(/before-configuration: .*\(2024-03-01 11:00\)/);
    expect(await codes(system, steady({ load_w: 1 }), 3600)).toMatch(/coarse-step: The step is 60 minutes/);
  });

  test('energy bought with the battery at its reserve, charged from the grid, and an outage', async () => {
    const rows = steady({ solar_w: 0, load_w: 400, grid_w: 0, battery_w: 400, soc_pct: 60, grid_v: 230 });
    for (let q = 0; q < 8; q++)
      rows[q] = { solar_w: 0, load_w: 400, grid_w: 400, battery_w: 0, soc_pct: 10, grid_v: 230 };
    for (let q = 40; q < 44; q++)
      rows[q] = { solar_w: 0, load_w: 400, grid_w: 2400, battery_w: -2000, soc_pct: 50, grid_v: 230 };
    for (let q = 60; q < 70; q++) rows[q] = { ...rows[60]!, grid_v: 0 };
    const { findings } = await reportOf(system, rows, START, 900);
    const kWh = Object.fromEntries(findings.map((finding) => [finding.code, finding.kWh]));
    expect(kWh['battery-empty']).toBeCloseTo(0.8 + 0.4, 9);
    expect(kWh['grid-charged']).toBeCloseTo(2, 9);
    expect(findings.find(({ code }) => code === 'outage')!.message).toMatch(
      /down for 2\.5 h in 1 outage, known by its voltage/,
    );
    const weights = findings.map((finding) => finding.kWh ?? -1);
    expect(weights).toEqual([...weights].sort((a, b) => b - a));
  });
});
