import { expect, test } from '@jest/globals';
import { endMs } from '../../model/log.js';
import { prepare } from '../../passes/prepare.js';
import { logOf, systemOf, TEN_KWH } from '../../testing/logs.js';
import { knownBill, readStatedBill } from './statedBill.js';

test('9.31 for 18.51 kWh at 0.1853: 3.43 is energy, 5.88 over 30 days is 0.196 a day, the standing charge (common practice, no published source)', () => {
  const { energy, rest, closes, ways } = readStatedBill(
    { amount: 9.31, kWh: 18.51, rate: 0.1853, days: 30 },
    null,
  )!;
  expect(energy).toBeCloseTo(3.43, 2);
  expect(rest).toBeCloseTo(5.88, 2);
  expect(closes[0]).toBe('A standing charge of 0.196 a day over 30 days.');
  expect(ways.map(({ isIt }) => isIt)).toEqual([false]);
});

test('against the home’s own log and tariff: standing charge, export and other dates are found', async () => {
  const home = {
    ...systemOf(TEN_KWH),
    currency: 'EUR',
    tariffs: [
      { from: '2023-01-01', standingPerDay: 0.4, import: [{ rate: 0.25 }], export: [{ rate: 0.05 }] },
    ],
  };
  // 1 kW bought half of the first ten days and all of the next ten; 1 kW sold in the other half.
  const rows = Array.from({ length: 20 * 24 }, (_, i) => ({
    grid_w: i < 240 ? (i % 2 === 0 ? 1000 : -1000) : 1000,
    load_w: 1000,
    solar_w: 0,
  }));
  const prepared = prepare(home, [await logOf(rows, '2024-01-01T00:00:00Z', 3600)]);
  const { log } = prepared;
  const first = { fromMs: log.startMs, toMs: log.startMs + 10 * 86_400_000 };
  const known = knownBill(prepared, first)!;
  expect(known).toMatchObject({ importKWh: 120, importCost: 30, days: 10 });
  expect(known.exportIncome).toBeCloseTo(6, 9);
  const found = (amount: number) =>
    readStatedBill({ amount, kWh: null, rate: null, days: null }, known)!
      .ways.filter(({ isIt }) => isIt)
      .map(({ says }) => says);
  expect(found(30)).toEqual(['the energy alone']);
  expect(found(34)).toEqual(['energy and standing charge']);
  expect(found(28)).toEqual(['energy and standing charge, less export']);
  expect(found(64)).toEqual(['the bill of the same length after']);
  expect(found(55)).toEqual([]);
  expect(endMs(log)).toBe(first.toMs + 10 * 86_400_000);
});

test('without a log, and without energy or rate, nothing is made up', () => {
  expect(readStatedBill({ amount: 9, kWh: 20, rate: null, days: null }, null)).toBeNull();
});
