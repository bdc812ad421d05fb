import { expect, test } from '@jest/globals';
import { analyse } from '../../report/report.js';
import type { System } from '../../system/schema.js';
import { logOf, systemOf, TEN_KWH } from '../../testing/logs.js';

const found = async (tariffs: System['tariffs'], currency = 'EUR') => {
  const rows = Array.from({ length: 72 }, () => ({ grid_w: 500, load_w: 500 }));
  const system = { ...systemOf(TEN_KWH), currency, tariffs };
  const { findings } = analyse(system, [await logOf(rows, '2024-03-01T00:00:00Z', 3600)]);
  return findings.filter(({ code }) => /rate|tariff/.test(code)).map(({ code, message }) => [code, message]);
};

test('a rate in cents is asked about where a currency has cents, and not where a kWh costs many of its units', async () => {
  const tariffs = [{ from: '2023-01-01', import: [{ rate: 35 }] }];
  expect(await found(tariffs)).toEqual([
    ['rate-in-cents', expect.stringMatching(/35 EUR .* 0\.3500 may be meant/)],
  ]);
  expect(await found(tariffs, 'JPY')).toEqual([]);
  expect(await found([{ from: '2023-01-01', import: [{ rate: 0.35 }] }])).toEqual([]);
});

test('hours without a price and a tariff that begins after the log are told with what mends them', async () => {
  expect(
    await found([{ from: '2023-01-01', import: [{ rate: 0.2, start: '06:00', end: '18:00' }] }]),
  ).toEqual([['tariff-gap', expect.stringMatching(/no import price in 50 % of the hours/)]]);
  expect(await found([{ from: '2024-06-01', import: [{ rate: 0.2 }] }])).toEqual([
    ['tariff-begins-later', expect.stringMatching(/begins on 2024-06-01/)],
  ]);
});
