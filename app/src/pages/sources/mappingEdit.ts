import type { Alternative, MappedColumn, Mapping } from '@long-tally/core';

/** What a column can be taken for, in the order in which one looks for it. */
export const QUANTITIES = [
  ['solar', 'solar'],
  ['load', 'load'],
  ['grid', 'grid: import less export'],
  ['import', 'import'],
  ['export', 'export'],
  ['battery', 'battery: discharge less charge'],
  ['discharge', 'discharge'],
  ['charge', 'charge'],
  ['batteryDc', 'battery, DC side: discharge less charge'],
  ['dischargeDc', 'discharge, DC side'],
  ['chargeDc', 'charge, DC side'],
  ['soc', 'state of charge'],
  ['batteryTemp', 'battery temperature'],
  ['outdoorTemp', 'outdoor temperature'],
  ['batteryV', 'battery voltage'],
  ['batteryA', 'battery current'],
  ['gridV', 'grid voltage'],
  ['gridHz', 'grid frequency'],
  ['gridUp', 'grid present (1 or 0)'],
  ['leg1', 'leg 1'],
  ['leg2', 'leg 2'],
  ['leg3', 'leg 3'],
  ['fault', 'fault'],
  ['islandHz', 'island frequency'],
  ['rain', 'rain'],
  ['irradiance', 'irradiance'],
  ['importRate', 'price of import'],
  ['exportRate', 'price of export'],
  ['cost', 'cost'],
] as const;

const STATE_UNITS: Readonly<Record<string, readonly MappedColumn['unit'][]>> = {
  soc: ['%', 'share'],
  batteryTemp: ['°C', '°F'],
  outdoorTemp: ['°C', '°F'],
  batteryV: ['V'],
  batteryA: ['A'],
  gridV: ['V'],
  gridHz: ['Hz'],
  gridUp: ['1/0'],
  fault: ['code'],
  islandHz: ['Hz'],
  rain: ['mm'],
  irradiance: ['W/m²'],
  importRate: ['money/kWh', 'cents/kWh'],
  exportRate: ['money/kWh', 'cents/kWh'],
  cost: ['money'],
};

/** One way in which a column may be written. */
export interface Reading {
  readonly kind: MappedColumn['kind'];
  readonly unit: MappedColumn['unit'];
  readonly sample: 'mean' | 'instant';
  readonly text: string;
}

/** The readings a quantity allows: kinds, the units of each, and for powers whether a value is a mean or a sample. */
export function readingsOf(quantity: string): readonly Reading[] {
  const states = STATE_UNITS[quantity];
  if (states)
    return states.map((unit) => ({
      kind: 'state',
      unit,
      sample: 'mean',
      text: unit === '1/0' ? '1 or 0' : unit,
    }));
  const each = (
    kind: Reading['kind'],
    units: readonly Reading['unit'][],
    what: string,
    sample: Reading['sample'] = 'mean',
  ) => units.map((unit) => ({ kind, unit, sample, text: `${what} in ${unit}` }));
  return [
    ...each('power', ['W', 'kW', 'MW'], 'power, mean of each interval,'),
    ...each('power', ['W', 'kW', 'MW'], 'power at each instant', 'instant'),
    ...each('energy', ['Wh', 'kWh'], 'energy of each interval'),
    ...each('counter', ['Wh', 'kWh', 'MWh'], 'counter'),
    ...each('daily-counter', ['Wh', 'kWh'], 'counter from midnight'),
  ];
}

/** The reading that a column has now. */
export function readingOf({ quantity, kind, unit, sample = 'mean' }: MappedColumn): Reading {
  const all = readingsOf(quantity);
  return all.find((one) => one.kind === kind && one.unit === unit && one.sample === sample) ?? all[0]!;
}

/** What the signs of a quantity mean, plus first. */
export function directionsOf(quantity: string): readonly [plus: string, minus: string] {
  if (quantity === 'grid') return ['import is positive', 'export is positive'];
  if (quantity === 'battery' || quantity === 'batteryDc' || quantity === 'batteryA')
    return ['discharge is positive', 'charge is positive'];
  if (quantity === 'soc') return ['state of charge', 'depth of discharge'];
  return ['as written', 'sign reversed'];
}

/** A mapping with one column taken for something else, or left in the file. */
export function withColumn(mapping: Mapping, name: string, change: Partial<MappedColumn> | null): Mapping {
  const at = mapping.columns.findIndex(({ column }) => column === name);
  if (change === null) return { ...mapping, columns: mapping.columns.filter((_, i) => i !== at) };
  const old = mapping.columns[at];
  const quantity = change.quantity ?? old?.quantity ?? 'load';
  const wanted: MappedColumn = {
    column: name,
    sign: 1,
    kind: 'power',
    unit: 'W',
    ...old,
    ...change,
    quantity,
  };
  const { kind, unit, sample } = readingOf(wanted);
  const next: MappedColumn = { ...wanted, kind, unit, sample };
  return {
    ...mapping,
    columns:
      at < 0 ? [...mapping.columns, next] : mapping.columns.map((column, i) => (i === at ? next : column)),
  };
}

/** A mapping with another reading of its time. */
export function withTime(mapping: Mapping, change: Partial<Mapping['time']>): Mapping {
  return { ...mapping, time: { ...mapping.time, ...change } };
}

/** A mapping with another decimal sign. */
export function withDecimal(mapping: Mapping, decimal: Mapping['table']['decimal']): Mapping {
  return { ...mapping, table: { ...mapping.table, decimal } };
}

/** A mapping read the other way that a conclusion offers. */
export function withAlternative(mapping: Mapping, about: string, { set }: Alternative): Mapping {
  const decimal = set['table.decimal'];
  if (decimal === '.' || decimal === ',') return withDecimal(mapping, decimal);
  if (set['quantity'] === 'none') return withColumn(mapping, about.slice('column:'.length), null);
  if (about.startsWith('column:')) return withColumn(mapping, about.slice('column:'.length), set);
  const time = Object.fromEntries(
    Object.entries(set).map(([key, value]) => [key.replace('time.', ''), value]),
  );
  return withTime(mapping, time);
}
