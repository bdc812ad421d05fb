import type { Range } from '../model/range.js';
import { capacityPass } from './capacitySegments.js';
import { cutOffsPass } from './cutOffs.js';
import { dayEntriesPass } from './dayEntries.js';
import { nightlyDischargesPass } from './depthOfDischarge.js';
import { fullWindowsPass } from './fullWindows.js';
import { gapsPass } from './gaps.js';
import type { Pass, Scanned, Seam } from './pass.js';
import { restsPass } from './rests.js';
import { tarePass } from './tare.js';
import { turningPointsPass } from './turningPoints.js';

/** Every pass through the samples; another one is another line here. */
export const PASSES = {
  entries: dayEntriesPass,
  windows: fullWindowsPass,
  nights: nightlyDischargesPass,
  turningPoints: turningPointsPass,
  capacity: capacityPass,
  cutOffs: cutOffsPass,
  gaps: gapsPass,
  rests: restsPass,
  tare: tarePass,
} as const;

/** What all passes keep of a log. */
export type Kept = { readonly [K in keyof typeof PASSES]: KeptBy<(typeof PASSES)[K]> };
type KeptBy<P> = P extends Pass<infer T> ? T : never;

const all = Object.entries(PASSES) as unknown as readonly (readonly [keyof Kept, Pass<unknown>])[];

/** Goes through a log with every pass. */
export function scanAll(scanned: Scanned): Kept {
  return Object.fromEntries(all.map(([name, { scan }]) => [name, scan(scanned)])) as unknown as Kept;
}

/** What one pass kept of a log, for a range of it. */
export function sliced<K extends keyof Kept>(name: K, kept: Kept & Scanned, range: Range): Kept[K] {
  const { slice } = PASSES[name] as unknown as Pass<Kept[K]>;
  return slice(kept[name], range, kept);
}

/** What was kept of two stretches, as if both had been gone through as one; null where one of the passes cannot tell. */
export function joinAll(before: Kept, after: Kept, seam: Seam): Kept | null {
  const joined: [string, unknown][] = [];
  for (const [name, { join }] of all) {
    const one = join(before[name], after[name], seam);
    if (one === null && (before[name] !== null || after[name] !== null)) return null;
    joined.push([name, one]);
  }
  return Object.fromEntries(joined) as unknown as Kept;
}
