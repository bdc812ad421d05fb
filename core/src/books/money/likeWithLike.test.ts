import { describe, expect, test } from '@jest/globals';
import { endMs } from '../../model/log.js';
import { prepare } from '../../passes/prepare.js';
import { seededRandom } from '../../statistics/random.js';
import { logOf, systemOf, TEN_KWH, type Row } from '../../testing/logs.js';
import { likeWithLike, type ByWeather } from './likeWithLike.js';
import { longTest } from '../../testing/long.js';

const HOUR = 3_600_000;

/** Two years by the hour (invented): a base of `base` kWh a day and `slope` kWh for each degree day below 15.5 °C, the second year colder and `more` kWh above. */
async function twoYears(more: number, { base = 6, slope = 0.8, colder = 3 } = {}) {
  const random = seededRandom(7);
  let [noise, warmer] = [0, 0];
  const rows = Array.from({ length: 731 * 24 }, (_, i): Row => {
    const day = Math.floor(i / 24);
    if (i % 24 === 0) [noise, warmer] = [random() - 0.5, 2 * random() - 1];
    const year = day >= 366 ? 1 : 0;
    const temperature = 11 - 9 * Math.cos((2 * Math.PI * (day - 20)) / 365.25) - colder * year + warmer;
    const kWh = base + slope * Math.max(0, 15.5 - temperature) + more * year + noise;
    return { load_w: (1000 * kWh) / 24, grid_w: (1000 * kWh) / 24, outdoor_temp_c: temperature } as Row;
  });
  const prepared = prepare(systemOf(TEN_KWH), [await logOf(rows, '2024-01-01T00:00:00Z', 3600)]);
  const winter = { fromMs: Date.UTC(2025, 0, 1), toMs: Date.UTC(2025, 3, 1) };
  return { prepared, winter };
}

describe('like with like', () => {
  test('a colder winter is no higher use: what the weather explains is taken off', async () => {
    const { prepared, winter } = await twoYears(0);
    const { stretches, weather } = likeWithLike(prepared, winter);
    const [now, before] = stretches;
    expect(before!.label).toBe('the same days of the year before');
    expect([now!.days, before!.days]).toEqual([90, 91]);
    // 3 K colder at 0.8 kWh a degree day.
    expect(now!.loadKWh! - before!.loadKWh!).toBeGreaterThan(2);
    const { kind, difference, before: line } = weather as ByWeather;
    expect(kind).toBe('heating');
    expect(line.slope).toBeCloseTo(0.8, 1);
    expect(difference.low < 0 && difference.high > 0).toBe(true);
    expect(Math.abs(difference.value)).toBeLessThan(0.15);
  });

  test('what is used more beside the weather remains, with an interval that holds it', async () => {
    const { prepared, winter } = await twoYears(1.5);
    const { difference } = likeWithLike(prepared, winter).weather as ByWeather;
    expect(difference.low <= 1.5 && 1.5 <= difference.high).toBe(true);
    expect(difference.low).toBeGreaterThan(1);
  });

  longTest('the degrees are those that the home counts', async () => {
    const { prepared, winter } = await twoYears(0);
    expect((likeWithLike(prepared, winter).weather as ByWeather).thresholdC).toBe(15.5);
    const system = { ...prepared.system, degreeDays: { heatingBaseC: 18 } };
    expect((likeWithLike({ ...prepared, system }, winter).weather as ByWeather).thresholdC).toBe(18);
  });

  longTest('without the year before, a temperature or enough spread it says what is missing', async () => {
    const { prepared } = await twoYears(0);
    const first = { fromMs: prepared.log.startMs, toMs: prepared.log.startMs + 60 * 24 * HOUR };
    expect(likeWithLike(prepared, first).weather).toEqual({
      reason: expect.stringMatching(/a year before this range are not in the log/),
    });
    expect(likeWithLike(prepared, first).stretches.map(({ label }) => label)).toEqual([
      'this range',
      'the year to date',
    ]);
    const mild = await twoYears(0, { colder: 0 });
    const week = { fromMs: Date.UTC(2025, 0, 10), toMs: Date.UTC(2025, 0, 17) };
    expect(likeWithLike(mild.prepared, week).weather).toEqual({
      reason: expect.stringMatching(/20 are needed/),
    });
    expect(
      likeWithLike(mild.prepared, { fromMs: Date.UTC(2025, 0, 5), toMs: Date.UTC(2025, 1, 4) }).weather,
    ).toEqual({
      reason: expect.stringMatching(/less than 4 K/),
    });
    const bare = prepare(systemOf(TEN_KWH), [
      await logOf(
        Array.from({ length: 800 * 24 }, () => ({ load_w: 300 })),
        '2023-01-01T00:00:00Z',
        3600,
      ),
    ]);
    expect(likeWithLike(bare, { fromMs: Date.UTC(2024, 2, 1), toMs: Date.UTC(2024, 3, 1) }).weather).toEqual({
      reason: expect.stringMatching(/outdoor_temp_c/),
    });
    expect(endMs(bare.log)).toBeGreaterThan(Date.UTC(2025, 0, 1));
  });
});
