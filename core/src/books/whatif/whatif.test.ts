import { describe, expect, test } from '@jest/globals';
import { endMs } from '../../model/log.js';
import { prepare } from '../../passes/prepare.js';
import { report } from '../../report/report.js';
import { simulatedStore, STORE_HOME } from '../../testing/store.js';
import { simulatedSun, type SunTruth } from '../../testing/sun.js';
import { parseSystem } from '../../system/parse.js';
import type { System } from '../../system/schema.js';
import { parseScenario, type Change } from './scenarioFile.js';
import { whatif } from './whatif.js';
import { longTest } from '../../testing/long.js';

describe('scenarios', () => {
  const log = simulatedStore({
    seed: 12,
    days: 120,
    stepSeconds: 900,
    idleW: 35,
    efficiency: 0.9,
    socStep: 0.01,
  });
  const system: System = {
    ...STORE_HOME,
    tariffs: [{ from: '2023-01-01', import: [{ rate: 0.3 }], export: [{ rate: 0.05 }] }],
  };
  const prepared = prepare(system, [log]);
  const range = { fromMs: log.startMs, toMs: endMs(log) };
  const { figures } = report(prepared, range);
  const run = (...changes: Change[]) =>
    whatif(prepared, range, figures, {
      scenarios: changes.map((change, k) => ({ schema: 'long-tally/scenario@1', name: String(k), change })),
    });

  test('one that changes nothing is the modelled base to the last digit, and the base stands close to the log', () => {
    const { base, scenarios } = run({});
    for (const [key, figure] of Object.entries(base.modelled))
      expect([key, scenarios[0]!.figures[key]!.value]).toEqual([key, figure.value]);
    const load = figures['account.load']!.value!;
    for (const key of ['account.import', 'account.export', 'account.charge', 'account.discharge'])
      expect([key, Math.abs(base.errors[key]!) < 0.03 * load]).toEqual([key, true]);
    expect(
      base.modelled['account.import']!.low! <= figures['account.import']!.value! &&
        figures['account.import']!.value! <= base.modelled['account.import']!.high!,
    ).toBe(true);
  });

  test('with a price is set against what it saves, where the range is a year', () => {
    const priced = (price?: number) =>
      whatif(prepared, range, figures, {
        scenarios: [
          { schema: 'long-tally/scenario@1', name: 'x', change: { battery: { modules: 4 } }, price },
        ],
      }).scenarios[0]!.payback;
    expect(priced()).toBeNull();
    expect(priced(3000)).toMatchObject({ price: 3000, years: null, says: expect.stringMatching(/120 days/) });
  });

  longTest('a range over a change of the system says that the model has the last one all along', () => {
    const [before] = STORE_HOME.configurations!;
    const changed = { ...before!, from: new Date(log.startMs + 60 * 86_400_000).toISOString(), name: 'new' };
    const after = prepare({ ...system, configurations: [before!, changed] }, [log]);
    expect(run({}).base.causes).toEqual([]);
    expect(whatif(after, range, report(after, range).figures, {}).base.causes).toEqual([
      expect.stringMatching(/^The system changed within this range, last on \d{4}-\d\d-\d\d \(“new”\)/),
    ]);
    const later = { ...range, fromMs: log.startMs + 60 * 86_400_000 };
    expect(whatif(after, later, report(after, later).figures, {}).base.causes).toEqual([]);
  });

  test('differences have their interval; a sweep has its knee; loads come in any order', () => {
    const { scenarios } = run(
      { battery: { modules: 1 } },
      { noBattery: true },
      {
        addLoads: [
          { name: 'car', kWhPerDay: 6, start: '23:00', end: '05:00', kW: 3 },
          { name: 'pump', kWhPerDay: 2, start: '10:00', end: '14:00', kW: 1 },
        ],
      },
      {
        addLoads: [
          { name: 'pump', kWhPerDay: 2, start: '10:00', end: '14:00', kW: 1 },
          { name: 'car', kWhPerDay: 6, start: '23:00', end: '05:00', kW: 3 },
        ],
      },
    );
    const difference = (k: number, key: string) => scenarios[k]!.figures[key]!.basis.difference!;
    expect(difference(0, 'account.import').low).toBeGreaterThan(0);
    expect(difference(1, 'money.bill').low).toBeGreaterThan(0);
    // The first night's window begins an hour before the log's second day.
    expect(Math.abs(difference(2, 'account.import').value)).toBeGreaterThan(300);
    expect(scenarios[2]!.figures['account.import']!.value).toBeCloseTo(
      scenarios[3]!.figures['account.import']!.value!,
      6,
    );
    const swept = whatif(prepared, range, figures, {
      sweep: { key: 'battery.modules', tells: 'energies', values: [1, 2, 3, 4, 6, 8] },
    });
    const shares = swept.sweep.map(({ figures: own }) => own['account.selfSufficiency.supply']!.value!);
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect(swept.knee!.reason).toMatch(/gains .* points, less than 1/);
  });

  // Simulated again with the change, as truth.
  longTest.each([
    ['another export limit', { exportLimitKW: 1 }, { exportLimitKW: 1 }],
    ['a battery of twice the size', { battery: { modules: 2 } }, { capacityKWh: 20 }],
    ['arrays half as large again', { arraysScale: { all: 1.5 } }, { kWp: 7.5 }],
  ] as const)('%s is told as the home simulated with it has it', (_, change, truth) => {
    const home: SunTruth = {
      seed: 7,
      days: 150,
      stepSeconds: 900,
      coupling: 'ac',
      kWp: 5,
      ratingKW: 12,
      exportLimitKW: null,
      hasGrid: true,
      capacityKWh: 10,
    };
    const [before, after] = [simulatedSun(home), simulatedSun({ ...home, ...truth })];
    const flows = (one: typeof before) => {
      const grid = one.log.columns.get('grid')!.values;
      const sum = (sign: 1 | -1) =>
        grid.reduce((total, watts) => total + Math.max(0, sign * watts), 0) / 4000;
      return { import: sum(1), export: sum(-1) };
    };
    const own = prepare(before.system, [before.log]);
    const whole = { fromMs: before.log.startMs, toMs: endMs(before.log) };
    const told = whatif(own, whole, report(own, whole).figures, {
      scenarios: [{ schema: 'long-tally/scenario@1', name: 'x', change }],
    });
    const load = before.log.columns.get('load')!.values.reduce((sum, watts) => sum + watts, 0) / 4000;
    for (const key of ['import', 'export'] as const) {
      const difference = told.scenarios[0]!.figures[`account.${key}`]!.basis.difference!;
      const real = flows(after)[key] - flows(before)[key];
      expect(Math.abs(difference.value - real)).toBeLessThan(Math.max(0.05 * Math.abs(real), 0.01 * load));
      expect(difference.low <= real && real <= difference.high).toBe(true);
    }
  });

  test('with no sun an outage is survived no more often, with twice of it no less', () => {
    const share = (change: Change) => run(change).scenarios[0]!.figures['outage.survive.24h']!.value!;
    const [none, as, twice] = [share({ noSolar: true }), share({}), share({ arraysScale: { all: 2 } })];
    expect(none).toBeLessThan(as);
    expect(twice).toBeGreaterThan(as);
  });

  test('floors by the time of day are read from the system file', () => {
    const floor = { start: '00:00', end: '08:00', reserve: 0.4, months: [1] };
    const [configuration] = prepared.system.configurations!;
    const system = {
      ...prepared.system,
      configurations: [
        { ...configuration!, battery: { ...configuration!.battery, reserveWindows: [floor] } },
      ],
    };
    const read = parseSystem(JSON.stringify(system), 's.json');
    expect(read.configurations![0]!.battery!.reserveWindows).toEqual([floor]);
    const wrong = { ...floor, reserve: 40 };
    system.configurations[0]!.battery.reserveWindows = [wrong];
    expect(() => parseSystem(JSON.stringify(system), 's.json')).toThrow(/reserveWindows\[0\]\.reserve/);
  });

  test('what a home cannot mean is told with its key', () => {
    const parse = (change: object) => () =>
      parseScenario(JSON.stringify({ schema: 'long-tally/scenario@1', change }), 's.json');
    expect(parse({ batery: { modules: 3 } })).toThrow(/batery/);
    expect(parse({ battery: { modules: 1e6 } })).toThrow(/at most 10000/);
    expect(parse({ arraysScale: { all: -1 } })).toThrow(/arraysScale\.all/);
    expect(parse({ chargeWindows: [{ start: '23:00' }] })).toThrow(/chargeWindows\[0\]\.end/);
    expect(parse({ battery: { reserve: 0.1, cutOff: 0.2 } })).toThrow(/no lower than the cut-off/);
    expect(() => run({ removeLoads: ['pool'] })).toThrow(/No part of the load is logged by the name "pool"/);
    expect(() => run({ arraysScale: { barn: 2 } })).toThrow(
      /Scenario ".*key change\.arraysScale\.barn: There is no array "barn"/,
    );

    expect(() =>
      whatif(prepared, range, figures, {
        sweep: { key: 'battery.colour', tells: 'energies', values: [1] },
      }),
    ).toThrow(/cannot be swept/);
  });
});
