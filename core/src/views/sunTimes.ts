import { getTimes } from 'suncalc';
import type { Range } from '../model/range.js';
import type { System } from '../system/schema.js';

/**
 * Sunrise and sunset of days as shares of each, two for each day; NaN where the place is not described or the sun neither
 * rises nor sets.
 */
export function sunTimes(days: readonly Range[], { latitude, longitude }: System): Float32Array {
  const sun = new Float32Array(days.length * 2).fill(NaN);
  if (latitude === undefined || longitude === undefined) return sun;
  days.forEach(({ fromMs, toMs }, d) => {
    const { sunrise, sunset } = getTimes(new Date((fromMs + toMs) / 2), latitude, longitude);
    if (!sunrise || !sunset) return;
    sun[2 * d] = (sunrise.getTime() - fromMs) / (toMs - fromMs);
    sun[2 * d + 1] = (sunset.getTime() - fromMs) / (toMs - fromMs);
  });
  return sun;
}
