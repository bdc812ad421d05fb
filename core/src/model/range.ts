/** A half-open stretch of time, epoch ms. */
export interface Range {
  readonly fromMs: number;
  readonly toMs: number;
}

/** Place of the first stretch of a list in order that ends after an instant, by halving. */
export function firstEndingAfter(list: readonly Range[], ms: number): number {
  let [low, high] = [0, list.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (list[middle]!.toMs <= ms) low = middle + 1;
    else high = middle;
  }
  return low;
}
