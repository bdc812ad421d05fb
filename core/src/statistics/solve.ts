/** What is seen where the terms of a row have their values. */
export interface Observation {
  readonly row: readonly number[];
  readonly value: number;
  /** Multiplies the residual. */
  readonly weight: number;
}

/**
 * Weighted least squares of a few coefficients by normal equations, columns centred on nothing: for rows of order one.
 * @param observations rows all of the same length
 * @returns coefficients, or null where the rows do not determine them
 * @source Gaussian elimination with pivoting: common practice
 * @example solve([0, 1, 2].map((x) => ({ row: [1, x], value: 1 + 2 * x, weight: 1 }))) // [1, 2]
 */
export function solve(observations: readonly Observation[]): number[] | null {
  const p = observations[0]?.row.length ?? 0;
  const m = Array.from({ length: p }, () => new Float64Array(p + 1));
  for (const { row, value, weight } of observations) {
    const w = weight ** 2;
    for (let a = 0; a < p; a++) {
      const into = m[a]!;
      const own = w * row[a]!;
      for (let b = 0; b < p; b++) into[b]! += own * row[b]!;
      into[p]! += own * value;
    }
  }
  const size = Math.max(...m.map((row, a) => Math.abs(row[a]!)));
  for (let a = 0; a < p; a++) {
    let pivot = a;
    for (let b = a + 1; b < p; b++) if (Math.abs(m[b]![a]!) > Math.abs(m[pivot]![a]!)) pivot = b;
    [m[a], m[pivot]] = [m[pivot]!, m[a]!];
    if (Math.abs(m[a]![a]!) < 1e-9 * size) return null;
    for (let b = a + 1; b < p; b++) {
      const factor = m[b]![a]! / m[a]![a]!;
      for (let c = a; c <= p; c++) m[b]![c]! -= factor * m[a]![c]!;
    }
  }
  const solution = new Array<number>(p).fill(0);
  for (let a = p - 1; a >= 0; a--) {
    let rest = m[a]![p]!;
    for (let b = a + 1; b < p; b++) rest -= m[a]![b]! * solution[b]!;
    solution[a] = rest / m[a]![a]!;
  }
  return solution;
}
