import { parseInstant } from '../time/instant.js';
import type { System } from '../system/schema.js';

type ImportRate = NonNullable<NonNullable<System['tariffs']>[number]['import']>[number];

const WEEK = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'] as const;
const HALF_HOURS = 48;

/**
 * What a draw that never rests pays for a kWh: the mean over a week of the import rate that holds at an instant. Later
 * entries of a tariff override earlier ones where they apply.
 * @returns null where no tariff is described
 */
export function meanImportRate({ tariffs }: System, ms: number): number | null {
  const begun = (tariffs ?? []).filter(({ from }) => parseInstant(`${from}T00:00:00Z`) <= ms);
  const rates = (begun.at(-1) ?? tariffs?.[0])?.import;
  if (!rates || rates.length === 0) return null;
  let [sum, priced] = [0, 0];
  for (const day of WEEK)
    for (let half = 0; half < HALF_HOURS; half++) {
      const rate = rates.findLast((one) => holds(one, day, half / 2));
      if (!rate) continue;
      sum += rate.rate;
      priced++;
    }
  return priced > 0 ? sum / priced : null;
}

function holds({ days, start, end }: ImportRate, day: (typeof WEEK)[number], hour: number): boolean {
  if (days && !days.includes(day)) return false;
  if (start === undefined || end === undefined) return true;
  const [from, to] = [hourOf(start), hourOf(end)];
  return from < to ? hour >= from && hour < to : hour >= from || hour < to;
}

function hourOf(clock: string): number {
  return Number(clock.slice(0, 2)) + Number(clock.slice(3)) / 60;
}
