import { LINE } from './Caption.js';

/**
 * Names at the ends of their lines, from above, pushed apart where they would lie over each other.
 * @param list the height each would like, px from the top
 * @param lowest the lowest that a name may stand; those pushed below it go up again
 */
export function apart<T extends { at: number }>(list: readonly T[], lowest: number): T[] {
  const placed = [...list].sort((a, b) => a.at - b.at).map((one) => ({ ...one }));
  let above = -Infinity;
  for (const one of placed) above = one.at = Math.max(one.at, above + LINE);
  let below = Math.max(lowest, LINE * (placed.length - 1));
  for (const one of [...placed].reverse()) {
    one.at = Math.min(one.at, below);
    below = one.at - LINE;
  }
  return placed;
}
