/** A half-open stretch of time, epoch ms. */
export interface Range {
  readonly fromMs: number;
  readonly toMs: number;
}

/** Place of the first item of a list that is reached, by halving; items after it are reached too. */
export function firstReached<T>(list: readonly T[], isReached: (item: T) => boolean): number {
  let [low, high] = [0, list.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (isReached(list[middle]!)) high = middle;
    else low = middle + 1;
  }
  return low;
}
