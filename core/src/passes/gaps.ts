import { findGaps, gapsIn, MOST_GAPS } from '../check/gaps.js';
import type { Gap } from '../model/finding.js';
import { joinApart, type Pass } from './pass.js';

/** Stretches in which something is missing; of very many only the longest are kept, and those cannot be joined. */
export const gapsPass: Pass<readonly Gap[]> = {
  scan: ({ log }) => findGaps(log),
  slice: (gaps, range, { log }) => gapsIn(gaps, log, range),
  join: (before, after, seam) =>
    before.length + after.length <= MOST_GAPS ? joinApart(before, after, seam) : null,
};
