import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { endMs } from '../../model/log.js';
import { prepare } from '../../passes/prepare.js';
import { report } from '../../report/report.js';
import { simulatedStore, STORE_HOME } from '../../testing/store.js';
import { simulatedSun, type SunTruth } from '../../testing/sun.js';
import { parseSystem } from '../../system/parse.js';
import type { System } from '../../system/schema.js';
import type { ModelHome } from './modelHome.js';
import { modelRun, type ModelInputs } from './modelRun.js';
import { parseScenario, type Change } from './scenarioFile.js';
import { whatif } from './whatif.js';

const PLAIN: ModelHome = {
  coupling: 'ac',
  hasGrid: true,
  fullWh: 2000,
  reserve: 0,
  cutOff: 0,
  drawsBelowReserve: false,
  nameplateWh: 2000,
  chargeEfficiency: 1,
  efficiency: 1,
  idleW: 0,
  inverterIdleW: 0,
  chargeW: Infinity,
  dischargeW: Infinity,
  acLimitW: Infinity,
  batteryOnlyW: Infinity,
  perLegW: null,
  exportLimitW: Infinity,
  gridChargeLimitW: Infinity,
  trickleW: 0,
  windows: [],
  datedCharges: [],
  reserveWindows: [],
  strategy: 'self-use',
  knowsTomorrow: false,
  capacityOff: 0.05,
  described: null,
};
const inputs = (
  load: readonly number[],
  solar: readonly number[],
  more: Partial<ModelInputs> = {},
): ModelInputs => ({
  startMs: Date.UTC(2024, 0, 1),
  stepMs: 3_600_000,
  zone: 'UTC',
  load: Float64Array.from(load),
  solar: Float64Array.from(solar),
  buy: null,
  socStart: 0,
  surplusLoad: null,
  ...more,
});

describe('a run of the model', () => {
  test('of Luthander’s example with a lossless store of 2 kWh: self-consumption 5/7, self-sufficiency 5/6 (Applied Energy 142, 2015)', () => {
    const run = modelRun(PLAIN, inputs([1000, 1000, 1000, 3000], [0, 2000, 4000, 1000]));
    expect(1 - run.exportKWh / 7).toBeCloseTo(5 / 7, 12);
    expect(1 - run.importKWh / run.loadKWh).toBeCloseTo(5 / 6, 12);
  });

  test('7 kW of panels behind 6 kW: 1 kW is clipped, of which a battery on the DC side takes its share; 52 kWh at 20 a day last 2.6 days (common practice)', () => {
    const hybrid = { ...PLAIN, coupling: 'dc', acLimitW: 6000, fullWh: 600, chargeW: 400 } as const;
    const run = modelRun(hybrid, inputs([0, 0], [7000, 7000]));
    expect([run.clippedKWh, run.chargeKWh, run.exportKWh]).toEqual([
      expect.closeTo(1.4, 9),
      expect.closeTo(0.6, 9),
      expect.closeTo(12, 9),
    ]);
    const alone = { ...PLAIN, hasGrid: false, fullWh: 52_000 };
    const hours = modelRun(
      alone,
      inputs(new Array<number>(80).fill(20_000 / 24), new Array<number>(80).fill(0), { socStart: 1 }),
    );
    expect(hours.unservedKWh).toBeCloseTo((80 - 2.6 * 24) * (20 / 24), 6);
  });

  test('a charge window fills up to its target within the limit shared with the load, and keeps it until it ends', () => {
    const home = {
      ...PLAIN,
      fullWh: 10_000,
      chargeW: 5000,
      gridChargeLimitW: 4000,
      windows: [{ start: '00:00', end: '03:00', toSoc: 0.5, months: null, chargeW: null }],
    };
    const { courses, importW } = modelRun(home, inputs([1000, 2000, 1000, 1000], [0, 0, 0, 0]));
    expect([...courses.soc]).toEqual([0, 0.3, 0.5, 0.5]);
    expect([...importW]).toEqual([4000, 4000, 1000, 0]);
  });

  test('cheap hours fill to a share, or with tomorrow known for what it lacks; peaks are left to them', () => {
    // Six cheap hours, then 1 kW for ten, of which the sun carries four.
    const load = [
      ...new Array<number>(6).fill(0),
      ...new Array<number>(10).fill(1000),
      ...new Array<number>(8).fill(0),
    ];
    const sun = load.map((_, hour) => (hour >= 10 && hour < 14 ? 1000 : 0));
    const buy = Float64Array.from(load, (_, hour) => (hour < 6 ? 0.1 : 0.3));
    const home = { ...PLAIN, fullWh: 10_000, reserve: 0.1, strategy: 'cheap-charge' } as const;
    const at = { buy, socStart: 0.1 };
    const plain = modelRun(home, inputs(load, sun, at));
    expect(plain.courses.soc[6]).toBeCloseTo(0.9, 12);
    const known = modelRun({ ...home, knowsTomorrow: true }, inputs(load, sun, at));
    expect(known.courses.soc[6]).toBeCloseTo(0.7, 12);
    expect(known.importKWh).toBeCloseTo(6, 12);
    expect(known.courses.soc[23]).toBeCloseTo(0.1, 12);
    // Where every hour costs the same none is cheap.
    const flat = modelRun(home, inputs(load, sun, { buy: buy.map(() => 0.3), socStart: 0.1 }));
    expect(flat.courses.soc[6]).toBeCloseTo(0.1, 12);
    const shaved = modelRun(
      { ...home, strategy: 'peak-shave' },
      inputs(new Array<number>(24).fill(500), new Array<number>(24).fill(0), { buy, socStart: 0.9 }),
    );
    expect([shaved.courses.soc[6], shaved.courses.soc[8]]).toEqual([
      expect.closeTo(0.9, 12),
      expect.closeTo(0.8, 12),
    ]);
  });

  test('what an inverter draws comes from the sun, then from the battery down to its reserve, then from the grid', () => {
    const home = { ...PLAIN, coupling: 'dc', inverterIdleW: 100, reserve: 0.9 } as const;
    const run = modelRun(home, inputs([0, 0, 0, 0, 0], [300, 100, 40, 0, 0], { socStart: 0.9 }));
    expect(run.chargeKWh).toBeCloseTo(0.2, 12);
    expect(run.dischargeKWh).toBeCloseTo(0.06 + 0.1 + 0.04, 12);
    expect(run.importKWh).toBeCloseTo(0.06, 12);
  });

  test('conserves energy, and more capacity never lowers self-sufficiency under self-use', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ load: fc.integer({ min: 0, max: 40 }), sun: fc.integer({ min: 0, max: 60 }) }), {
          minLength: 10,
          maxLength: 100,
        }),
        fc.record({
          coupling: fc.constantFrom('ac' as const, 'dc' as const),
          chargeEfficiency: fc.constantFrom(1, 0.9),
          efficiency: fc.constantFrom(1, 0.95),
          chargeW: fc.constantFrom(Infinity, 2000),
          dischargeW: fc.constantFrom(Infinity, 1500),
          acLimitW: fc.constantFrom(Infinity, 3000),
          exportLimitW: fc.constantFrom(Infinity, 500, 0),
          reserve: fc.constantFrom(0, 0.2),
          inverterIdleW: fc.constantFrom(0, 150),
          fullWh: fc.integer({ min: 1, max: 20 }).map((units) => units * 1000),
        }),
        (list, home) => {
          const of = (fullWh: number) =>
            modelRun(
              {
                ...PLAIN,
                ...home,
                efficiency: home.coupling === 'dc' ? home.efficiency : 1,
                inverterIdleW: home.coupling === 'dc' ? home.inverterIdleW : 0,
                fullWh,
                nameplateWh: fullWh,
              },
              inputs(
                list.map(({ load }) => load * 100),
                list.map(({ sun }) => sun * 100),
              ),
            );
          const run = of(home.fullWh);
          const efficiency = home.coupling === 'dc' ? home.efficiency : 1;
          const stored = run.chargeKWh * home.chargeEfficiency * efficiency - run.dischargeKWh * efficiency;
          expect(run.storeChangeKWh).toBeCloseTo(stored, 6);
          // What the sun gave beyond the charge arrives by way of the inverter.
          const arrived =
            (run.solarKWh - run.chargeKWh) * efficiency + run.dischargeKWh * efficiency + run.importKWh;
          const inverter =
            home.coupling === 'dc' ? (home.inverterIdleW * efficiency * list.length) / 1000 : 0;
          expect(arrived).toBeCloseTo(run.loadKWh + run.exportKWh + inverter, 6);
          expect(of(home.fullWh * 2).importKWh).toBeLessThanOrEqual(
            run.importKWh + 1e-9 + home.reserve * home.fullWh * 1e-3,
          );
        },
      ),
      { numRuns: 200 },
    );
  });

  test('two halves joined equal the whole, the charge carried over', () => {
    const [load, sun] = [
      Array.from({ length: 96 }, (_, i) => 300 + 50 * (i % 24)),
      Array.from({ length: 96 }, (_, i) => (i % 24 > 8 && i % 24 < 17 ? 2500 : 0)),
    ];
    const home = { ...PLAIN, fullWh: 8000, idleW: 40, chargeEfficiency: 0.9 };
    const whole = modelRun(home, inputs(load, sun, { socStart: 0.5 }));
    const first = modelRun(home, inputs(load.slice(0, 48), sun.slice(0, 48), { socStart: 0.5 }));
    const second = modelRun(
      home,
      inputs(load.slice(48), sun.slice(48), {
        socStart: whole.courses.soc[48]!,
        startMs: Date.UTC(2024, 0, 3),
      }),
    );
    expect(first.importKWh + second.importKWh).toBeCloseTo(whole.importKWh, 9);
    expect(first.exportKWh + second.exportKWh).toBeCloseTo(whole.exportKWh, 9);
  });
});

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

  test('a range over a change of the system says that the model has the last one all along', () => {
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
      { battery: { modules: 4 } },
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
    expect(difference(0, 'account.import').high).toBeLessThan(0);
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
  test.each([
    ['another export limit', {}, { exportLimitKW: 1 }, { exportLimitKW: 1 }],
    ['a battery of twice the size', {}, { battery: { modules: 2 } }, { capacityKWh: 20 }],
    ['arrays half as large again', {}, { arraysScale: { all: 1.5 } }, { kWp: 7.5 }],
  ] as const)('%s is told as the home simulated with it has it', (_, base, change, truth) => {
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
      ...base,
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
