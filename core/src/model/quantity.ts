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

/** Values at the start of the interval: SOC as a share 0–1, °C, V, A, Hz, and 1/0 for states; and weather and prices, of all of it (rain in mm/h, cost per hour). */
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
  'islandHz',
  'rain',
  'irradiance',
  'importRate',
  'exportRate',
  'cost',
] as const;

/** A part of the load or of the solar that is logged by name: `load:heat pump`, `solar:east roof`. */
export type NamedLoad = `load:${string}`;
export type NamedSolar = `solar:${string}`;
export type PowerQuantity = (typeof POWER_QUANTITIES)[number] | NamedLoad | NamedSolar;
export type InstantQuantity = (typeof INSTANT_QUANTITIES)[number];
export type Quantity = PowerQuantity | InstantQuantity;

/** One direction of a flow at the home's bus, as counters and daily totals give it. */
export const FLOWS = ['solar', 'load', 'import', 'export', 'charge', 'discharge'] as const;
export type Flow = (typeof FLOWS)[number];

/** True when the quantity is a power, that is, a mean that integrates to energy. */
export function isPower(quantity: Quantity): quantity is PowerQuantity {
  return isPart(quantity) || (POWER_QUANTITIES as readonly string[]).includes(quantity);
}

/** True of a part of the load that is logged by its own name. */
export function isNamed(quantity: Quantity): quantity is NamedLoad {
  return quantity.startsWith('load:');
}

/** True of a part of the load or of the solar that is logged by its own name. */
export function isPart(quantity: Quantity): quantity is NamedLoad | NamedSolar {
  return isNamed(quantity) || quantity.startsWith('solar:');
}

/** The name of such a part. */
export function nameOfPart(quantity: NamedLoad | NamedSolar): string {
  return quantity.slice(quantity.indexOf(':') + 1);
}

const TEXTS: Readonly<Record<(typeof POWER_QUANTITIES)[number] | InstantQuantity, string>> = {
  solar: 'solar power',
  load: 'load',
  grid: 'grid power',
  battery: 'battery power',
  batteryDc: 'battery power on the DC side',
  leg1: 'power of leg 1',
  leg2: 'power of leg 2',
  leg3: 'power of leg 3',
  soc: 'state of charge',
  batteryTemp: 'battery temperature',
  outdoorTemp: 'outdoor temperature',
  batteryV: 'battery voltage',
  batteryA: 'battery current',
  gridV: 'grid voltage',
  gridHz: 'grid frequency',
  gridUp: 'grid status',
  fault: 'fault code',
  islandHz: 'island frequency',
  rain: 'rain',
  irradiance: 'irradiance',
  importRate: 'price of import',
  exportRate: 'price of export',
  cost: 'cost',
};

/** A quantity in words, as it stands in a sentence behind "the". */
export function quantityText(quantity: Quantity): string {
  if (!isPart(quantity)) return TEXTS[quantity];
  return isNamed(quantity) ? `load of ${nameOfPart(quantity)}` : `solar power of ${nameOfPart(quantity)}`;
}

/** True of two names of a part that differ in capitals or in how words are joined: `heat_pump`, `Heat pump`. */
export function isSameName(a: string, b: string): boolean {
  const plain = (name: string) =>
    name
      .trim()
      .toLowerCase()
      .replace(/[\s_-]+/g, ' ');
  return plain(a) === plain(b);
}

/** How a value goes on between two that are known: along a line, or as it was until the next. */
export type Between = 'line' | 'hold';

/** Codes and states by number hold until the next; between two of them lies nothing. */
export function between(quantity: string): Between {
  return quantity === 'fault' || quantity === 'gridUp' ? 'hold' : 'line';
}

/** Values that hold for the whole of their interval though they are no powers: weather and prices. */
const OF_THE_INTERVAL: readonly Quantity[] = ['rain', 'irradiance', 'importRate', 'exportRate', 'cost'];

/** True of an amount of its row; held per hour inside, so that another step leaves its sum as it is. */
export function isAmount(quantity: Quantity): boolean {
  return quantity === 'rain' || quantity === 'cost';
}

/** True of a value that holds for its interval, as a mean does; false of one at its start. */
export function isOfInterval(quantity: Quantity): boolean {
  return isPower(quantity) || OF_THE_INTERVAL.includes(quantity);
}
