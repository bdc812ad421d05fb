import { expect, test } from '@jest/globals';
import { counted, plural, times, timesFirst } from './counted.js';

test('one has its own word, none and several the other', () => {
  expect([0, 1, 2].map((n) => counted(n, 'month'))).toEqual(['0 months', '1 month', '2 months']);
  expect([1, 2].map((n) => counted(n, 'half hour'))).toEqual(['1 half hour', '2 half hours']);
  expect([1, 2].map((n) => plural(n, 'value is', 'values are'))).toEqual(['value is', 'values are']);
});

test('events are counted in words, with where the first was', () => {
  expect([1, 2].map(times)).toEqual(['once', '2 times']);
  expect([1, 4].map((n) => timesFirst(n, 'at 18:32'))).toEqual(['once, at 18:32', '4 times, first at 18:32']);
});
