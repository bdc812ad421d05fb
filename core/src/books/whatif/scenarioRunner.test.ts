import { describe, expect, test } from '@jest/globals';
import type { SourceLog } from '../../model/log.js';
import { prepare } from '../../passes/prepare.js';
import { report } from '../../report/report.js';
import { HOUR_MS, rangeOf, runnerOf } from '../../testing/handHome.js';
import { simulatedStore, STORE_HOME } from '../../testing/store.js';
import type { Change } from './scenarioFile.js';
import { whatif } from './whatif.js';
import { longTest } from '../../testing/long.js';

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
    const { value, low, high } = months.find(({ month }) => month === first)!.figures.import;
    expect(value).toBeCloseTo((bought / cells) * 0.024, 1);
    expect(low).toBeLessThan(value!);
    expect(high).toBeGreaterThan(value!);
    // In a month that buys every hour, its meter's class and what its zero may be off by.
    const { figures } = months.reduce((most, month) =>
      month.figures.import.value! > most.figures.import.value! ? month : most,
    );
    const most = figures.import;
    expect(most.high! - most.value!).toBeGreaterThan(0.01 * most.value!);
    expect(most.high! - most.value!).toBeLessThan(0.02 * most.value! + 0.14);
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

longTest(
  'a range before the last change is modelled with what there was then, one over it by each stretch',
  () => {
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
    const twice = {
      ...before!,
      from,
      battery: { ...before!.battery, modules: 2 * before!.battery!.modules! },
    };
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
    expect(
      whatif(plain, rangeOf(log), report(plain, rangeOf(log)).figures, {}).base.errorsAsItWas,
    ).toBeNull();
  },
);

longTest('a log by seconds begins its outages where its load is', () => {
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
