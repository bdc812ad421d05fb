import { describe, expect, test } from '@jest/globals';
import { endMs } from '../../model/log.js';
import { prepare } from '../../passes/prepare.js';
import { report } from '../../report/report.js';
import { simulatedStore, STORE_HOME } from '../../testing/store.js';
import type { Change } from './scenarioFile.js';
import { whatif } from './whatif.js';

describe('sweeps', () => {
  const home = prepare(STORE_HOME, [
    simulatedStore({ seed: 6, days: 120, stepSeconds: 3600, idleW: 20, efficiency: 0.92, socStep: 0.01 }),
  ]);
  const range = { fromMs: home.log.startMs, toMs: endMs(home.log) };
  const { figures } = report(home, range);
  const modules = { key: 'battery.modules', values: [1, 2, 3], tells: 'energies' as const };
  const reserve = { key: 'battery.reserve', values: [0.1, 0.5], tells: 'energies' as const };

  test('of two quantities hold every pair, and each line of them is the sweep of one', () => {
    const { grid, sweep, reach } = whatif(home, range, figures, { sweep: modules, by: reserve });
    expect(grid.map(({ at }) => at)).toEqual([
      [1, 0.1],
      [1, 0.5],
      [2, 0.1],
      [2, 0.5],
      [3, 0.1],
      [3, 0.5],
    ]);
    const supply = (one: (typeof grid)[number]['figures']) => one['account.selfSufficiency.supply']!.value!;
    const alone = whatif(home, range, figures, { sweep: reserve }).sweep;
    // The home has two modules: that line of the grid is the sweep of the reserve alone.
    for (const { at, figures: own } of alone)
      expect(supply(grid.find((one) => one.at[0] === 2 && one.at[1] === at)!.figures)).toBeCloseTo(
        supply(own),
        12,
      );
    for (const count of [1, 2, 3])
      expect(
        supply(grid.find((one) => one.at[0] === count && one.at[1] === 0.5)!.figures),
      ).toBeLessThanOrEqual(supply(grid.find((one) => one.at[0] === count && one.at[1] === 0.1)!.figures));
    const shares = sweep.map((one) => one.figures['account.gridFreeDays']!.value! / 120);
    expect(reach!.most).toBeCloseTo(Math.max(...shares), 1);
    expect(reach!.at === null).toBe(shares.every((share) => share < 0.945));
    expect(reach!.says).toMatch(
      reach!.at === null ? /are not reached: at most .* with \d modules?/ : /are reached with \d module/,
    );
  });

  test('a heat pump takes by the cold what degree days say, and needs the outdoor temperature', () => {
    const outdoor = Float64Array.from({ length: home.log.count }, (_, i) => (i % 48 < 24 ? 5.5 : 20));
    const withAir = prepare(STORE_HOME, [
      {
        ...home.sources[0]!,
        columns: new Map([
          ...home.sources[0]!.columns,
          ['outdoorTemp', { values: outdoor, resolution: 0.1 }],
        ]),
      },
    ]);
    const change: Change = {
      heatPump: { kWhPerDegreeDay: 0.5, baseC: 15.5, kW: 5 },
      noBattery: true,
      noSolar: true,
    };
    const [warm, plain] = whatif(withAir, range, report(withAir, range).figures, {
      scenarios: [
        { schema: 'long-tally/scenario@1', name: 'heat', change },
        { schema: 'long-tally/scenario@1', name: 'plain', change: { noBattery: true, noSolar: true } },
      ],
    }).scenarios;
    // By hand: 60 days of 10 K at 0.5 kWh a degree day.
    const more = warm!.figures['account.import']!.value! - plain!.figures['account.import']!.value!;
    expect(more).toBeCloseTo(300, 6);
    expect(() =>
      whatif(home, range, figures, {
        scenarios: [{ schema: 'long-tally/scenario@1', name: 'heat', change }],
      }),
    ).toThrow(/outdoor temperature is not logged/);
  });
});
