import { expect, test } from '@jest/globals';
import { boundsText, rowLabel, signedText } from './differenceText.js';

test('a difference bears its sign, but not where it rounds to nothing', () => {
  expect(signedText(1.26, 'kWh/day')).toBe('+1.26');
  expect(signedText(-1.26, 'kWh/day')).toBe('−1.26');
  expect(signedText(0.001, 'kWh/day')).toBe('0.00');
  expect(signedText(0.042, 'share')).toBe('+4.2');
});

test('bounds stand in the unit of the value and with its decimals', () => {
  expect(boundsText({ value: 0.1, low: -0.1, high: 0.25 }, 'share')).toBe('−10.0 to 25.0');
  expect(boundsText({ value: 143, low: 109.9, high: 176.1 }, 'days')).toBe('110 to 176');
});

test('a row is named with its unit, once', () => {
  expect(rowLabel('account.import', 'kWh', 'NZD')).toBe('Import, kWh');
  expect(rowLabel('money.bill', 'currency', 'NZD')).toBe('Bill, NZD');
  expect(rowLabel('account.gridFreeDays', 'days', 'NZD')).toBe('Grid-free days');
  expect(rowLabel('whatif.timeWithoutGrid', 'share', '')).toBe('Time without the grid, %');
});
