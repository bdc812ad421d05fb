/** One closed loop (count 1) or a range that never closed (count 0.5). */
export interface RainflowCycle {
  readonly range: number;
  readonly mean: number;
  readonly count: 0.5 | 1;
  /** Indices of its two turning points, the earlier first. */
  readonly from: number;
  readonly to: number;
}

/**
 * Rainflow counting by the three-point rule: a range that is no larger than the one after it is taken out, whole where
 * it lies inside the history, half where it holds the starting point; what is left at the end counts half.
 * @param points turning points, each a reversal of the one before
 * @returns cycles in the order in which they close; Σ count = (points − 1) ÷ 2, 2 Σ count·range = total variation
 * @source ASTM E1049-85 (reapproved), 5.4.4 (from memory)
 * @example rainflow([0, 3, 1, 4]).map(({ range, count }) => [range, count]) // [[2, 1], [4, 0.5]]
 */
export function rainflow(points: ArrayLike<number>): RainflowCycle[] {
  const cycles: RainflowCycle[] = [];
  const open: number[] = [];
  const take = (from: number, to: number, count: 0.5 | 1) => {
    const [a, b] = [points[from]!, points[to]!];
    cycles.push({ range: Math.abs(b - a), mean: (a + b) / 2, count, from, to });
  };
  for (let i = 0; i < points.length; i++) {
    open.push(i);
    while (open.length >= 3) {
      const last = open.length - 1;
      const [a, b, c] = [open[last - 2]!, open[last - 1]!, open[last]!];
      if (Math.abs(points[c]! - points[b]!) < Math.abs(points[b]! - points[a]!)) break;
      if (open.length === 3) {
        take(a, b, 0.5);
        open.shift();
      } else {
        take(a, b, 1);
        open.length -= 2;
        open[open.length - 1] = c;
      }
    }
  }
  for (let k = 1; k < open.length; k++) take(open[k - 1]!, open[k]!, 0.5);
  return cycles;
}
