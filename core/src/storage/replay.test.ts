import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { kaplanMeier, survivalAt, survivalQuantile } from '../statistics/kaplanMeier.js';
import { compose, type Demand } from './compose.js';
import type { StorageParameters } from './parameters.js';
import { ISLAND } from './policy.js';
import { needFor, replay, type Run } from './replay.js';
import { step } from './step.js';

/** What a step of a demand meets. */
const conditionsOf = ({ load, use, solar, overLeg, stepMs }: Demand, cell: number) => ({
  loadW: load[cell]! * use,
  solarW: solar[cell]!,
  overLeg: overLeg?.[cell] ?? 0,
  fromGridW: 0,
  minute: 0,
  hours: stepMs / 3_600_000,
});

/** The replay as one would write it down: from one start, step by step. */
function plainly(
  demand: Demand,
  store: StorageParameters,
  charge: number,
  start: number,
  horizonH: number,
): Run | null {
  const cellsAnHour = 3_600_000 / demand.stepMs;
  const hours = Math.floor(demand.load.length / cellsAnHour);
  const isKnown = (hour: number) => {
    for (let cell = hour * cellsAnHour; cell < (hour + 1) * cellsAnHour; cell++)
      if (Number.isNaN(demand.load[cell]! - demand.solar[cell]!)) return false;
    return true;
  };
  if (Number.isNaN(charge) || !isKnown(start)) return null;
  let stored = Math.min(charge, store.capacityWh);
  for (let hour = start; ; hour++) {
    if (hour - start === horizonH || hour === hours || !isKnown(hour))
      return { hours: hour - start, isCensored: true };
    for (let cell = hour * cellsAnHour; cell < (hour + 1) * cellsAnHour; cell++) {
      const after = step(store, ISLAND, stored, conditionsOf(demand, cell));
      if (after.isDark) return { hours: (cell - start * cellsAnHour) / cellsAnHour, isCensored: false };
      stored = after.storedWh;
    }
  }
}

// Whole numbers of a power of two, so that sums are exact in any order.
const power = (most: number) => fc.integer({ min: 0, max: most }).map((watts) => watts * 64);
const cellsAnHour = 4;
const drawn = fc.record({
  load: fc.array(fc.oneof({ weight: 30, arbitrary: power(60) }, { weight: 1, arbitrary: fc.constant(NaN) }), {
    minLength: 8 * cellsAnHour,
    maxLength: 60 * cellsAnHour,
  }),
  suns: fc.array(power(90), { minLength: 6, maxLength: 24 }),
  capacityWh: fc.integer({ min: 4, max: 400 }).map((wh) => wh * 64),
  idleW: power(4),
  chargeEfficiency: fc.constantFrom(1, 0.75, 0.5),
  dischargeEfficiency: fc.constantFrom(1, 0.5),
  use: fc.constantFrom(0.5, 1, 1.25),
  chargeW: power(60),
  limitW: fc.constantFrom(Infinity, 3600, 2000),
  weakBelowWh: fc.constantFrom(0, 640, 3200),
  weakW: fc.constantFrom(Infinity, 1280, 2560),
  legs: fc.constantFrom(0, 7, 50),
  level: fc.double({ min: 0, max: 1, noNaN: true }),
  horizonH: fc.constantFrom(4, 13, 24, 48),
});

const homeOf = ({
  load,
  suns,
  legs,
  use,
  ...rest
}: { load: number[]; suns: number[]; legs: number; use: number } & StorageParameters & {
    level: number;
  }) => ({
  demand: {
    load,
    solar: load.map((_, i) => suns[Math.floor(i / 3) % suns.length]!),
    use,
    overLeg: legs === 0 ? null : load.map((_, i) => (i % legs === legs - 1 ? 1 : 0)),
    stepMs: 3_600_000 / cellsAnHour,
  },
  store: rest,
  charge: new Array<number>(Math.ceil(load.length / cellsAnHour)).fill(
    Math.round(rest.level * rest.capacityWh),
  ),
});

const PLAIN: StorageParameters = {
  capacityWh: 10_000,
  idleW: 0,
  chargeEfficiency: 0.9,
  dischargeEfficiency: 1,
  chargeW: 5000,
  limitW: Infinity,
  weakBelowWh: 0,
  weakW: Infinity,
};

/** Hours of a load without sun. */
function steady(load: readonly number[]): Demand {
  return { load, use: 1, solar: load.map(() => 0), overLeg: null, stepMs: 3_600_000 };
}

describe('the replay of every start', () => {
  test('is that of the plain loop, on random homes', () => {
    fc.assert(
      fc.property(drawn, (one) => {
        const { demand, store, charge } = homeOf(one);
        const fast = replay(compose(demand, store, one.horizonH), charge);
        const plain = fast.map((_, start) => plainly(demand, store, charge[start]!, start, one.horizonH));
        expect(fast).toEqual(plain);
      }),
      { numRuns: 1000 },
    );
  });

  test('with numbers of any kind it ends, and lies between the plain loop with a hair less charge and a hair more', () => {
    const any = fc.integer({ min: 0, max: 500_000 }).map((tenths) => tenths / 93);
    fc.assert(
      fc.property(
        fc.array(any, { minLength: 40, maxLength: 200 }),
        fc.array(any, { minLength: 6, maxLength: 20 }),
        fc.integer({ min: 1000, max: 20_000 }),
        (load, suns, capacityWh) => {
          const demand: Demand = {
            load,
            use: 1.02,
            solar: load.map((_, i) => suns[i % suns.length]!),
            overLeg: null,
            stepMs: 900_000,
          };
          const store = { ...PLAIN, capacityWh: capacityWh / 7, idleW: 33.3, chargeEfficiency: 0.87 };
          const charge = load.map((watts) => (watts % 7) * 300);
          replay(compose(demand, store, 48), charge).forEach((run, start) => {
            const hours = (more: number) => plainly(demand, store, charge[start]! + more, start, 48)!.hours;
            expect(run!.hours).toBeGreaterThanOrEqual(hours(-1e-6));
            expect(run!.hours).toBeLessThanOrEqual(hours(1e-6));
          });
        },
      ),
      { numRuns: 200 },
    );
  });

  test('never lasts longer with more load, nor shorter with a larger store or more charge', () => {
    fc.assert(
      fc.property(drawn, fc.constantFrom(64, 640), (one, more) => {
        const { demand, store, charge } = homeOf(one);
        const lasts = (of: Demand, by: StorageParameters, from: readonly number[]) =>
          replay(compose(of, by, one.horizonH), from).map((run) => run?.hours ?? -1);
        const usual = lasts(demand, { ...store, limitW: Infinity }, charge);
        const loaded = lasts(
          { ...demand, load: demand.load.map((watts) => watts + more) },
          { ...store, limitW: Infinity },
          charge,
        );
        const larger = lasts(
          demand,
          { ...store, limitW: Infinity, capacityWh: store.capacityWh + more },
          charge.map((wh) => wh + more),
        );
        usual.forEach((hours, start) => {
          expect(loaded[start]!).toBeLessThanOrEqual(hours);
          expect(larger[start]!).toBeGreaterThanOrEqual(hours);
        });
      }),
      { numRuns: 150 },
    );
  });

  test('the least charge that carries so many hours is that with which a start just lasts them', () => {
    fc.assert(
      fc.property(drawn, fc.constantFrom(1, 5, 12), (one, hours) => {
        const { demand, store } = homeOf(one);
        const need = needFor(compose(demand, store, 24), hours);
        need.forEach((wh, start) => {
          const lasts = (charge: number) => plainly(demand, store, charge, start, hours)!;
          if (Number.isNaN(wh))
            expect(plainly(demand, store, 0, start, hours)?.hours ?? 0).toBeLessThan(hours);
          else if (wh === Infinity) expect(lasts(store.capacityWh).isCensored).toBe(false);
          else {
            expect(lasts(wh)).toEqual({ hours, isCensored: true });
            if (wh > 0) expect(lasts(wh - 1).isCensored).toBe(false);
          }
        });
      }),
      { numRuns: 150 },
    );
  });

  test('a store at a daily use lasts the days that the trade reckons (common practice, no published source)', () => {
    // 40 kWh at 20 kWh a day are two days, and the inverters' 250 W take half a day off them.
    const load = new Array<number>(24 * 10).fill(832);
    const demand = steady(load);
    const lasts = (idleW: number) =>
      replay(
        compose(demand, { ...PLAIN, capacityWh: 40_000, idleW, limitW: 8000 }, 336),
        new Array<number>(240).fill(40_000),
      )[0]!.hours;
    expect(lasts(0)).toBe(48);
    expect(lasts(250)).toBe(36);
  });
});

describe('limits (facts of the trade: common practice, no published source)', () => {
  const hours = (demand: Demand, store: StorageParameters) =>
    replay(compose(demand, store, 336), new Array<number>(demand.load.length).fill(10_000))[0]!.hours;

  test('near empty the output is limited: the kettle ends what the fridge would have outlived', () => {
    const load = [1000, 1000, 1000, 1000, 1000, 1000, 1000, 1000, 500, 1900, 100, 100];
    const weak = { ...PLAIN, weakBelowWh: 2000, weakW: 1500 };
    // After nine hours 1.5 kWh are left: enough for 1.0 kW, too little charge for 1.9 kW.
    expect(hours(steady(load), weak)).toBe(9);
    expect(hours(steady(load.with(9, 1000)), weak)).toBe(12);
    // 1.64 kWh are left after eight hours of a load that is read a tenth too low: enough for 1.54 kW, which is too much then.
    const low = [...new Array<number>(8).fill(950), 1400, 0];
    expect(hours({ ...steady(low), use: 1.1 }, weak)).toBe(8);
    expect(hours({ ...steady(low), use: 1 }, weak)).toBe(10);
  });
});

describe('Kaplan–Meier', () => {
  test('without cuts is the share that lasts longer', () => {
    const steps = kaplanMeier([1, 2, 2, 5].map((hours) => ({ hours, isCensored: false })));
    expect(steps).toEqual([
      { hours: 0, share: 1 },
      { hours: 1, share: 0.75 },
      { hours: 2, share: expect.closeTo(0.25, 12) },
      { hours: 5, share: 0 },
    ]);
    expect(survivalQuantile(steps, 0.5)).toBe(2);
    expect(survivalAt(steps, 2)).toBe(0.75);
    expect(survivalAt(steps, 2.1)).toBeCloseTo(0.25, 12);
  });

  test('gives the remission times of Freireich (1963), as Kaplan–Meier is taught: S(10) 0.753, S(23) 0.448', () => {
    // 6-MP group, weeks; + is cut off. Numbers from memory.
    const weeks = '6 6 6 6+ 7 9+ 10 10+ 11+ 13 16 17+ 19+ 20+ 22 23 25+ 32+ 32+ 34+ 35+'.split(' ');
    const steps = kaplanMeier(
      weeks.map((text) => ({ hours: Number.parseInt(text), isCensored: text.endsWith('+') })),
    );
    const at = (hours: number) => steps.find((step) => step.hours === hours)!.share;
    expect(at(6)).toBeCloseTo(0.857, 3);
    expect(at(7)).toBeCloseTo(0.807, 3);
    expect(at(10)).toBeCloseTo(0.753, 3);
    expect(at(13)).toBeCloseTo(0.69, 3);
    expect(at(22)).toBeCloseTo(0.538, 3);
    expect(at(23)).toBeCloseTo(0.448, 3);
    expect(survivalQuantile(steps, 0.9)).toBeNull();
  });
});
