import { expect, test } from '@jest/globals';
import { sortedBy } from './sorted.js';

const rows = [
  { name: 'b', values: { idle: 40 } },
  { name: 'a', values: { idle: 12 } },
  { name: 'd', values: { idle: null } },
  { name: 'c', values: {} },
  { name: 'e', values: { idle: 40 } },
];
const names = (column: string | null, isDescending: boolean) =>
  sortedBy(rows, column, isDescending)
    .map(({ name }) => name)
    .join('');

test('homes stand by a figure either way, alike ones by name, unknown ones last', () => {
  expect(names('idle', false)).toBe('abecd');
  expect(names('idle', true)).toBe('beacd');
  expect(names(null, false)).toBe('abcde');
  expect(names(null, true)).toBe('edcba');
  expect(rows.map(({ name }) => name).join('')).toBe('badce');
});
