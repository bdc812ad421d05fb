import type { SystemConfiguration } from '../../system/schema.js';

/** Share of the sky's own light that a panel gets beside the beam, at a clear noon. */
const DIFFUSE = 0.12;
const RADIANS = Math.PI / 180;

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
 * @source position of the sun by declination and hour angle (J. W. Spencer, 1971, for the equation of time); beam as
 *   0.7^(air mass^0.678), A. B. Meinel and M. P. Meinel, Applied Solar Energy (1976), all from memory
 */
export function clearSky({ latitude, longitude, arrays }: Facing, ms: number): SunOnArrays {
  const days = ms / 86_400_000;
  const year = (2 * Math.PI * (((days % 365.2425) + 365.2425) % 365.2425)) / 365.2425;
  const declination =
    0.006918 -
    0.399912 * Math.cos(year) +
    0.070257 * Math.sin(year) -
    0.006758 * Math.cos(2 * year) +
    0.000907 * Math.sin(2 * year);
  const equationMinutes =
    229.18 *
    (0.000075 +
      0.001868 * Math.cos(year) -
      0.032077 * Math.sin(year) -
      0.014615 * Math.cos(2 * year) -
      0.040849 * Math.sin(2 * year));
  const hour = (days % 1) * 24 + longitude / 15 + equationMinutes / 60;
  const angle = (hour - 12) * 15 * RADIANS;
  const phi = latitude * RADIANS;
  const up = Math.sin(phi) * Math.sin(declination) + Math.cos(phi) * Math.cos(declination) * Math.cos(angle);
  if (up <= 0.01) return { plane: 0, sky: 0 };
  const east = -Math.cos(declination) * Math.sin(angle);
  const north =
    Math.cos(phi) * Math.sin(declination) - Math.sin(phi) * Math.cos(declination) * Math.cos(angle);
  const beam = 0.7 ** ((1 / up) ** 0.678);
  const faces = arrays.length > 0 ? arrays : [{ kWp: 1 }];
  let [sky, plane, kWp] = [0, 0, 0];
  for (const { kWp: size, tilt = 0, azimuth = 180 } of faces) {
    const [slope, turn] = [tilt * RADIANS, azimuth * RADIANS];
    const facing =
      east * Math.sin(slope) * Math.sin(turn) +
      north * Math.sin(slope) * Math.cos(turn) +
      up * Math.cos(slope);
    plane += size * Math.max(0, facing);
    sky += size * (beam * Math.max(0, facing) + DIFFUSE * up * 0.7);
    kWp += size;
  }
  return { plane: plane / kWp, sky: sky / kWp };
}
