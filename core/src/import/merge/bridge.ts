import { stretchesLacking } from '../../model/blocks.js';
import { withRoom } from '../../model/growable.js';
import type { Between } from '../../model/quantity.js';

/** Gaps up to so many cells are bridged; across longer ones nothing is known. */
const LONGEST_BRIDGE = 3;

/**
 * Fills short gaps and marks every value it put in.
 * @param values a channel on its grid; NaN where missing; it is left as it is
 * @param between how the values go on across a gap
 * @returns the values, the same array where nothing was bridged, and 1 for each that was
 */
export function bridge(
  values: Float64Array,
  between: Between = 'line',
): { values: Float64Array; bridged: Uint8Array } {
  const bridged = withRoom(Uint8Array, values.length);
  if (stretchesLacking(values).length === 0) return { values, bridged };
  let filled = values;
  for (let i = 0; i < values.length;) {
    while (i < values.length && values[i] === values[i]) i++;
    const last = i - 1;
    while (i < values.length && values[i] !== values[i]) i++;
    const missing = i - last - 1;
    if (last < 0 || i === values.length || missing > LONGEST_BRIDGE) continue;
    if (filled === values) filled = values.slice();
    const rise = between === 'hold' ? 0 : (values[i]! - values[last]!) / (missing + 1);
    for (let k = 1; k <= missing; k++) {
      filled[last + k] = values[last]! + rise * k;
      bridged[last + k] = 1;
    }
  }
  return { values: filled, bridged };
}
