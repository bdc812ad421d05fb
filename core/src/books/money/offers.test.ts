import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { endMs } from '../../model/log.js';
import { prepare, rangeDataOf } from '../../passes/prepare.js';
import { simulatedStore, STORE_HOME } from '../../testing/store.js';
import { batteryUse, compareOffers } from './offers.js';

const steady = (kWh: number) => ({ days: 365, dischargeADayKWh: { value: kWh, low: kWh, high: kWh } });

test('50,000 kWh warranted at 10 kWh a day last 5,000 days, 13.7 years; ten years come first (common practice, no published source)', () => {
  const [both, alone] = compareOffers(
    [
      { name: 'both', price: 8000, usableKWh: 11, years: 10, throughputKWh: 50_000 },
      { name: 'throughput alone', price: 8000, usableKWh: 11, throughputKWh: 50_000 },
    ],
    steady(10),
  );
  expect(alone!.yearsToFirst!.value).toBeCloseTo(13.69, 2);
  expect(alone!.perWarrantedKWh!.value).toBeCloseTo(0.16, 9);
  expect(both).toMatchObject({ first: 'years' });
  expect(both!.warrantedKWh!.value).toBeCloseTo(36_525, 6);
  expect(both!.limits.map(({ limit }) => limit)).toEqual(['years', 'throughput']);
});

test('cycles count at their depth; a battery is not worked harder than it holds; without terms nothing is told', () => {
  const [cycles, small, none] = compareOffers(
    [
      { name: 'cycles', price: 6000, usableKWh: 10, cycles: 6000, cycleDepth: 0.8 },
      { name: 'small', price: 3000, usableKWh: 5, years: 10 },
      { name: 'none', price: 1000, usableKWh: 10 },
    ],
    steady(8),
  );
  // 6,000 × 8 kWh at 8 a day.
  expect(cycles!.yearsToFirst!.value).toBeCloseTo(6000 / 365.25, 9);
  expect(small!.warrantedKWh!.value).toBeCloseTo(5 * 3652.5, 6);
  expect(none).toMatchObject({ first: null, perWarrantedKWh: null });
});

test('a home that uses more pays less a kWh while years end it, and never outlives a limit', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 0.5, max: 20, noNaN: true }),
      fc.double({ min: 1, max: 30, noNaN: true }),
      (kWh, more) => {
        const offer = { name: 'o', price: 5000, usableKWh: 12, years: 10, throughputKWh: 40_000 };
        const [little] = compareOffers([offer], steady(kWh));
        const [much] = compareOffers([offer], steady(kWh + more));
        return (
          much!.perWarrantedKWh!.value <= little!.perWarrantedKWh!.value + 1e-9 &&
          much!.warrantedKWh!.value <= 40_000 + 1e-6
        );
      },
    ),
  );
});

test('the use is that of the log, with an interval by its weeks; a few days tell none', () => {
  const log = simulatedStore({
    seed: 5,
    days: 200,
    stepSeconds: 1800,
    idleW: 20,
    efficiency: 0.9,
    socStep: 0.01,
  });
  const prepared = prepare(STORE_HOME, [log]);
  const use = batteryUse(rangeDataOf(prepared, { fromMs: log.startMs, toMs: endMs(log) }))!;
  const battery = log.columns.get('battery')!.values;
  const mean = battery.reduce((sum, watts) => sum + Math.max(0, watts), 0) / 2 / 1000 / 200;
  expect(use.dischargeADayKWh.value).toBeCloseTo(mean, 6);
  expect(use.dischargeADayKWh.low).toBeLessThan(mean);
  expect(
    batteryUse(rangeDataOf(prepared, { fromMs: log.startMs, toMs: log.startMs + 3 * 86_400_000 })),
  ).toBeNull();
});
