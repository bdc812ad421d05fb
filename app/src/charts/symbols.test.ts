import { expect, test } from '@jest/globals';
import { cross, diamond, disc, pathsOf } from './symbols.js';

test('many points are few paths, and none of them is left out', () => {
  const points = Array.from({ length: 1000 }, (_, i) => i);
  const paths = pathsOf(points, (i) => `M${i} 0`);
  expect(paths.length).toBeLessThan(10);
  expect(
    paths
      .join('')
      .match(/M\d+/g)!
      .map((text) => Number(text.slice(1))),
  ).toEqual(points);
  expect(pathsOf([], () => 'M0 0')).toEqual([]);
});

test('every mark lies about its point', () => {
  // Moves and lines of a path, added up: the corners that it goes through.
  expect(cross(10, 20, 3)).toBe('M7 20h6M10 17v6');
  expect(diamond(10, 20, 3)).toBe('M10 17l3 3l-3 3l-3 -3z');
  expect(disc(10, 20, 3)).toBe('M7 20a3 3 0 1 0 6 0a3 3 0 1 0 -6 0z');
});
