/** Cells are joined by fours, those of less than some minutes by more: what is compared then costs little. */
const JOINED = 4;
const JOINED_MS = 30 * 60_000;
/** Means of longer cells tell no day any more. */
const LONGEST_JOINED_MS = 4 * 3_600_000;
/** The order at which a sum comes closer with its step; cells joined by fours leave 0.7 of what joining adds (0.1–0.8 in simulated homes). */
const ORDER = 0.64;

/** How cells of a log are joined to see what its step hides. */
export interface Joining {
  /** 1 where the step is too long for it. */
  readonly cells: number;
  /** Share of what joining adds that the step itself may still hide. */
  readonly hides: number;
}

/**
 * The joining of cells of a step: what longer cells hide more than these do tells how much these may hide themselves, by the
 * grid convergence of numerical work.
 * @source Richardson's extrapolation as Roache has it, "Perspective: a method for uniform reporting of grid refinement studies",
 *   Journal of Fluids Engineering 116 (1994); from memory
 */
export function joiningOf(stepMs: number): Joining {
  const wanted = Math.max(JOINED, Math.round(JOINED_MS / stepMs));
  return wanted * stepMs <= LONGEST_JOINED_MS
    ? { cells: wanted, hides: 1 / (wanted ** ORDER - 1) }
    : { cells: 1, hides: 0 };
}

const joinedBefore = new WeakMap<Float64Array, Float64Array>();

/** Means of so many cells each, the same number for all columns of a log; kept for as long as the column is. */
export function joinedCells(values: Float64Array, cells: number): Float64Array {
  if (cells === 1) return values;
  const known = joinedBefore.get(values);
  if (known) return known;
  const joined = new Float64Array(Math.floor(values.length / cells));
  for (let k = 0; k < joined.length; k++) {
    let [sum, count] = [0, 0];
    for (let i = k * cells; i < (k + 1) * cells; i++) {
      const value = values[i]!;
      if (value !== value) continue;
      sum += value;
      count++;
    }
    // Groups at the edge of a gap count as a whole or not at all, which comes to as much as is known.
    joined[k] = 2 * count >= cells ? sum / count : NaN;
  }
  joinedBefore.set(values, joined);
  return joined;
}
