import type { DayRange } from '@long-tally/core';

/** A choice of days that the address may not show yet: the router is told of it later, and says so later still. */
export interface RangeChoice {
  readonly range: DayRange;
  /** Its first and last day as one text, in the way of `over` and of the address: `2024-06-01 2024-06-30`. */
  readonly dates: string;
  /** What the router may say until it says this: what it said at first, and the choices it may still be on the way to. */
  readonly over: readonly string[];
  /** Whether the router has been told of this one. */
  readonly told: boolean;
}

/** A new choice, made while the router says `address` and `before` may still hold. */
export function choose(
  before: RangeChoice | null,
  range: DayRange,
  dates: string,
  address: string,
): RangeChoice {
  const earlier = before && holds(before, address) ? [...before.over, before.dates] : [];
  return { range, dates, over: [...earlier, address], told: false };
}

/** Whether a choice is what is shown: until the router says something that neither it nor those before it led to. */
export function holds({ dates, over }: RangeChoice, address: string): boolean {
  return address === dates || over.includes(address);
}

/** A choice that has arrived in the router no longer holds over anything: a link leads away from it. */
export function settled(choice: RangeChoice, address: string): boolean {
  return choice.told && choice.over.length > 0 && address === choice.dates;
}
