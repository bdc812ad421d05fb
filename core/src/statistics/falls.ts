/** A fall from a local highest to the following local lowest value. */
export interface Fall {
  readonly from: number;
  readonly to: number;
  readonly depth: number;
}

/**
 * Falls of a series between turning points, where a rise smaller than `hysteresis` does not end a fall.
 * @param values NaN where missing; a missing stretch of more than `longestGap` values ends a fall
 * @returns indices of highest and lowest, and their difference, for falls of at least `hysteresis`
 * @example falls([1, 0.6, 0.9], 0.1, 3) // [{ from: 0, to: 1, depth: 0.4 }]
 */
export function falls(values: ArrayLike<number>, hysteresis: number, longestGap: number): Fall[] {
  const found: Fall[] = [];
  let high = -1;
  let low = -1;
  let missing = 0;
  const end = () => {
    if (high >= 0 && low > high) {
      const depth = values[high]! - values[low]!;
      if (depth >= hysteresis) found.push({ from: high, to: low, depth });
    }
  };
  for (let i = 0; i < values.length; i++) {
    const value = values[i]!;
    if (Number.isNaN(value)) {
      if (++missing === longestGap + 1) {
        end();
        high = low = -1;
      }
      continue;
    }
    missing = 0;
    if (high < 0) high = low = i;
    else if (value < values[low]!) low = i;
    else if (low > high && value - values[low]! >= hysteresis) {
      end();
      high = low = i;
    }
    // Until it has fallen by the hysteresis the highest value moves on; the plateau's last point begins the fall.
    if (value >= values[high]!) high = low = i;
  }
  end();
  return found;
}
