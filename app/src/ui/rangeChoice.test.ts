import { describe, expect, test } from '@jest/globals';
import { choose, holds, settled, type RangeChoice } from './rangeChoice.js';

const JUNE = '2024-06-01 2024-06-30';
const MAY = '2024-05-01 2024-05-31';
const DAYS = '2024-06-27 2024-06-29';
const range = { from: 0, to: 1 };
const told = (choice: RangeChoice): RangeChoice => ({ ...choice, told: true });

describe('a choice of days', () => {
  test('holds before the router knows of it, and when it does', () => {
    const choice = choose(null, range, DAYS, JUNE);
    expect([JUNE, DAYS, MAY].map((address) => holds(choice, address))).toEqual([true, true, false]);
  });

  test('holds while the router is still on the way to the one before', () => {
    const days = told(choose(null, range, DAYS, JUNE));
    // Back to June, which the address still says, before the days have arrived there.
    const june = choose(days, range, JUNE, JUNE);
    expect(settled(june, JUNE)).toBe(false);
    expect(holds(june, DAYS)).toBe(true);
    const may = choose(june, range, MAY, DAYS);
    expect([JUNE, DAYS, MAY].map((address) => holds(may, address))).toEqual([true, true, true]);
  });

  test('gives way to a link once it has arrived', () => {
    const choice = told(choose(null, range, MAY, JUNE));
    expect(settled(choice, JUNE)).toBe(false);
    expect(settled(choice, MAY)).toBe(true);
    const arrived = { ...choice, over: [] };
    expect(holds(arrived, MAY)).toBe(true);
    expect(holds(arrived, JUNE)).toBe(false);
    expect(settled(arrived, MAY)).toBe(false);
  });

  test('forgets those before a link led away', () => {
    const choice = choose(choose(null, range, DAYS, JUNE), range, DAYS, MAY);
    expect(holds(choice, JUNE)).toBe(false);
    expect(holds(choice, MAY)).toBe(true);
  });
});
