/** Gaps up to so many cells are bridged; across longer ones nothing is known. */
const LONGEST_BRIDGE = 3;

/**
 * Fills short gaps linearly, in place, and marks every value it put in.
 * @param values a channel on its grid; NaN where missing
 * @returns 1 where a value was bridged
 */
export function bridge(values: Float64Array): Uint8Array {
  const bridged = new Uint8Array(values.length);
  let last = -1;
  for (let i = 0; i < values.length; i++) {
    if (Number.isNaN(values[i]!)) continue;
    const missing = i - last - 1;
    if (last >= 0 && missing > 0 && missing <= LONGEST_BRIDGE) {
      const rise = (values[i]! - values[last]!) / (missing + 1);
      for (let k = 1; k <= missing; k++) {
        values[last + k] = values[last]! + rise * k;
        bridged[last + k] = 1;
      }
    }
    last = i;
  }
  return bridged;
}
