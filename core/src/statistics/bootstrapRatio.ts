import { quantile } from './quantile.js';
import { seededRandom } from './random.js';

const RESAMPLES = 400;
/** Neighbouring windows share their season; of more than this many, neighbours are drawn together as blocks. */
const MOST_BLOCKS = 120;

/**
 * 95 % percentile interval of Σ numerator ÷ Σ denominator when blocks of neighbouring pairs are drawn again with
 * replacement; up to 120 pairs each is a block of its own. Seeded, so that the same data give the same interval.
 * @param numerators one for each window, in order of time
 * @param denominators one for each window, positive
 * @returns [low, high]
 * @source B. Efron, R. Tibshirani, "An Introduction to the Bootstrap" (1993), chapters 8.6 (blocks) and 13 (percentiles),
 *   from memory
 */
export function bootstrapRatio(numerators: Float64Array, denominators: Float64Array): [number, number] {
  const size = Math.ceil(numerators.length / MOST_BLOCKS);
  const above = blockSums(numerators, size);
  const below = blockSums(denominators, size);
  const n = above.length;
  const random = seededRandom(0x7a11);
  const ratios = new Float64Array(RESAMPLES);
  for (let r = 0; r < RESAMPLES; r++) {
    let drawnAbove = 0;
    let drawnBelow = 0;
    for (let k = 0; k < n; k++) {
      const i = Math.floor(random() * n);
      drawnAbove += above[i]!;
      drawnBelow += below[i]!;
    }
    ratios[r] = drawnAbove / drawnBelow;
  }
  ratios.sort();
  return [quantile(ratios, 0.025), quantile(ratios, 0.975)];
}

function blockSums(values: Float64Array, size: number): Float64Array {
  const sums = new Float64Array(Math.ceil(values.length / size));
  for (let i = 0; i < values.length; i++) sums[Math.floor(i / size)]! += values[i]!;
  return sums;
}
