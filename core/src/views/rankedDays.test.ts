import { describe, expect, test } from '@jest/globals';
import { prepare } from '../passes/prepare.js';
import { logOf, systemOf, TEN_KWH } from '../testing/logs.js';
import { daysBy, rankedDays } from './rankedDays.js';
import { rollOf } from './roll.js';

describe('days ranked by a question', () => {
  // Four days of hours, their sun 3, 1, 2 and, of half a day, 0.5 kW.
  const rows = Array.from({ length: 84 }, (_, h) => ({
    solar_w: [3000, 1000, 2000, 500][Math.floor(h / 24)]!,
    load_w: 500,
    grid_w: -500,
    battery_w: 0,
  }));
  const roll = async () =>
    rollOf(prepare(systemOf(TEN_KWH), [await logOf(rows, '2024-01-01T00:00:00Z', 3600)]));
  test('stand with the least or the most first; a day half known is none of them', async () => {
    const days = await roll();
    expect(rankedDays(days, 'least solar')!.map(({ index }) => index)).toEqual([1, 2, 0]);
    expect(rankedDays(days, 'Most Solar please')!.map(({ kWh }) => kWh)).toEqual([72, 48, 24]);
  });
  test('are those of the range', async () => {
    expect(daysBy(await roll(), 'solar', { from: 1, to: 3 })).toEqual([
      { index: 1, kWh: 24 },
      { index: 2, kWh: 48 },
    ]);
  });
  test('answer nothing else', async () => {
    const days = await roll();
    for (const query of ['outage', 'least of all', 'solar', '']) expect(rankedDays(days, query)).toBeNull();
  });
});
