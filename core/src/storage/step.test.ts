import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { StorageParameters } from './parameters.js';
import { ISLAND, targetAt, type Policy } from './policy.js';
import { step, type Conditions } from './step.js';
import { runs } from '../testing/long.js';

// Whole numbers of a power of two and halves, so that sums are exact in any order.
const watts = (most: number) => fc.integer({ min: 0, max: most }).map((units) => units * 64);
const parameters: fc.Arbitrary<StorageParameters> = fc.record({
  capacityWh: fc.integer({ min: 4, max: 400 }).map((units) => units * 64),
  idleW: watts(4),
  chargeEfficiency: fc.constantFrom(1, 0.5),
  dischargeEfficiency: fc.constantFrom(1, 0.5),
  chargeW: watts(60),
  limitW: fc.constantFrom(Infinity, 3584, 2048),
  weakBelowWh: fc.constantFrom(0, 640),
  weakW: fc.constantFrom(Infinity, 1280),
});
const conditions: fc.Arbitrary<Conditions> = fc.record({
  loadW: watts(80),
  solarW: watts(90),
  overLeg: fc.constantFrom(0, 0, 0, 1),
  fromGridW: fc.constantFrom(0, 0, 1024),
  minute: fc.integer({ min: 0, max: 1439 }),
  hours: fc.constantFrom(0.25, 1),
});
const connected: fc.Arbitrary<Policy> = fc.record({
  grid: fc.constant('connected'),
  strategy: fc.constantFrom('self-use', 'none'),
  reserveWh: fc.integer({ min: 0, max: 200 }).map((units) => units * 64),
  chargeWindows: fc.constantFrom([], [{ fromMinute: 1320, toMinute: 360, targetWh: 8192 }]),
  gridChargeW: fc.constantFrom(0, 2048),
  exportLimitW: fc.constantFrom(Infinity, 1024, 0),
});
const policy = fc.oneof(connected, fc.constant(ISLAND));

const HOME: StorageParameters = {
  capacityWh: 10_000,
  idleW: 0,
  chargeEfficiency: 0.9,
  dischargeEfficiency: 1,
  chargeW: 5000,
  limitW: 6000,
  weakBelowWh: 0,
  weakW: Infinity,
};
const GRID: Policy = {
  grid: 'connected',
  strategy: 'self-use',
  reserveWh: 2000,
  chargeWindows: [],
  gridChargeW: 0,
  exportLimitW: Infinity,
};
const HOUR: Conditions = { loadW: 0, solarW: 0, overLeg: 0, fromGridW: 0, minute: 720, hours: 1 };

describe('a step of a store', () => {
  test('conserves the energy at the bus and in the store, whatever the home and its policy', () => {
    fc.assert(
      fc.property(
        parameters,
        policy,
        conditions,
        fc.double({ min: 0, max: 1, noNaN: true }),
        (p, run, met, level) => {
          const storedWh = level * p.capacityWh;
          const did = step(p, run, storedWh, met);
          const comes = met.solarW + did.importW + did.dischargeW;
          const goes = did.servedW + did.chargeW + did.exportW + did.heldBackW + did.ownFromGridW;
          expect(comes).toBeCloseTo(goes, 6);
          const change =
            did.chargeW * p.chargeEfficiency - did.dischargeW / p.dischargeEfficiency - did.ownFromStoreW;
          expect(did.storedWh).toBeCloseTo(storedWh + change * met.hours, 6);
          for (const power of [
            did.chargeW,
            did.dischargeW,
            did.importW,
            did.exportW,
            did.heldBackW,
            did.servedW,
          ])
            expect(power).toBeGreaterThanOrEqual(-1e-9);
          expect(did.storedWh).toBeGreaterThanOrEqual(-1e-9);
          expect(did.storedWh).toBeLessThanOrEqual(p.capacityWh + 1e-9);
          expect(did.chargeW).toBeLessThanOrEqual(p.chargeW + 1e-9);
          expect(did.exportW).toBeLessThanOrEqual(run.exportLimitW);
          if (run.grid === 'island') expect([did.importW, did.exportW]).toEqual([0, 0]);
          else expect(did.servedW).toBe(met.loadW);
        },
      ),
      runs(1000, 3000),
    );
  });

  test('on the grid serves the load down to the reserve, and keeps it', () => {
    const did = step(HOME, GRID, 3000, { ...HOUR, loadW: 1500 });
    expect([did.dischargeW, did.importW, did.storedWh]).toEqual([1000, 500, 2000]);
    const idle = step({ ...HOME, idleW: 40 }, GRID, 2000, { ...HOUR, loadW: 300 });
    expect([idle.importW, idle.storedWh, idle.ownFromGridW]).toEqual([340, 2000, 40]);
    const nearlyThere = step({ ...HOME, idleW: 64 }, { ...GRID, reserveWh: 0 }, 64, { ...HOUR, loadW: 64 });
    expect([nearlyThere.importW, nearlyThere.storedWh, nearlyThere.ownFromGridW]).toEqual([64, 0, 0]);
  });

  test('stores the sun that the load leaves, sells what it has no room for, and holds back beyond the limit of export', () => {
    const did = step(HOME, { ...GRID, exportLimitW: 500 }, 9100, { ...HOUR, solarW: 3000, loadW: 1000 });
    expect([did.chargeW, did.exportW, did.heldBackW, did.storedWh]).toEqual([1000, 500, 500, 10_000]);
  });

  test('in a charge window fills up to its target and no further, over midnight too', () => {
    const night = {
      ...GRID,
      gridChargeW: 2500,
      chargeWindows: [{ fromMinute: 1380, toMinute: 420, targetWh: 4500 }],
    };
    expect([
      targetAt(night, 1379),
      targetAt(night, 1400),
      targetAt(night, 419),
      targetAt(night, 420),
    ]).toEqual([0, 4500, 4500, 0]);
    const first = step(HOME, night, 2000, { ...HOUR, loadW: 400, minute: 0 });
    expect([first.chargeW, first.importW, first.storedWh]).toEqual([2500, 2900, 4250]);
    const second = step(HOME, night, first.storedWh, { ...HOUR, loadW: 400, minute: 60 });
    expect(second.storedWh).toBeCloseTo(4500, 9);
    // What the window holds is not given to the load while it is open.
    expect(step(HOME, night, 4500, { ...HOUR, loadW: 400, minute: 120 }).dischargeW).toBe(0);
  });

  test('that is left alone neither stores the sun nor serves the load', () => {
    const did = step(HOME, { ...GRID, strategy: 'none' }, 5000, { ...HOUR, solarW: 3000, loadW: 1000 });
    expect([did.chargeW, did.dischargeW, did.exportW, did.storedWh]).toEqual([0, 0, 2000, 5000]);
  });

  test('without a grid goes dark when the charge, the inverter or a leg does not carry the load', () => {
    const dark = (p: Partial<StorageParameters>, storedWh: number, met: Partial<Conditions>) =>
      step({ ...HOME, ...p }, ISLAND, storedWh, { ...HOUR, ...met }).isDark;
    expect(dark({}, 999, { loadW: 1000 })).toBe(true);
    expect(dark({}, 1000, { loadW: 1000 })).toBe(false);
    expect(dark({}, 9000, { loadW: 6001 })).toBe(true);
    expect(dark({}, 9000, { loadW: 1000, overLeg: 1 })).toBe(true);
    expect(dark({ weakBelowWh: 2000, weakW: 1500 }, 1900, { loadW: 1600 })).toBe(true);
    expect(dark({ weakBelowWh: 2000, weakW: 1500 }, 1900, { loadW: 1400 })).toBe(false);
  });
});
