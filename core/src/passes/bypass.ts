import type { Log } from '../model/log.js';
import type { Configuration } from '../system/configuration.js';

/** A hybrid's bypass: so much sun, and import and load, charge and sun alike within a share and so many W. */
const BYPASS_SUN_W = 100;
const BYPASS_SHARE = 0.08;
const BYPASS_W = 20;

/** True where the battery or the solar is measured on the DC side, behind the inverter. */
export function isOnDc({ channels }: Log, { described }: Configuration): boolean {
  return described?.coupling === 'dc' || (!channels.has('battery') && channels.has('batteryDc'));
}

/** True where the inverter lets the grid carry the home and gives all of the sun to the battery. */
export function isBypass(need: number, buying: number, shining: number, charge: number): boolean {
  return (
    shining > BYPASS_SUN_W &&
    Math.abs(buying - need) < BYPASS_SHARE * need + BYPASS_W &&
    Math.abs(charge - shining) < BYPASS_SHARE * shining + BYPASS_W
  );
}
