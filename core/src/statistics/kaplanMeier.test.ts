import { expect, test } from '@jest/globals';
import { kaplanMeier, survivalAt, survivalQuantile } from './kaplanMeier.js';

/** Weeks of remission under 6-MP: E. J. Freireich and others, Blood 21 (1963), as in every textbook (from memory). */
const ENDED = [6, 6, 6, 7, 10, 13, 16, 22, 23];
const CUT_OFF = [6, 9, 10, 11, 17, 19, 20, 25, 32, 32, 34, 35];
const steps = kaplanMeier([
  ...ENDED.map((hours) => ({ hours, isCensored: false })),
  ...CUT_OFF.map((hours) => ({ hours, isCensored: true })),
]);

test('the published curve with censoring: 0.857, 0.807, 0.753, 0.690, 0.627, 0.538, 0.448', () => {
  expect(steps.map(({ hours, share }) => [hours, Number(share.toFixed(3))])).toEqual([
    [0, 1],
    [6, 0.857],
    [7, 0.807],
    [10, 0.753],
    [13, 0.69],
    [16, 0.627],
    [22, 0.538],
    [23, 0.448],
  ]);
});

test('its median is 23; a quantile that was not seen to end is not told', () => {
  expect(survivalQuantile(steps, 0.5)).toBe(23);
  expect(survivalQuantile(steps, 0.9)).toBeNull();
  expect(survivalAt(steps, 13)).toBeCloseTo(0.753, 3);
});
