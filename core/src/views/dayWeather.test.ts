import { describe, expect, test } from '@jest/globals';
import { prepare } from '../passes/prepare.js';
import { canonicalCsv } from '../bookFile/canonicalCsv.js';
import { read, systemOf, TEN_KWH } from '../testing/logs.js';
import { rollOf, type RollDay } from './roll.js';

const DAY_MS = 86_400_000;
const START = Date.UTC(2024, 5, 1);
const home = systemOf(TEN_KWH);

/** Half hours of 30 days with a sun of 3 kW at noon but on day 10, and weather by the hour in a file of its own. Invented. */
async function homeOf(weather: readonly string[]): Promise<{ days: RollDay[]; csv: string }> {
  const rows = ['time,solar_w,load_w'];
  for (let i = 0; i < 30 * 48; i++) {
    const day = Math.floor(i / 48);
    const sun = i % 48 === 24 ? (day === 10 ? 300 : 3000) : 0;
    rows.push(`${new Date(START + i * 1_800_000).toISOString()},${sun},${day === 12 ? 900 : 500}`);
  }
  const logs = await Promise.all([rows, weather].map((text) => read(`${text.join('\n')}\n`)));
  const prepared = prepare(
    home,
    logs.map(({ log }) => log),
  );
  return { days: rollOf(prepared), csv: [...canonicalCsv(prepared.log)].join('') };
}

/** 0.5 mm in each hour of day 10, 200 W/m² at noon; 15 °C, and −5 °C on day 12. */
const WEATHER = [
  'time,rain_mm,irradiance_wm2,outdoor_temp_c',
  ...Array.from({ length: 30 * 24 }, (_, i) => {
    const day = Math.floor(i / 24);
    return `${new Date(START + i * 3_600_000).toISOString()},${day === 10 ? 0.5 : 0},${i % 24 === 12 ? 200 : 0},${day === 12 ? -5 : 15}`;
  }),
];

describe('the weather of a day', () => {
  test('sums rain and irradiation over hours that a finer log cuts in two, and gives the mean outdoors', async () => {
    const { days } = await homeOf(WEATHER);
    // By hand: 24 h × 0.5 mm; 200 W/m² for one hour.
    expect(days[10]!.weather!.rainMm).toBeCloseTo(12, 9);
    expect(days[3]!.weather!.rainMm).toBe(0);
    expect(days[10]!.weather!.irradiation).toBeCloseTo(0.2, 9);
    expect(days[12]!.weather!.temperature!.mean).toBeCloseTo(-5, 0);
  });

  test('is offered as the cause of a poor day', async () => {
    const { days } = await homeOf(WEATHER);
    expect(days[10]!.notes).toContainEqual(
      expect.objectContaining({ kind: 'little-sun', share: expect.closeTo(0.1, 6) }),
    );
    expect(days[12]!.notes.map(({ kind }) => kind)).toContain('cold');
    for (const day of [0, 9, 11, 29]) expect(days[day]!.notes).toEqual([]);
  });

  test('is not needed to tell little sun, and none is made of nothing', async () => {
    const { days } = await homeOf([
      'time,battery_temp_c',
      `${new Date(START + DAY_MS).toISOString()},20`,
      `${new Date(START + 2 * DAY_MS).toISOString()},20`,
    ]);
    expect(days.every(({ weather }) => weather === null)).toBe(true);
    expect(days[10]!.notes).toEqual([expect.objectContaining({ kind: 'little-sun', rainMm: null })]);
  });

  test('keeps its rain when it is written as a canonical log of the finer step', async () => {
    const { csv } = await homeOf(WEATHER);
    const [header, ...rows] = csv.trim().split('\n');
    const at = header!.split(',').indexOf('rain_mm');
    const total = rows.reduce((sum, row) => sum + Number(row.split(',')[at]), 0);
    expect(total).toBeCloseTo(12, 9);
  });
});
