import { getPosition } from 'suncalc';

const RADIANS = Math.PI / 180;

/** A plane of modules. Tilt from the horizontal, azimuth clockwise from north, both in degrees. */
export interface Plane {
  readonly kWp: number;
  readonly tilt: number;
  readonly azimuth: number;
}

/**
 * Power of a plane under a sky, at the inverter's DC input.
 * Direct light by the Meinel attenuation 0.7^(AM^0.678) with Kasten and Young's air mass (1989), diffuse light isotropic.
 * @param sky share of the direct light that comes through, 0–1
 * @returns W
 */
export function planePower(
  plane: Plane,
  ms: number,
  latitude: number,
  longitude: number,
  sky: number,
  airC: number,
): number {
  const { altitude, azimuth } = getPosition(new Date(ms), latitude, longitude);
  if (altitude <= 0) return 0;
  const sine = Math.sin(altitude * RADIANS);
  const airMass = 1 / (sine + 0.50572 * (altitude + 6.07995) ** -1.6364);
  const direct = 1353 * 0.7 ** (airMass ** 0.678);
  const cosine =
    Math.cos(plane.tilt * RADIANS) * sine +
    Math.sin(plane.tilt * RADIANS) *
      Math.cos(altitude * RADIANS) *
      Math.cos((azimuth - plane.azimuth) * RADIANS);
  const beam = Math.max(0, cosine) * direct * sky;
  const diffuse = direct * sine * (0.1 + 0.22 * (1 - sky)) * ((1 + Math.cos(plane.tilt * RADIANS)) / 2);
  const light = beam + diffuse;
  const cellC = airC + light * 0.028;
  return Math.max(0, plane.kWp * light * (1 - 0.0036 * (cellC - 25)) * 0.93);
}
