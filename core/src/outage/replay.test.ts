import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { kaplanMeier, survivalAt, survivalQuantile } from '../statistics/kaplanMeier.js';
import { changeOf, needFor, replay, type Demand, type Lasting, type Store } from './replay.js';

/** The replay as one would write it down: from one start, cell by cell. */
function plainly(
  demand: Demand,
  store: Store,
  charge: number,
  start: number,
  horizonH: number,
): Lasting | null {
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
      stored += changeOf(demand, store, cell);
      if (stored < 0) return { hours: cell / cellsAnHour - start, isCensored: false };
      stored = Math.min(stored, store.capacityWh);
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
  roundTrip: fc.constantFrom(1, 0.75, 0.5),
  chargeW: power(60),
  limitW: fc.constantFrom(Infinity, 3600, 2000),
  level: fc.double({ min: 0, max: 1, noNaN: true }),
  horizonH: fc.constantFrom(4, 13, 24, 48),
});

const homeOf = ({ load, suns, ...rest }: { load: number[]; suns: number[] } & Store & { level: number }) => ({
  demand: {
    load,
    solar: load.map((_, i) => suns[Math.floor(i / 3) % suns.length]!),
    stepMs: 3_600_000 / cellsAnHour,
  },
  store: rest,
  charge: new Array<number>(Math.ceil(load.length / cellsAnHour)).fill(
    Math.round(rest.level * rest.capacityWh),
  ),
});

describe('the replay of every start', () => {
  test('is that of the plain loop, on random homes', () => {
    fc.assert(
      fc.property(drawn, (one) => {
        const { demand, store, charge } = homeOf(one);
        const fast = replay(demand, store, charge, one.horizonH);
        const plain = fast.map((_, start) => plainly(demand, store, charge[start]!, start, one.horizonH));
        expect(fast).toEqual(plain);
      }),
      { numRuns: 600 },
    );
  });

  test('never lasts longer with more load, nor shorter with a larger store or more charge', () => {
    fc.assert(
      fc.property(drawn, fc.constantFrom(64, 640), (one, more) => {
        const { demand, store, charge } = homeOf(one);
        const lasts = (of: Demand, by: Store, from: readonly number[]) =>
          replay(of, by, from, one.horizonH).map((run) => run?.hours ?? -1);
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

  test('keeps the energy: what a run took is what was in the store and what came in', () => {
    const store: Store = { capacityWh: 10_240, idleW: 64, roundTrip: 1, chargeW: Infinity, limitW: Infinity };
    fc.assert(
      fc.property(fc.array(power(40), { minLength: 96, maxLength: 200 }), (load) => {
        const demand = { load, solar: load.map(() => 0), stepMs: 900_000 };
        const [run] = replay(demand, store, new Array<number>(50).fill(10_240), 14 * 24);
        const cells = Math.round(run!.hours * 4);
        const taken = load.slice(0, cells).reduce((sum, watts) => sum + (watts + 64) / 4, 0);
        expect(taken).toBeLessThanOrEqual(10_240);
        if (!run!.isCensored) expect(taken + (load[cells]! + 64) / 4).toBeGreaterThan(10_240);
      }),
      { numRuns: 100 },
    );
  });

  test('the least charge that carries so many hours is that with which a start just lasts them', () => {
    fc.assert(
      fc.property(drawn, fc.constantFrom(1, 5, 12), (one, hours) => {
        const { demand, store } = homeOf(one);
        const need = needFor(demand, store, hours);
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
    const demand = { load, solar: load.map(() => 0), stepMs: 3_600_000 };
    const lasts = (idleW: number) =>
      replay(
        demand,
        { capacityWh: 40_000, idleW, roundTrip: 0.9, chargeW: 5000, limitW: 8000 },
        new Array<number>(240).fill(40_000),
        336,
      )[0]!.hours;
    expect(lasts(0)).toBe(48);
    expect(lasts(250)).toBe(36);
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
