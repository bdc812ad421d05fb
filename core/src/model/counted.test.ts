import { expect, test } from '@jest/globals';
import { counted, plural } from './counted.js';

test('one has its own word, none and several the other', () => {
  expect([0, 1, 2].map((n) => counted(n, 'month'))).toEqual(['0 months', '1 month', '2 months']);
  expect([1, 2].map((n) => counted(n, 'half hour'))).toEqual(['1 half hour', '2 half hours']);
  expect([1, 2].map((n) => plural(n, 'value is', 'values are'))).toEqual(['value is', 'values are']);
});
