import { quickselect } from 'simple-statistics';

/**
 * Median of numbers, whose order is lost: by selection, in a time that grows with their number alone.
 * @param values none of them NaN; NaN comes of an empty list
 * @example median(Float64Array.of(3, 1, 2, 4)) // 2.5
 */
export function median(values: Float64Array): number {
  const upper = values.length >> 1;
  if (values.length === 0) return NaN;
  const middle = ranked(values, upper);
  if (values.length % 2 === 1) return middle;
  let lower = -Infinity;
  for (let i = 0; i < upper; i++) if (values[i]! > lower) lower = values[i]!;
  // As between two order statistics, so that both ways of taking a median agree to the last digit.
  return lower + (middle - lower) * 0.5;
}

/**
 * The value that would stand at a rank, from 0, if numbers were sorted; their order is lost.
 * @param values none of them NaN, more than the rank
 */
export function ranked(values: Float64Array, rank: number): number {
  // Its type asks for a list; it only swaps and compares.
  quickselect(values as unknown as number[], rank, 0, values.length - 1);
  return values[rank]!;
}
