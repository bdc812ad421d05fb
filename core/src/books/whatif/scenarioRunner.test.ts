import { describe, expect, test } from '@jest/globals';
import { endMs, type SourceLog } from '../../model/log.js';
import type { Quantity } from '../../model/quantity.js';
import { prepare, rangeDataOf } from '../../passes/prepare.js';
import { report } from '../../report/report.js';
import type { System } from '../../system/schema.js';
import { simulatedStore, STORE_HOME } from '../../testing/store.js';
import { gridCharging } from './gridCharging.js';
import { inverterCounts } from './inverterCounts.js';
import type { Change } from './scenarioFile.js';
import { scenarioRunner } from './scenarioRunner.js';
import { stormPlan } from './stormPlan.js';
import { whatif } from './whatif.js';

const HOUR_MS = 3_600_000;
const START_MS = Date.UTC(2024, 0, 1);

const HOME: System = {
  schema: 'long-tally/system@1',
  name: 'By hand',
  timeZone: 'UTC',
  currency: 'EUR',
  tariffs: [{ from: '2023-01-01', import: [{ rate: 0.3 }], export: [{ rate: 0.1 }] }],
  configurations: [
    {
      from: '2023-01-01T00:00:00Z',
      battery: {
        modules: 2,
        moduleKWh: 5,
        usableShare: 1,
        maxChargeKW: 5,
        maxDischargeKW: 5,
        reserve: 0.2,
        cutOff: 0,
      },
      inverter: { units: 1, batteryOnlyKW: 2, surgeKW: 4, legs: 2, perLegKW: 1.2 },
    },
  ],
};

/** A log by the hour from what is known of each of its hours. */
function hourly(days: number, at: (hour: number) => Partial<Record<Quantity, number>>): SourceLog {
  const count = 24 * days;
  const cells = Array.from({ length: count }, (_, hour) => at(hour));
  const names = [...new Set(cells.flatMap((cell) => Object.keys(cell)))] as Quantity[];
  return {
    ...{ name: 'by hand', startMs: START_MS, stepMs: HOUR_MS, count, lumps: [], findings: [] },
    columns: new Map(
      names.map((name) => [
        name,
        {
          values: Float64Array.from(cells, (cell) => cell[name] ?? NaN),
          resolution: name === 'soc' ? 0.001 : 1,
        },
      ]),
    ),
  };
}

const rangeOf = (log: SourceLog) => ({ fromMs: log.startMs, toMs: endMs(log) });
const runnerOf = (system: System, log: SourceLog) => {
  const prepared = prepare(system, [log]);
  return scenarioRunner(prepared, rangeOf(log), report(prepared, rangeOf(log)).figures);
};

describe('the runs of a range', () => {
  const log = simulatedStore({
    seed: 21,
    days: 120,
    stepSeconds: 900,
    idleW: 30,
    efficiency: 0.92,
    socStep: 0.01,
  });
  const runner = runnerOf(STORE_HOME, log);

  test('months add up to the figures of the range', () => {
    const { months, modelled } = runner.base;
    const days = [31, 29, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];
    expect(months.length).toBeGreaterThan(3);
    const valueOf = (month: number) => months.find((one) => one.month === month)!.figures.import.value!;
    // Means a day times the days that the range has of each month.
    const first = new Date(log.startMs);
    let [total, left] = [0, 120];
    for (
      let month = first.getUTCMonth(), day = first.getUTCDate();
      left > 0;
      month = (month + 1) % 12, day = 1
    ) {
      const own = Math.min(left, days[month]! - day + 1);
      total += own * valueOf(month);
      left -= own;
    }
    expect(Math.abs(total - modelled['account.import']!.value!)).toBeLessThan(
      0.02 * modelled['account.import']!.value!,
    );
  });

  test('a typical day and the worst week lie on the axis of what was logged, and the week is the one that lacks most', () => {
    const { typicalDay, loggedDay, week, worstWeek, loggedWeek } = runner.base;
    expect(typicalDay.soc).toHaveLength(24);
    expect(worstWeek!.soc).toHaveLength(168);
    typicalDay.soc.forEach((share, hour) =>
      expect(Math.abs(share! - loggedDay!.soc[hour]!)).toBeLessThan(0.08),
    );
    expect(loggedWeek!.soc.every((share) => share !== null && share >= 0 && share <= 1)).toBe(true);
    const of = (watts: readonly (number | null)[]) => watts.reduce<number>((sum, one) => sum + (one ?? 0), 0);
    const mean = of(typicalDay.missingW) * 7;
    expect(of(worstWeek!.missingW)).toBeGreaterThan(mean);
    expect(week!.toMs - week!.fromMs).toBe(7 * 24 * HOUR_MS);
    // A scenario stands on the same week, and with twice the battery lacks no more.
    const twice = runner.scenario({
      schema: 'long-tally/scenario@1',
      name: 'twice',
      change: { battery: { modules: 4 } },
    });
    expect(of(twice.worstWeek!.missingW)).toBeLessThanOrEqual(of(worstWeek!.missingW) + 1);
    const told = ({ months }: Pick<typeof twice, 'months'>) =>
      months.filter(({ figures }) => figures.survive24.value !== null).map(({ month }) => month);
    expect(told(twice)).toEqual(told(runner.base));
  });

  test('every month of a scenario differs from the base by what its figures say, within its interval', () => {
    const { months } = runner.scenario({
      schema: 'long-tally/scenario@1',
      name: 'half',
      change: { battery: { modules: 1 } },
    });
    expect(months.map(({ month }) => month)).toEqual(runner.base.months.map(({ month }) => month));
    months.forEach(({ figures }, k) => {
      const base = runner.base.months[k]!.figures;
      for (const key of ['import', 'export', 'selfSufficiency'] as const) {
        const { value, low, high } = figures[key].basis.difference!;
        expect(value).toBeCloseTo(figures[key].value! - base[key].value!, 10);
        expect(low <= value && value <= high).toBe(true);
        expect(base[key].basis.difference).toBeUndefined();
      }
      // Of a home on the grid nothing is left unserved.
      expect(figures.unserved.status).toBe('not-measured');
      expect(figures.import.basis.difference!.value).toBeGreaterThan(0);
    });
    const nothing = runner.scenario({ schema: 'long-tally/scenario@1', name: 'none', change: {} });
    for (const { figures } of nothing.months)
      expect(figures.import.basis.difference).toEqual({ value: 0, low: 0, high: 0 });
  });

  test('outages carried are as unsure as the capacity that carries them', () => {
    const { figures } = runner.scenario({
      schema: 'long-tally/scenario@1',
      name: 'half',
      change: { battery: { modules: 1 } },
    });
    const { value, low, high } = figures['outage.survive.24h']!.basis.difference!;
    expect(value).toBeLessThan(0);
    // More than six per cent of itself and half a point, which would be all without that doubt.
    expect((high - low) / 2).toBeGreaterThan(1.05 * Math.hypot(0.06 * value, 0.005));
  });

  test('the months as logged are those of the log', () => {
    const grid = log.columns.get('grid')!.values;
    const months = runner.base.loggedMonths;
    const first = new Date(log.startMs).getUTCMonth();
    const cells = Math.round(
      (Date.UTC(new Date(log.startMs).getUTCFullYear(), first + 1, 1) - log.startMs) / 900_000,
    );
    const bought = grid.subarray(0, cells).reduce((sum, watts) => sum + Math.max(0, watts), 0);
    expect(months.find(({ month }) => month === first)!.import).toBeCloseTo((bought / cells) * 0.024, 1);
    expect(months.map(({ month }) => month)).toEqual(runner.base.months.map(({ month }) => month));
  });

  test('essentials are carried through more outages than the whole home, and a larger battery takes less of its life', () => {
    const of = (change: Change) =>
      runner.scenario({ schema: 'long-tally/scenario@1', name: 'x', change }).figures;
    const value = (change: Change, key: string) => of(change)[key]!.value!;
    const whole = value({}, 'outage.survive.24h');
    expect(value({ outage: { share: 0.5 } }, 'outage.survive.24h')).toBeGreaterThan(whole);
    expect(value({ outage: { capKW: 0.2 } }, 'outage.survive.24h')).toBeGreaterThan(whole);
    expect(value({ battery: { modules: 4 } }, 'wear.damage')).toBeLessThan(value({}, 'wear.damage'));
    // By the cycles of the log itself, within what the model misses of it.
    const { logged, modelled } = runner.base;
    const timeWithoutGrid = modelled['whatif.timeWithoutGrid']!.value!;
    expect(modelled['wear.damage']!.value! / logged['wear.damage']!.value!).toBeGreaterThan(0.8);
    expect(modelled['wear.damage']!.value! / logged['wear.damage']!.value!).toBeLessThan(1.25);
    expect(modelled['account.gridFreeShare']!.value).toBeCloseTo(
      modelled['account.gridFreeDays']!.value! / 120,
      12,
    );
    expect(timeWithoutGrid).toBeGreaterThan(modelled['account.gridFreeShare']!.value! - 0.05);
    expect(timeWithoutGrid).toBeLessThanOrEqual(1);
  });

  test('a point of a sweep is the scenario with that change', () => {
    const change = { battery: { modules: 3 } };
    const point = runner.point(3, change, 'modules', 'everything');
    const scenario = runner.scenario({ schema: 'long-tally/scenario@1', name: 'three', change });
    for (const [key, figure] of Object.entries(scenario.figures))
      expect([key, point.figures[key]!.value]).toEqual([key, figure.value]);
    const lean = runner.point(3, change, 'modules', 'energies');
    expect(lean.figures['account.import']!.value).toBe(scenario.figures['account.import']!.value);
    expect(lean.figures['outage.survive.24h']!.value).toBeNull();
  });
});

test('a range before the last change is modelled with what there was then, one over it by each stretch', () => {
  const log = simulatedStore({
    seed: 5,
    days: 120,
    stepSeconds: 900,
    idleW: 30,
    efficiency: 0.92,
    socStep: 0.01,
  });
  const [before] = STORE_HOME.configurations!;
  const from = new Date(log.startMs + 80 * 24 * HOUR_MS).toISOString();
  // The log does not change: a second configuration that says there are twice as many modules is a wrong description.
  const twice = { ...before!, from, battery: { ...before!.battery, modules: 2 * before!.battery!.modules! } };
  const changed = prepare({ ...STORE_HOME, configurations: [before!, twice] }, [log]);
  const plain = prepare(STORE_HOME, [log]);
  const range = { fromMs: log.startMs, toMs: log.startMs + 80 * 24 * HOUR_MS };
  const importOf = (prepared: typeof plain) =>
    whatif(prepared, range, report(prepared, range).figures, {}).base.modelled['account.import']!.value!;
  // The capacity is estimated with a little less of the log.
  expect(Math.abs(importOf(changed) / importOf(plain) - 1)).toBeLessThan(0.02);
  const { base } = whatif(changed, rangeOf(log), report(changed, rangeOf(log)).figures, {});
  expect(base.errorsAsItWas).not.toBeNull();
  // The life that is used is the sum of what each stretch takes, not their mean: it stays near the log's.
  const damage = report(changed, rangeOf(log)).figures['wear.damage']!.value!;
  expect(Math.abs(base.errorsAsItWas!['wear.damage']!)).toBeLessThan(0.25 * damage);
  expect(whatif(plain, rangeOf(log), report(plain, rangeOf(log)).figures, {}).base.errorsAsItWas).toBeNull();
});

test('a log by seconds begins its outages where its load is', () => {
  const minutes = simulatedStore({
    ...{ seed: 31, days: 4, stepSeconds: 60, idleW: 30, efficiency: 0.92, socStep: 0.001 },
  });
  // The same, each minute written down three times.
  const seconds: SourceLog = {
    ...minutes,
    stepMs: minutes.stepMs / 3,
    count: 3 * minutes.count,
    columns: new Map(
      [...minutes.columns].map(([name, { values, resolution }]) => [
        name,
        {
          values: Float64Array.from({ length: 3 * values.length }, (_, i) => values[Math.floor(i / 3)]!),
          resolution,
        },
      ]),
    ),
  };
  const of = (log: SourceLog) => runnerOf(STORE_HOME, log).base.modelled['outage.survive.12h']!.value!;
  expect(of(minutes)).toBeGreaterThan(0);
  expect(Math.abs(of(seconds) - of(minutes))).toBeLessThan(0.05);
});

describe('charges from the grid in a log', () => {
  // From 23:00 to 05:00 at 1 kW up to 80 %, serving 0.3 kW from the battery otherwise.
  const charged = (isCharged: (day: number) => boolean) => {
    let stored = 3000;
    return hourly(28, (hour) => {
      const soc = stored / 10_000;
      const isIn = isCharged(Math.floor((hour + 1) / 24)) && (hour % 24 >= 23 || hour % 24 < 5);
      const battery = isIn ? (soc < 0.799 ? -1000 : 0) : soc > 0.2 ? 300 : 0;
      stored -= battery;
      return { load: 300, solar: 0, grid: 300 - battery, battery, soc };
    });
  };
  const of = (log: SourceLog) => gridCharging(rangeDataOf(prepare(HOME, [log]), rangeOf(log)));

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
    const home = { ...HOME, tariffs };
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
    const { base } = runnerOf(HOME, log);
    const load = 28 * 24 * 0.3;
    expect(Math.abs(base.errors['account.charge']!)).toBeLessThan(0.1 * load);
    // This battery loses nothing; the model takes the usual 30 W and a tenth of what is charged.
    const losses = 28 * 24 * 0.03 + 0.1 * base.logged['account.charge']!.value!;
    expect(Math.abs(base.errors['account.import']! - losses)).toBeLessThan(0.05 * load);
  });

  test('are none where the sun alone charges', () => {
    const log = hourly(14, (hour) => {
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

describe('a better description', () => {
  // 0.4 kW by day and night, a sun that fills the battery by day, served by night down to a floor.
  const served = (floorAt: (hour: number) => number, more: { exportW?: number } = {}) => {
    let stored = 5000;
    return hourly(60, (hour) => {
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
  const of = (log: SourceLog, system = HOME) =>
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

  test('names limits of charge and discharge that the log shows, where none are described', () => {
    const [configuration] = withReserve(0.5).configurations!;
    const battery = { ...configuration!.battery };
    delete battery.maxChargeKW;
    delete battery.maxDischargeKW;
    const bare = { ...HOME, configurations: [{ ...configuration!, battery, inverter: {} }] };
    // A charger of 1.2 kW under a sun of 2.5 kW, and a discharge of 0.4 kW that only the load sets.
    let stored = 6000;
    const log = hourly(120, (hour) => {
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
  const [configuration] = HOME.configurations!;
  const battery = { ...configuration!.battery };
  if (reserve === undefined) delete battery.reserve;
  else battery.reserve = reserve;
  return { ...HOME, configurations: [{ ...configuration!, battery }] };
}

describe('how many inverters', () => {
  // 1000 hours of 1 kW, of which two are at 3 kW with 1.8 kW on the second leg, and one at 5 kW.
  const log = hourly(42, (hour) => {
    const load = hour === 500 ? 5000 : hour === 100 || hour === 200 ? 3000 : 1000;
    return { load, leg1: load - 0.6 * load, leg2: 0.6 * load, solar: 0, grid: load, battery: 0, soc: 0.5 };
  });
  const data = rangeDataOf(prepare(HOME, [log]), rangeOf(log));

  test('carry the highest load, each leg and each start, counted by hand', () => {
    const pump = { name: 'pump', watts: 800, startFactor: 5, essential: false, canWait: false };
    const { counts, least, highestW, usualPeakW } = inverterCounts(data, [pump])!;
    expect(highestW).toBe(5000);
    expect(usualPeakW).toBeGreaterThanOrEqual(3000);
    expect(usualPeakW).toBeLessThan(3010);
    // Limits 2, 4 and 6 kW; of a leg 1.2, 2.4 and 3.6 kW; surges 4, 8 and 12 kW against 3 + 0.8 × 4 = 6.2 kW.
    expect(
      counts.map(({ hoursAbove, hoursAboveLeg, failingStarts, isEnough }) => [
        hoursAbove,
        hoursAboveLeg,
        failingStarts,
        isEnough,
      ]),
    ).toEqual([
      [3, 3, ['pump'], false],
      [1, 1, [], false],
      [0, 0, [], true],
    ]);
    expect(least).toBe(3);
  });

  test('of many installed are told around their number, not from one on', () => {
    const [configuration] = HOME.configurations!;
    const many = {
      ...HOME,
      configurations: [{ ...configuration!, inverter: { ...configuration!.inverter, units: 900 } }],
    };
    const { counts } = inverterCounts(rangeDataOf(prepare(many, [log]), rangeOf(log)), [])!;
    expect(counts.map(({ units }) => units)).toEqual([898, 899, 900, 901, 902]);
  });

  test('are not told without a described limit', () => {
    const [configuration] = HOME.configurations!;
    const bare = { ...HOME, configurations: [{ ...configuration!, inverter: {} }] };
    expect(inverterCounts(rangeDataOf(prepare(bare, [log]), rangeOf(log)), [])).toBeNull();
  });
});

describe('a storm plan', () => {
  // 0.4 kW all day, no sun, the battery kept at its reserve of 20 % of 10 kWh: lossless by the description of its trial.
  const log = hourly(60, () => ({ load: 400, solar: 0, grid: 400, battery: 0, soc: 0.2 }));
  const prepared = prepare(HOME, [log]);

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
    const [configuration] = HOME.configurations!;
    const alone = prepare({ ...HOME, configurations: [{ ...configuration!, grid: 'none' }] }, [log]);
    expect(() => stormPlan(alone, rangeOf(log), '2026-02-01T18:00')).toThrow(/has no grid/);
  });
});
