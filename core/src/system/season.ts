import { offsetAt, zoneOf } from '../time/zone.js';
import type { System } from './schema.js';

type Place = Pick<System, 'latitude' | 'timeZone'>;

/**
 * Whether a home has its winter in the middle of the year: by its latitude, else by its clocks, which are put forward in
 * summer; null where neither tells.
 */
export function isSouthern({ latitude, timeZone }: Place): boolean | null {
  if (latitude !== undefined) return latitude < 0;
  const zone = zoneOf(timeZone);
  const [january, july] = [0, 6].map((month) => offsetAt(zone, Date.UTC(2024, month, 15)));
  return january === july ? null : january! > july!;
}

/** The four months of the shortest days, 1 for January, in their order; null where {@link isSouthern} is. */
export function darkMonths(place: Place): readonly number[] | null {
  const isSouth = isSouthern(place);
  return isSouth === null ? null : isSouth ? [5, 6, 7, 8] : [11, 12, 1, 2];
}
