import { describe, expect, test } from '@jest/globals';
import type { SourceLog } from '../../model/log.js';
import type { System } from '../../system/schema.js';
import { HAND_HOME, hourlyLog, runnerOf } from '../../testing/handHome.js';
import { longTest } from '../../testing/long.js';

describe('a better description', () => {
  // 0.4 kW by day and night, a sun that fills the battery by day, served by night down to a floor.
  const served = (floorAt: (hour: number) => number, more: { exportW?: number } = {}) => {
    let stored = 5000;
    return hourlyLog(60, (hour) => {
      const isSun = hour % 24 >= 9 && hour % 24 < 15;
      const solar = isSun ? 2500 + 100 * (hour % 7) : 0;
      const free = solar - 400;
      const battery =
        free > 0
          ? -Math.min(free, 10_000 - stored)
          : Math.min(400, Math.max(0, stored - 10_000 * floorAt(hour)));
      const soc = stored / 10_000;
      stored -= battery;
      const grid = Math.max(400 - solar - battery, -(more.exportW ?? Infinity));
      return { load: 400, solar, grid, battery, soc };
    });
  };
  const of = (log: SourceLog, system = HAND_HOME) =>
    runnerOf(system, log).base.proposals.map(({ says, change }) => [says, change] as const);

  test('names the reserve that the log shows, month by month', () => {
    expect(of(served(() => 0.5))).toEqual([
      [
        'The battery stops serving the home at 50 %; a reserve of 20 % is described.',
        { battery: expect.objectContaining({ reserve: 0.5, modules: 2 }) },
      ],
    ]);
    expect(
      of(
        served(() => 0.5),
        withReserve(0.5),
      ),
    ).toEqual([]);
    const [[says, change]] = of(
      served((hour) => (hour < 31 * 24 ? 0.6 : 0.5)),
      withReserve(0.5),
    ) as [readonly [string, object]];
    expect(says).toMatch(/^The battery stops serving the home at 50 %, 60 % in Jan; a reserve of 50 %/);
    expect(change).toMatchObject({
      battery: {
        reserve: 0.5,
        reserveWindows: [{ start: '00:00', end: '24:00', reserve: 0.6, months: [1] }],
      },
    });
  });

  test('is of use: a home without a described reserve is modelled with the one that the log shows', () => {
    const log = served(() => 0.5);
    const bare = runnerOf(withReserve(undefined), log).base.modelled['account.import']!.value!;
    const told = runnerOf(withReserve(0.5), log).base.modelled['account.import']!.value!;
    expect(bare).toBeCloseTo(told, 6);
  });

  longTest('names limits of charge and discharge that the log shows, where none are described', () => {
    const [configuration] = withReserve(0.5).configurations!;
    const battery = { ...configuration!.battery };
    delete battery.maxChargeKW;
    delete battery.maxDischargeKW;
    const bare = { ...HAND_HOME, configurations: [{ ...configuration!, battery, inverter: {} }] };
    // A charger of 1.2 kW under a sun of 2.5 kW, and a discharge of 0.4 kW that only the load sets.
    let stored = 6000;
    const log = hourlyLog(120, (hour) => {
      const isSun = hour % 24 >= 9 && hour % 24 < 15;
      const solar = isSun ? 2500 + 130 * (hour % 7) : 0;
      const load = 300 + 37 * (hour % 11);
      const battery = isSun ? -Math.min(1200, 10_000 - stored) : Math.min(load, Math.max(0, stored - 5000));
      const soc = stored / 10_000;
      stored -= battery;
      return { load, solar, grid: load - solar - battery, battery, soc };
    });
    expect(of(log, bare)).toContainEqual([
      'The charge lies flat at 1.2 kW; no limit of charging is described.',
      { battery: { ...battery, maxChargeKW: 1.2 } },
    ]);
    expect(of(log, bare).some(([says]) => says.startsWith('The discharge'))).toBe(false);
    expect(of(log, withReserve(0.5)).some(([says]) => says.startsWith('The charge lies'))).toBe(false);
  });

  test('names a limit of export that the log shows', () => {
    const [, [says, change]] = of(served(() => 0.5, { exportW: 900 })) as [
      unknown,
      readonly [string, object],
    ];
    expect(says).toMatch(/^The export lies flat at 0\.9 kW/);
    expect(change).toEqual({ exportLimitKW: 0.9 });
  });
});

function withReserve(reserve: number | undefined): System {
  const [configuration] = HAND_HOME.configurations!;
  const battery = { ...configuration!.battery };
  if (reserve === undefined) delete battery.reserve;
  else battery.reserve = reserve;
  return { ...HAND_HOME, configurations: [{ ...configuration!, battery }] };
}
