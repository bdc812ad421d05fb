import { describe, expect, test } from '@jest/globals';
import { seededRandom } from '../../statistics/random.js';
import { answeringUnits, type Drawdown } from './answeringUnits.js';

const SIX: Drawdown = {
  deliveredWh: 44_900,
  deliveredHalfWh: 500,
  units: 6,
  unitWh: 13_500,
  swing: 0.6,
  swingHalf: 0.02,
  side: 'ac',
};

describe('units that answer', () => {
  test('6 × 13.5 kWh, 100 → 40 %, 44.9 kWh: 48.6 expected, 92.4 %, all deliver (common practice, no published source)', () => {
    const { expectedWh, ratio, shortfallUnits, verdict, missing } = answeringUnits(SIX);
    expect(expectedWh).toBeCloseTo(48_600, 9);
    expect(ratio.value).toBeCloseTo(0.9239, 4);
    // 3.7 kWh short; one unit's part is 8.1 kWh.
    expect(shortfallUnits.value).toBeCloseTo(3.7 / 8.1, 9);
    expect([verdict, missing]).toEqual(['all-units-deliver', 0]);
  });

  test('37.4 kWh of the same: 77 %, one unit may be out (common practice, no published source)', () => {
    const { ratio, verdict, missing } = answeringUnits({ ...SIX, deliveredWh: 37_400 });
    expect(ratio.value).toBeCloseTo(0.77, 2);
    expect([verdict, missing]).toEqual(['one-unit-may-be-out', 1]);
  });

  test('a small fall with a coarse display cannot tell; a single unit that gives too little is below what is expected', () => {
    expect(
      answeringUnits({ ...SIX, units: 8, swing: 0.3, swingHalf: 0.05, deliveredWh: 29_000 }).verdict,
    ).toBe('cannot-tell');
    expect(answeringUnits({ ...SIX, units: 1, deliveredWh: 0.8 * 8100, deliveredHalfWh: 90 }).verdict).toBe(
      'below-expected',
    );
  });

  // Simulated, with known truth: conversion, display and meter err by their usual deviations.
  test.each([2, 4, 6, 8])(
    'of %d units one that is out is found over 60 % and more, and none invented',
    (units) => {
      const random = seededRandom(units);
      const normal = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
      const RUNS = 2000;
      let [found, invented] = [0, 0];
      for (let run = 0; run < RUNS; run++) {
        const swing = 0.6 + 0.35 * random();
        const conversion = 0.95 + 0.015 * normal();
        const seen = swing + 0.005 * normal();
        const drawdown = (answering: number) => ({
          ...SIX,
          units,
          swing: seen,
          swingHalf: 0.01,
          deliveredWh: answering * SIX.unitWh * swing * conversion * (1 + 0.005 * normal()),
          deliveredHalfWh: 0.01 * units * SIX.unitWh * swing,
        });
        if (answeringUnits(drawdown(units - 1)).missing === 1) found++;
        if (answeringUnits(drawdown(units)).missing > 0) invented++;
      }
      expect(found / RUNS).toBeGreaterThanOrEqual(0.95);
      expect(invented / RUNS).toBeLessThanOrEqual(0.01);
    },
  );
});
