import type { MonthKey, MonthValues } from './scenarioCourses.js';
import { STILL, type Move } from './runDoubts.js';
import type { WhatifKey } from './scenarioValues.js';

/** The figure of the whole range that each of a month has its doubts from; of the others none are known. */
const OF_THE_RANGE: Readonly<Partial<Record<MonthKey, WhatifKey>>> = {
  import: 'account.import',
  export: 'account.export',
  selfSufficiency: 'account.selfSufficiency.grid',
};

/**
 * How far a figure of each month may move: what moves it over the range is dealt out by what each month has of it. All months
 * move together, since the same meters read them.
 * @param rangeMove how far a figure of the whole range moves
 * @param amountOf what a month has of it: a value, or what it differs by
 */
export function monthMoves(
  months: readonly MonthValues[],
  key: MonthKey,
  rangeMove: (key: WhatifKey) => Move,
  amountOf: (month: MonthValues) => number,
): (month: MonthValues) => Move {
  const whole = OF_THE_RANGE[key];
  if (whole === undefined) return () => STILL;
  const { half, below, above } = rangeMove(whole);
  // A share is one of the load, an energy one of the days.
  const isShare = key === 'selfSufficiency';
  const sizeOf = (one: MonthValues) => one.days * (isShare ? one.load : 1);
  const total = months.reduce((sum, one) => sum + Math.abs(amountOf(one)) * sizeOf(one), 0);
  const load = isShare ? months.reduce((sum, one) => sum + sizeOf(one), 0) : 1;
  return (month) => {
    const dealt = (Math.abs(amountOf(month)) * load) / total || 0;
    return { half: half * dealt, below: below * dealt, above: above * dealt };
  };
}
