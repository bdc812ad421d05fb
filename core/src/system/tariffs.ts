import { dayNumberOfDate, dayOf } from '../time/days.js';
import { zoneOf } from '../time/zone.js';
import type { System } from './schema.js';

type Tariff = NonNullable<System['tariffs']>[number];
type Rate = NonNullable<Tariff['import']>[number];

const WEEK = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'] as const;
export const HALF_HOURS_A_WEEK = 7 * 48;

/**
 * The tariff that holds at an instant: the last one begun, before all of them the first; undefined without one. A tariff
 * begins at midnight where the home is.
 */
export function tariffAt(
  { tariffs, timeZone }: Pick<System, 'tariffs' | 'timeZone'>,
  ms: number,
): Tariff | undefined {
  const begun = (tariffs ?? []).filter(
    ({ from }) => dayOf(zoneOf(timeZone), dayNumberOfDate(from)).fromMs <= ms,
  );
  return begun.at(-1) ?? tariffs?.[0];
}

/** Rates by half hour of the week from Monday midnight, NaN where none applies; later entries override earlier ones. */
export function weekOf(rates: readonly Rate[]): Float64Array {
  return Float64Array.from({ length: HALF_HOURS_A_WEEK }, (_, half) => {
    const [day, hour] = [WEEK[Math.floor(half / 48)]!, (half % 48) / 2];
    return rates.findLast((one) => holds(one, day, hour))?.rate ?? NaN;
  });
}

function holds({ days, start, end }: Rate, day: (typeof WEEK)[number], hour: number): boolean {
  if (days && !days.includes(day)) return false;
  if (start === undefined || end === undefined) return true;
  const [from, to] = [hourOf(start), hourOf(end)];
  return from < to ? hour >= from && hour < to : hour >= from || hour < to;
}

function hourOf(clock: string): number {
  return Number(clock.slice(0, 2)) + Number(clock.slice(3)) / 60;
}
