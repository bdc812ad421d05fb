/** Powers are means over the interval, in W; the sign convention is that of the canonical log file. */
export const POWER_QUANTITIES = [
  'solar',
  'load',
  'grid',
  'battery',
  'batteryDc',
  'leg1',
  'leg2',
  'leg3',
] as const;

/** Values at the start of the interval: SOC as a share 0–1, °C, V, A, Hz, and 1/0 for states. */
export const INSTANT_QUANTITIES = [
  'soc',
  'batteryTemp',
  'outdoorTemp',
  'batteryV',
  'batteryA',
  'gridV',
  'gridHz',
  'gridUp',
  'fault',
] as const;

/** A part of the load that is logged by name: `load:heat pump`. */
export type NamedLoad = `load:${string}`;
const NAMED = 'load:';
export type PowerQuantity = (typeof POWER_QUANTITIES)[number] | NamedLoad;
export type InstantQuantity = (typeof INSTANT_QUANTITIES)[number];
export type Quantity = PowerQuantity | InstantQuantity;

/** One direction of a flow at the home's bus, as counters and daily totals give it. */
export const FLOWS = ['solar', 'load', 'import', 'export', 'charge', 'discharge'] as const;
export type Flow = (typeof FLOWS)[number];

/** True when the quantity is a power, that is, a mean that integrates to energy. */
export function isPower(quantity: Quantity): quantity is PowerQuantity {
  return isNamed(quantity) || (POWER_QUANTITIES as readonly string[]).includes(quantity);
}

/** True of a part of the load that is logged by its own name. */
export function isNamed(quantity: Quantity): quantity is NamedLoad {
  return quantity.startsWith(NAMED);
}

/** The name of such a part. */
export function nameOfPart(quantity: NamedLoad): string {
  return quantity.slice(NAMED.length);
}
