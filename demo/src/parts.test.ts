import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { getPosition, getTimes } from 'suncalc';
import { household } from './appliances.js';
import { charge, discharge, idle, type Store } from './battery.js';
import { dice } from './random.js';
import { planePower } from './sun.js';
import { weatherOf } from './weather.js';

interface SpaExample {
  readonly local: string;
  readonly lat: number;
  readonly lon: number;
  readonly zenith: number;
  readonly azimuth: number;
}

describe('the sun', () => {
  const spa = JSON.parse(
    readFileSync(new URL('../../core/test-data/spa_example.json', import.meta.url), 'utf8'),
  ) as SpaExample;

  test('stands where the solar position algorithm of NREL/TP-560-34302 has it, within a twentieth of a degree', () => {
    const { altitude, azimuth } = getPosition(new Date(spa.local), spa.lat, spa.lon);
    expect(Math.abs(90 - altitude - spa.zenith)).toBeLessThan(0.05);
    expect(Math.abs(azimuth - spa.azimuth)).toBeLessThan(0.05);
  });

  test('sets at 17:18:51 on 17 October 2003 there, within a minute (an almanac’s local day; see the reference)', () => {
    const { sunset } = getTimes(new Date('2003-10-17T12:00:00-07:00'), spa.lat, spa.lon);
    expect(Math.abs(sunset!.getTime() - Date.parse('2003-10-17T17:18:51-07:00'))).toBeLessThan(60_000);
  });

  const noon = Date.UTC(2023, 11, 22, 0, 20);
  const power = (azimuth: number, tilt: number, ms = noon, sky = 1) =>
    planePower({ kWp: 6.4, tilt, azimuth }, ms, -36.9, 174.6, sky, 18);

  test('gives a southern roof most when it faces north, nothing at night, less under cloud', () => {
    expect(power(0, 25)).toBeGreaterThan(power(180, 25));
    expect(power(0, 25)).toBeLessThan(6400 * 1.05);
    expect(power(0, 25)).toBeGreaterThan(4500);
    expect(power(0, 25, noon + 12 * 3_600_000)).toBe(0);
    expect(power(0, 25, noon, 0.05)).toBeLessThan(0.45 * power(0, 25));
  });
});

describe('the weather', () => {
  const days = weatherOf(1096, 59, 32, 1);
  const mean = (list: readonly number[]) => list.reduce((a, b) => a + b, 0) / list.length;

  test('remembers: a dull day is followed by a dull day more often than not', () => {
    const dull = days.map(({ sky }) => sky < 0.35);
    const followed = dull.filter((is, d) => is && dull[d + 1]).length / dull.filter(Boolean).length;
    expect(followed).toBeGreaterThan(1.5 * mean(dull.map(Number)));
  });

  test('has its seasons the right way round for the south, and storms with weeks between them', () => {
    const january = days.filter((_, d) => (59 + d) % 365 < 31).map(({ meanC }) => meanC);
    const july = days
      .filter((_, d) => (59 + d) % 365 > 180 && (59 + d) % 365 < 212)
      .map(({ meanC }) => meanC);
    expect(mean(january) - mean(july)).toBeGreaterThan(6);
    const storms = days.flatMap(({ storm }, d) => (storm ? [d] : []));
    expect(storms.length).toBeGreaterThan(5);
    storms.slice(1).forEach((d, i) => expect(d - storms[i]!).toBeGreaterThan(45));
  });
});

describe('the battery of the simulation', () => {
  const full = (): Store => ({
    capacityWh: 10_000,
    storedWh: 5000,
    idleW: 30,
    chargeEfficiency: 0.95,
    dischargeEfficiency: 0.94,
  });

  test('keeps its energy: what went in less what came out less the losses is what it holds', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -6000, max: 6000 }), { maxLength: 300 }), (wanted) => {
        const store = full();
        let expected = 5000;
        for (const watts of wanted) {
          if (watts < 0) expected += (charge(store, -watts, 5000) * 0.95) / 60;
          else expected -= discharge(store, watts, 5000, 0.1) / 0.94 / 60;
          const before = store.storedWh;
          idle(store);
          expected -= before - store.storedWh;
          expect(store.storedWh).toBeCloseTo(expected, 6);
          expect(store.storedWh).toBeLessThanOrEqual(store.capacityWh + 1e-9);
          expect(store.storedWh).toBeGreaterThanOrEqual(0);
        }
      }),
    );
  });

  test('tapers its charge near full and stops at its floor', () => {
    const store = { ...full(), storedWh: 9950 };
    expect(charge(store, 5000, 5000)).toBeLessThan(1000);
    const low = { ...full(), storedWh: 1000 };
    expect(discharge(low, 3000, 5000, 0.1)).toBe(0);
  });
});

test('the household uses a plausible day, more when it is cold, little when nobody is there', () => {
  const fill = household(11);
  const day = new Float64Array(1440);
  const total = (meanC: number, presence: 'usual' | 'away' | 'guests') => {
    let kWh = 0;
    for (let d = 0; d < 60; d++) {
      fill(day, meanC, d % 7, presence);
      kWh += day.reduce((a, b) => a + b, 0) / 60_000;
    }
    return kWh / 60;
  };
  const [cold, mild, away, guests] = [
    total(10, 'usual'),
    total(18, 'usual'),
    total(18, 'away'),
    total(18, 'guests'),
  ];
  expect(mild).toBeGreaterThan(7);
  expect(mild).toBeLessThan(16);
  expect(cold).toBeGreaterThan(mild + 3);
  expect(away).toBeLessThan(5);
  expect(guests).toBeGreaterThan(mild);
});

test('dice of one seed and name fall the same; of another name otherwise', () => {
  const rolls = (name: string) => {
    const { roll } = dice(5, name);
    return Array.from({ length: 5 }, roll);
  };
  expect(rolls('a')).toEqual(rolls('a'));
  expect(rolls('a')).not.toEqual(rolls('b'));
  const { normal } = dice(9, 'n');
  const draws = Array.from({ length: 4000 }, normal);
  const mean = draws.reduce((a, b) => a + b, 0) / draws.length;
  expect(Math.abs(mean)).toBeLessThan(0.06);
  expect(Math.abs(Math.sqrt(draws.reduce((a, b) => a + (b - mean) ** 2, 0) / draws.length) - 1)).toBeLessThan(
    0.05,
  );
});
