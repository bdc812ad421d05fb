import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { ModelHome } from './modelHome.js';
import { modelRun, type ModelInputs } from './modelRun.js';

const PLAIN: ModelHome = {
  coupling: 'ac',
  hasGrid: true,
  fullWh: 2000,
  reserve: 0,
  cutOff: 0,
  drawsBelowReserve: false,
  drawsWhenEmpty: true,
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

  test('a battery at its reserve is kept up by the grid, or feeds nothing, as it is told; the sun fills it from where it stood', () => {
    const idle = { ...PLAIN, idleW: 50, reserve: 0.2 };
    const night = inputs([500, 500, 500], [0, 0, 700], { socStart: 0.2 });
    const fed = modelRun(idle, night);
    const asleep = modelRun({ ...idle, drawsWhenEmpty: false }, night);
    expect(fed.importKWh - asleep.importKWh).toBeCloseTo((3 * 50) / 1000, 12);
    for (const { storeChangeKWh } of [fed, asleep]) expect(storeChangeKWh).toBeCloseTo(0.2, 12);
    // Above it it draws from its cells all the same.
    const full = modelRun(
      { ...idle, drawsWhenEmpty: false, reserve: 0.5 },
      inputs([0, 0], [0, 0], { socStart: 1 }),
    );
    expect(full.storeChangeKWh).toBeCloseTo(-0.1, 12);
    expect(full.importKWh).toBe(0);
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
