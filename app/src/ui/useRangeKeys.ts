import type { RollDay, DayRange } from '@long-tally/core';
import { useKeys } from './useKeys.js';
import { monthOf, neighbour, yearOf } from './useRange.js';

/** The keys that change a range in views without a roll: month and year of its last day, everything, before, after. */
export function useRangeKeys(
  days: readonly RollDay[],
  range: DayRange,
  select: (range: DayRange) => void,
): void {
  useKeys({
    m: () => select(monthOf(days, range.to)),
    y: () => select(yearOf(days, range.to)),
    a: () => select({ from: 0, to: days.length - 1 }),
    '[': () => select(neighbour(days, range, -1)),
    ']': () => select(neighbour(days, range, 1)),
  });
}
