import { describe, expect, test } from '@jest/globals';
import { prepare } from '../../passes/prepare.js';
import { HAND_HOME, hourlyLog, rangeOf } from '../../testing/handHome.js';
import { stormPlan } from './stormPlan.js';

describe('a storm plan', () => {
  // 0.4 kW all day, no sun, the battery kept at its reserve of 20 % of 10 kWh: lossless by the description of its trial.
  const log = hourlyLog(60, () => ({ load: 400, solar: 0, grid: 400, battery: 0, soc: 0.2 }));
  const prepared = prepare(HAND_HOME, [log]);

  test('tells what is bought, the hours it takes and the hours it adds, by hand', () => {
    const { days, soc, boughtKWh, hoursBefore, cost, asUsual, full } = stormPlan(
      prepared,
      rangeOf(log),
      '2026-02-01T18:00',
    );
    expect(days).toBeGreaterThan(30);
    expect(soc.value).toBeCloseTo(0.2, 6);
    // From 20 to 100 % of what reaches the home (9.5 kWh), charged with a round trip of 90 %.
    const stored = 0.8 * 9.5;
    expect(boughtKWh.value).toBeGreaterThan(stored / 0.9 - 0.2);
    expect(boughtKWh.value).toBeLessThan(stored / 0.9 + 0.5);
    expect(hoursBefore).toBe(2);
    // In five days all of it is used: what is left of the cost is the loss of the round trip and of idling.
    expect(cost!.value).toBeGreaterThan(0.3 * (stored / 0.9 - stored) - 0.05);
    expect(cost!.value).toBeLessThan(0.3 * boughtKWh.value);
    // 0.4 kW and 30 W of idle draw (at the battery 28.5 W): from 20 % about 4.4 h, from full about 22 h.
    expect(asUsual.p50!.value).toBeGreaterThanOrEqual(4);
    expect(asUsual.p50!.value).toBeLessThan(5);
    expect(full.p50!.value).toBeGreaterThan(21);
    expect(full.p50!.value).toBeLessThan(24);
  });

  test('is refused in words: a day of another season, no time, no grid', () => {
    expect(() => stormPlan(prepared, rangeOf(log), '2026-08-01T18:00')).toThrow(
      /within three weeks of that day/,
    );
    expect(() => stormPlan(prepared, rangeOf(log), 'tomorrow')).toThrow(
      /no date with a time|not a date with a time/,
    );
    const [configuration] = HAND_HOME.configurations!;
    const alone = prepare({ ...HAND_HOME, configurations: [{ ...configuration!, grid: 'none' }] }, [log]);
    expect(() => stormPlan(alone, rangeOf(log), '2026-02-01T18:00')).toThrow(/has no grid/);
  });
});
