import { describe, expect, test } from '@jest/globals';
import { parseReadings, readingsText } from '../import/merge/readingsFile.js';
import type { Reading } from '../import/merge/readings.js';
import { endMs } from '../model/log.js';
import { prepare } from '../passes/prepare.js';
import { read, systemOf, TEN_KWH } from '../testing/logs.js';
import { clearSky } from '../books/solar/clearSky.js';
import { partsView, type PartView } from './parts.js';

const START = Date.UTC(2023, 2, 1);
const HOUR_MS = 3_600_000;
const described = systemOf(TEN_KWH);
const FACES = [
  { name: 'East roof', kWp: 2, tilt: 35, azimuth: 90 },
  { name: 'west roof', kWp: 3, tilt: 35, azimuth: 270 },
];
const system = {
  ...described,
  latitude: 47,
  longitude: 8,
  configurations: [{ ...described.configurations![0]!, arrays: FACES }],
};

/** Fourteen months of hours; both roofs make 0.6 of what a clear sky sends them, the west one half of that in the second March. */
async function viewOf(readings: readonly Reading[], isGappy = false): Promise<PartView[]> {
  const rows = ['time,east_roof_solar_w,west_roof_solar_w,load_w,car_load_w'];
  for (let i = 0; i < 14 * 30 * 24; i++) {
    const ms = START + i * HOUR_MS;
    const made = FACES.map((face) => {
      const { sky } = clearSky({ latitude: 47, longitude: 8, arrays: [face] }, ms + HOUR_MS / 2);
      return 0.6 * face.kWp * 1353 * sky;
    });
    if (ms >= Date.UTC(2024, 1, 29, 23)) made[1]! *= 0.5;
    const car = i % 24 === 22 ? 6000 : 0;
    rows.push(
      `${new Date(ms).toISOString()},${made.map((w) => w.toFixed(3)).join()},${1000 + car},${isGappy && i % 24 > 11 ? '' : car}`,
    );
  }
  const { log } = await read(`${rows.join('\n')}\n`);
  const prepared = prepare(system, [log]);
  return partsView(prepared, { fromMs: log.startMs, toMs: endMs(log) }, readings);
}

const noted = (day: number, km: number): Reading => ({
  atMs: START + day * 24 * HOUR_MS,
  counters: {},
  use: { part: 'Car', unit: 'km', shown: km, decimals: 0 },
  note: '',
});

describe('parts by month', () => {
  test('give each array the share of a clear sky that it made, side by side and against the year before', async () => {
    const [east, west] = (await viewOf([])) as [PartView, PartView];
    expect([east.name, east.kWp, west.name, west.kWp]).toEqual(['east roof', 2, 'west roof', 3]);
    const march = (part: PartView, year: number) => part.months.find(({ month }) => month === `${year}-03`)!;
    for (const part of [east, west]) expect(march(part, 2023).ofClearSky).toBeCloseTo(0.6, 1);
    expect(march(east, 2024).ofClearSky! / march(east, 2023).ofClearSky!).toBeCloseTo(1, 1);
    expect(march(west, 2024).ofClearSky! / march(west, 2024).yearBefore!).toBeCloseTo(0.5, 1);
    expect(march(west, 2023).yearBefore).toBeNull();
  });

  test('add up to the whole, and their shares to one', async () => {
    const parts = await viewOf([]);
    for (const part of parts)
      expect(part.months.reduce((sum, { kWh }) => sum + kWh, 0)).toBeCloseTo(part.kWh, 6);
    expect(parts[0]!.share! + parts[1]!.share!).toBeCloseTo(1, 9);
    // By hand: 6 kWh of 30 kWh a day.
    expect(parts[2]!.share).toBeCloseTo(0.2, 9);
  });

  test('tell what a car takes for each kilometre that was noted, held by the counter’s last digit and the meter', async () => {
    const [, , car] = await viewOf([noted(10, 1000), noted(40, 1600), noted(110, 3000)]);
    const [use] = car!.uses;
    // By hand: 100 days of 6 kWh over 2000 km.
    expect(use).toMatchObject({ unit: 'km', units: 2000 });
    expect(use!.perUnit!.value).toBeCloseTo(0.3, 9);
    expect(use!.perUnit!.high - use!.perUnit!.value).toBeCloseTo(0.3 * 0.02, 4);
  });

  test('tell nothing per kilometre of a time that the log lacks, or of one note', async () => {
    const [, , car] = await viewOf([noted(10, 1000), noted(110, 3000)], true);
    expect(car!.uses[0]!.perUnit).toBeNull();
    expect(car!.uses[0]!.coverage).toBeCloseTo(0.5, 2);
    expect((await viewOf([noted(10, 1000)]))[2]!.uses).toEqual([]);
  });
});

describe('a counter of use among the readings', () => {
  test('comes back from its file', () => {
    const readings = [
      noted(1, 12),
      { ...noted(2, 15.5), use: { part: 'pump', unit: 'l', shown: 15.5, decimals: 1 } },
    ];
    expect(parseReadings(readingsText(readings), 'r.csv')).toEqual(readings);
  });
  test('needs its load and its unit', () => {
    expect(() => parseReadings('time,part,unit,shown\n2024-01-01T00:00:00Z,car,,12\n', 'r.csv')).toThrow(
      /needs the load/,
    );
  });
});
