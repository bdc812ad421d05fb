import type { DayRange } from './periods.js';
import type { RollDay } from './roll.js';

/** The energies of a day that days are ranked by. */
export const RANKED = ['solar', 'load', 'import', 'export', 'charge', 'discharge'] as const;
export type Ranked = (typeof RANKED)[number];

/** A day of which less is known is the least of nothing. */
const LEAST_COVERAGE = 0.9;

/** A day among those that a question ranks: its place in the roll and the energy it is ranked by, kWh. */
export interface RankedDay {
  readonly index: number;
  readonly kWh: number;
}

/** The days of a range by one energy, least first, those only that are known to nine tenths or by a total of their own. */
export function daysBy(days: readonly RollDay[], key: Ranked, range: DayRange): RankedDay[] {
  const ranked: RankedDay[] = [];
  for (let index = range.from; index <= range.to; index++) {
    const { [key]: kWh, coverage } = days[index]!;
    // Totals of a day are whole though no power of it is known.
    if (kWh !== null && (coverage >= LEAST_COVERAGE || coverage === 0)) ranked.push({ index, kWh });
  }
  return ranked.sort((a, b) => a.kWh - b.kWh);
}

/**
 * The days that answer "least solar" or "most import", the first of them first; null for a question of another kind.
 * @param query least or most, and an energy
 */
export function rankedDays(days: readonly RollDay[], query: string): RankedDay[] | null {
  const [, order, energy] = /^\s*(least|lowest|most|highest)\s+([a-z]+)/i.exec(query) ?? [];
  const key = RANKED.find((one) => one === energy?.toLowerCase());
  if (!order || !key) return null;
  const ascending = daysBy(days, key, { from: 0, to: days.length - 1 });
  return /^(?:least|lowest)$/i.test(order) ? ascending : ascending.reverse();
}
