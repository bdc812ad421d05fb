import { expect, test } from '@jest/globals';
import { read } from '../testing/logs.js';
import { pricePreview } from './pricePreview.js';

test('a list of prices is told by its span, its hours below zero, its holes, and the hours of the site’s day', async () => {
  // Two days by the hour in Auckland (UTC+12 in July): 0.1 by night, 0.3 by day, −0.05 at noon; one hour is missing. By hand.
  const rows = Array.from({ length: 48 }, (_, i) => {
    const hour = i % 24;
    const price = hour === 12 ? -0.05 : hour >= 7 && hour < 23 ? 0.3 : 0.1;
    return `2024-07-0${1 + Math.floor(i / 24)}T${String(hour).padStart(2, '0')}:00:00+12:00,${i === 30 ? '' : price}`;
  });
  const { log } = await read(`time,import_rate\n${rows.join('\n')}\n`);
  const [prices] = pricePreview(log, 'Pacific/Auckland');
  expect(prices).toMatchObject({
    quantity: 'importRate',
    low: -0.05,
    high: 0.3,
    negativeHours: 2,
    missingHours: 1,
  });
  expect(prices!.byHour[12]).toBeCloseTo(-0.05, 12);
  expect(prices!.byHour[3]).toBeCloseTo(0.1, 12);
  expect(prices!.byHour[22]).toBeCloseTo(0.3, 12);
  // 15 hours of 0.3, eight of 0.1, one below zero; twice, less one hour of 0.1.
  expect(prices!.mean).toBeCloseTo((2 * (15 * 0.3 + 8 * 0.1 - 0.05) - 0.1) / 47, 12);
  expect(pricePreview({ ...log, columns: new Map() }, 'UTC')).toEqual([]);
});
