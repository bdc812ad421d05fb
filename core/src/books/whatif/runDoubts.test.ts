import { describe, expect, test } from '@jest/globals';
import { endMs, type SourceLog } from '../../model/log.js';
import type { Quantity } from '../../model/quantity.js';
import { prepare, rangeDataOf } from '../../passes/prepare.js';
import { report } from '../../report/report.js';
import { seededRandom } from '../../statistics/random.js';
import type { System } from '../../system/schema.js';
import { longTest } from '../../testing/long.js';
import { simulatedSun, type SunTruth } from '../../testing/sun.js';
import { runDoubts } from './runDoubts.js';
import type { Change } from './scenarioFile.js';
import { homeModel, valuesOf } from './scenarioValues.js';
import { scenarioRunner } from './scenarioRunner.js';

// Simulated homes (invented, with known truth).
const HOME: SunTruth = {
  ...{ seed: 11, days: 120, stepSeconds: 900, coupling: 'ac', kWp: 7, ratingKW: 8 },
  ...{ exportLimitKW: null, hasGrid: true, capacityKWh: 9, reserve: 0 },
};
const EXACT = { solar: 0, load: 0, grid: 0, battery: 0, soc: 0, offsetW: 0 };
const TARIFFS: System['tariffs'] = [{ from: '2020-01-01', import: [{ rate: 0.3 }], export: [{ rate: 0.1 }] }];
const LIMITED: Change = { exportLimitKW: 2 };

function movesOf(truth: SunTruth, change: Change, more: Partial<System> = {}) {
  const { system, log } = simulatedSun(truth);
  const prepared = prepare({ ...system, tariffs: TARIFFS, ...more }, [log]);
  const model = homeModel(prepared, rangeDataOf(prepared, { fromMs: log.startMs, toMs: endMs(log) }));
  const base = model.run({});
  const modelled = model.run(change);
  const values = valuesOf(model, modelled, null);
  return { ...runDoubts(model, base, valuesOf(model, base, null))(change, modelled, values), values };
}

describe('what the figures of a change may be off by', () => {
  test('is nothing of its difference where nothing changes', () => {
    const { difference } = movesOf(HOME, {});
    for (const key of ['account.import', 'solar.heldBack', 'money.bill'] as const)
      expect(difference(key)).toEqual({ half: 0, below: 0, above: 0 });
  });

  test('grows with the meters: a sun read too high by 3 % moves what a limit holds back by more than that', () => {
    const { difference, values } = movesOf(HOME, LIMITED);
    expect(difference('solar.heldBack').half).toBeGreaterThan(0.03 * values['solar.heldBack']);
    const exact = movesOf(HOME, LIMITED, { accuracy: EXACT });
    expect(exact.difference('solar.heldBack').half).toBe(0);
  });

  test('has the side on which means of a step hide what is above a limit', () => {
    const { difference } = movesOf({ ...HOME, stepSeconds: 3600 }, LIMITED, { accuracy: EXACT });
    const { below, above } = difference('solar.heldBack');
    expect(above).toBeGreaterThan(0);
    expect(below).toBe(0);
    // What is held back is not sold.
    expect(difference('account.export').below).toBeLessThan(0);
    expect(difference('money.bill').above).toBeGreaterThan(0);
  });

  test('takes a gap of the log for no more than a gap', () => {
    const { system, log } = simulatedSun(HOME);
    const columns = [...log.columns].map(([quantity, column]) => {
      const values = column.values.map((value, i) => (i % 97 < 9 ? NaN : value));
      return [quantity, { ...column, values }] as const;
    });
    const prepared = prepare({ ...system, accuracy: EXACT }, [{ ...log, columns: new Map(columns) }]);
    const model = homeModel(prepared, rangeDataOf(prepared, { fromMs: log.startMs, toMs: endMs(log) }));
    const base = model.run({});
    const values = valuesOf(model, base, null);
    const { below, above } = runDoubts(model, base, values)({}, base, values).value('account.export');
    // A tenth of the log is missing; what its step hides of the export stays far below that.
    expect(above - below).toBeLessThan(0.001 * values['account.export']);
  });

  test('tells a bill that moves by the rates, and a saving against it', () => {
    const { difference } = movesOf(HOME, LIMITED, { accuracy: { ...EXACT, solar: 0.03 } });
    const [bought, sold, bill, saved] = (
      ['account.import', 'account.export', 'money.bill', 'money.saving'] as const
    ).map((key) => difference(key).half) as [number, number, number, number];
    expect(bill).toBeCloseTo(Math.abs(0.3 * bought - 0.1 * sold), 6);
    expect(saved).toBeCloseTo(bill, 6);
  });

  test('allows for a battery that draws on below a reserve that the home never had', () => {
    const kept = movesOf(HOME, { battery: { reserve: 0.5 } }, { accuracy: EXACT });
    const lower = movesOf({ ...HOME, reserve: 0.3 }, { battery: { reserve: 0.5 } }, { accuracy: EXACT });
    const width = ({ difference }: typeof kept) => {
      const { below, above } = difference('account.import');
      return above - below;
    };
    expect(width(kept)).toBeGreaterThan(2 * width(lower));
  });
});

test('the working of a figure has every part of its interval', () => {
  const { system, log } = simulatedSun({ ...HOME, stepSeconds: 3600 });
  const prepared = prepare({ ...system, tariffs: TARIFFS }, [log]);
  const range = { fromMs: log.startMs, toMs: endMs(log) };
  const runner = scenarioRunner(prepared, range, report(prepared, range).figures);
  const { figures } = runner.scenario({ schema: 'long-tally/scenario@1', name: 'limit', change: LIMITED });
  const { value, low, high, working } = figures['account.export']!;
  const partOf = (says: RegExp) => working.find(({ label }) => says.test(label))?.value ?? 0;
  const sided = (wanted: string) => working.find(({ side }) => side === wanted)?.value ?? 0;
  const either = Math.hypot(partOf(/^what the model misses/), partOf(/^gains of the meters/));
  expect(sided('below')).toBeGreaterThan(0);
  expect(low).toBeCloseTo(value! - either - sided('below'), 6);
  expect(high).toBeCloseTo(value! + either + sided('above'), 6);
});

/** Sums of a log by the minute, kWh. */
function truthOf(truth: SunTruth) {
  const { log, lost } = simulatedSun({ ...truth, stepSeconds: 60 });
  const sum = (quantity: Quantity, of: (watts: number) => number) =>
    log.columns.get(quantity)!.values.reduce((total, watts) => total + of(watts) / 60_000, 0);
  const bought = sum('grid', (watts) => Math.max(0, watts));
  const sold = sum('grid', (watts) => Math.max(0, -watts));
  return {
    'account.import': bought,
    'account.export': sold,
    'account.discharge': sum('battery', (watts) => Math.max(0, watts)),
    'solar.heldBack': lost.heldBack,
    'money.bill': 0.3 * bought - 0.1 * sold,
  };
}

/** A log as meters read it that err by so much. */
function readBy(log: SourceLog, gains: Partial<Record<Quantity, number>>): SourceLog {
  const columns = [...log.columns].map(([quantity, column]) => {
    const gain = gains[quantity] ?? 1;
    return [
      quantity,
      { ...column, values: column.values.map((value) => Math.round(value * gain * 100) / 100) },
    ] as const;
  });
  return { ...log, columns: new Map(columns) };
}

// Each home again with the change, by the minute: what it changes is to lie within the interval of what the model says of the
// home's log by the quarter of an hour or the hour, behind meters that err within their class.
longTest(
  'intervals of differences hold what the same home does with the change, at coarse steps and behind meters that err',
  () => {
    const random = seededRandom(2026);
    const within = (share: number) => 1 + share * (2 * random() - 1);
    const changes: readonly (readonly [Change, (of: SunTruth) => SunTruth])[] = [
      [{ exportLimitKW: 2 }, (of) => ({ ...of, exportLimitKW: 2 })],
      [
        { battery: { modules: 2, maxChargeKW: 3.5, maxDischargeKW: 3.5 } },
        (of) => ({ ...of, capacityKWh: 2 * of.capacityKWh }),
      ],
      [{ battery: { reserve: 0.4 } }, (of) => ({ ...of, reserve: 0.4 })],
    ];
    let [held, all] = [0, 0];
    const missed: string[] = [];
    for (const stepSeconds of [900, 3600])
      for (let home = 0; home < 4; home++) {
        const truth: SunTruth = {
          ...HOME,
          seed: 70 + home,
          days: 365,
          stepSeconds,
          kWp: 5 + home,
          capacityKWh: 6 + 3 * home,
        };
        const { system, log } = simulatedSun(truth);
        const gains = { solar: within(0.03), load: within(0.02), grid: within(0.02), battery: within(0.03) };
        const prepared = prepare({ ...system, tariffs: TARIFFS }, [readBy(log, gains)]);
        const range = { fromMs: log.startMs, toMs: endMs(log) };
        const runner = scenarioRunner(prepared, range, report(prepared, range).figures);
        const was = truthOf(truth);
        for (const [change, changed] of changes) {
          const { figures } = runner.scenario({ schema: 'long-tally/scenario@1', name: 'tried', change });
          const is = truthOf(changed(truth));
          for (const key of Object.keys(was) as (keyof typeof was)[]) {
            const { low, high } = figures[key]!.basis.difference!;
            const real = is[key] - was[key];
            all++;
            if (real >= low - 1e-6 && real <= high + 1e-6) held++;
            else
              missed.push(
                `${stepSeconds} s, home ${home}, ${JSON.stringify(change)}, ${key}: ${real} not in ${low} to ${high}`,
              );
          }
        }
      }
    expect([held / all >= 0.9, ...(held / all >= 0.9 ? [] : missed)]).toEqual([true]);
    expect(all).toBe(120);
  },
);
