import { describe, expect, test } from '@jest/globals';
import type { SourceLog } from '../../model/log.js';
import { prepare, rangeDataOf } from '../../passes/prepare.js';
import { HAND_HOME, HOUR_MS, hourlyLog, rangeOf, runnerOf } from '../../testing/handHome.js';
import { gridCharging } from './gridCharging.js';

describe('charges from the grid in a log', () => {
  // From 23:00 to 05:00 at 1 kW up to 80 %, serving 0.3 kW from the battery otherwise.
  const charged = (isCharged: (day: number) => boolean) => {
    let stored = 3000;
    return hourlyLog(28, (hour) => {
      const soc = stored / 10_000;
      const isIn = isCharged(Math.floor((hour + 1) / 24)) && (hour % 24 >= 23 || hour % 24 < 5);
      const battery = isIn ? (soc < 0.799 ? -1000 : 0) : soc > 0.2 ? 300 : 0;
      stored -= battery;
      return { load: 300, solar: 0, grid: 300 - battery, battery, soc };
    });
  };
  const of = (log: SourceLog) => gridCharging(rangeDataOf(prepare(HAND_HOME, [log]), rangeOf(log)));

  test('of every night are a window with its target and its power', () => {
    const { windows, dated } = of(charged(() => true));
    expect(windows).toEqual([
      {
        start: '23:00',
        end: expect.stringMatching(/^0[45]:\d\d$/),
        toSoc: expect.closeTo(0.8, 1),
        months: [1],
        chargeW: 1000,
      },
    ]);
    expect(dated).toEqual([]);
  });

  test('are no longer what they were where the cheapest hours are chosen instead', () => {
    const tariffs = [
      {
        from: '2023-01-01',
        import: [{ rate: 0.3 }, { rate: 0.1, start: '12:00', end: '14:00' }],
        export: [{ rate: 0.05 }],
      },
    ];
    const home = { ...HAND_HOME, tariffs };
    const log = charged(() => true);
    const runner = runnerOf(home, log);
    const { typicalDay } = runner.scenario({
      schema: 'long-tally/scenario@1',
      name: 'cheap',
      change: { strategy: 'cheap-charge' },
    });
    // Bought at noon and no longer by night.
    expect(runner.base.typicalDay.missingW[0]).toBeGreaterThan(900);
    expect(typicalDay.missingW[0]).toBeLessThan(600);
    expect(typicalDay.missingW[12]).toBeGreaterThan(900);
  });

  test('of some nights are each for itself, and the model repeats them', () => {
    const log = charged((day) => day % 3 === 0);
    const { windows, dated } = of(log);
    expect(windows).toEqual([]);
    expect(dated).toHaveLength(10);
    for (const { toSoc, chargeW, fromMs, toMs } of dated) {
      expect(chargeW).toBe(1000);
      expect(toSoc).toBeGreaterThan(0.69);
      expect((toMs - fromMs) / HOUR_MS).toBeGreaterThanOrEqual(5);
    }
    const { base } = runnerOf(HAND_HOME, log);
    const load = 28 * 24 * 0.3;
    expect(Math.abs(base.errors['account.charge']!)).toBeLessThan(0.1 * load);
    // This battery loses nothing; the model takes the usual 30 W and a tenth of what is charged.
    const losses = 28 * 24 * 0.03 + 0.1 * base.logged['account.charge']!.value!;
    expect(Math.abs(base.errors['account.import']! - losses)).toBeLessThan(0.05 * load);
  });

  test('are none where the sun alone charges', () => {
    const log = hourlyLog(14, (hour) => {
      const isSun = hour % 24 > 8 && hour % 24 < 16;
      return {
        load: 300,
        solar: isSun ? 1300 : 0,
        grid: isSun ? 0 : 300,
        battery: isSun ? -1000 : 0,
        soc: 0.2,
      };
    });
    expect(of(log)).toEqual({ windows: [], dated: [] });
  });
});
