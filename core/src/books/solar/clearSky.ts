import { getPosition } from 'suncalc';
import type { SystemConfiguration } from '../../system/schema.js';

/** Share of the sky's own light that a panel gets beside the beam, at a clear noon. */
const DIFFUSE = 0.12;
const RADIANS = Math.PI / 180;
/** A sun lower than this, as the sine of its height, gives nothing. */
const HORIZON = 0.01;

/** Where a home lies and how its arrays face; what is not described lies flat. */
export interface Facing {
  readonly latitude: number;
  readonly longitude: number;
  readonly arrays: NonNullable<SystemConfiguration['arrays']>;
}

/** How the sun meets the arrays at an instant, on scales of their own; 0 with the sun below the horizon. */
export interface SunOnArrays {
  /** By the angle on each array's plane alone. */
  readonly plane: number;
  /** With the beam's way through the air, and a share from all of the sky. */
  readonly sky: number;
}

/**
 * What a clear sky gives the arrays at an instant. Only the course over a day is meant to be used.
 * @param ms epoch ms
 * @source beam as 0.7^(air mass^0.678), A. B. Meinel and M. P. Meinel, Applied Solar Energy (1976), from memory
 */
export function clearSky({ latitude, longitude, arrays }: Facing, ms: number): SunOnArrays {
  const { altitude, azimuth: bearing } = getPosition(new Date(ms), latitude, longitude);
  const up = Math.sin(altitude * RADIANS);
  if (up <= HORIZON) return { plane: 0, sky: 0 };
  const flat = Math.cos(altitude * RADIANS);
  const beam = 0.7 ** ((1 / up) ** 0.678);
  const faces = arrays.length > 0 ? arrays : [{ kWp: 1 }];
  let [sky, plane, kWp] = [0, 0, 0];
  for (const { kWp: size, tilt = 0, azimuth = 180 } of faces) {
    const slope = tilt * RADIANS;
    const across = flat * Math.cos((bearing - azimuth) * RADIANS);
    const facing = Math.max(0, across * Math.sin(slope) + up * Math.cos(slope));
    plane += size * facing;
    sky += size * (beam * facing + DIFFUSE * up * 0.7);
    kWp += size;
  }
  return { plane: plane / kWp, sky: sky / kWp };
}
