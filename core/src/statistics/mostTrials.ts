/** A search beyond this would only mean that next to nothing is seen. */
const MOST = 10_000;

/**
 * Highest number of trials of which seeing no more than so many is still as likely as asked: the upper bound of a count of
 * which each one is seen with a known chance.
 * @param seen counted successes, a whole number from 0
 * @param chance of each trial to be seen, above 0 and at most 1
 * @param level probability that is left beyond the bound
 * @returns at least `seen`, at most 10 000
 * @source exact binomial bound: C. J. Clopper and E. S. Pearson, Biometrika 26 (1934), solved for the number of trials
 * @example mostTrials(0, 0.5, 0.025) // 5: five unseen have a chance of 1/32, six of 1/64
 */
export function mostTrials(seen: number, chance: number, level: number): number {
  let trials = seen;
  while (trials < MOST && atMost(seen, trials + 1, chance) >= level) trials++;
  return trials;
}

/** Chance of no more than so many successes. */
function atMost(seen: number, trials: number, chance: number): number {
  if (chance >= 1) return trials <= seen ? 1 : 0;
  let term = (1 - chance) ** trials;
  let sum = term;
  for (let k = 1; k <= seen; k++) {
    term *= ((trials - k + 1) / k) * (chance / (1 - chance));
    sum += term;
  }
  return sum;
}
