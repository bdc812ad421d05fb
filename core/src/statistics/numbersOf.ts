/**
 * A number of each thing of a list, in a column.
 * (`Float64Array.from` with a function goes through an iterator, several times as slow: what is done again for every range
 * of days takes this.)
 */
export function numbersOf<T>(list: readonly T[], of: (one: T) => number): Float64Array {
  const numbers = new Float64Array(list.length);
  for (let i = 0; i < list.length; i++) numbers[i] = of(list[i]!);
  return numbers;
}
