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
  ['batteryDc', 'battery, DC side'],
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
};

/** The kinds of reading a quantity allows, with the units of each. */
export function readingsOf(
  quantity: string,
): readonly (readonly [kind: MappedColumn['kind'], unit: MappedColumn['unit'], text: string])[] {
  const states = STATE_UNITS[quantity];
  if (states) return states.map((unit) => ['state', unit, unit === '1/0' ? '1 or 0' : unit] as const);
  return [
    ['power', 'W', 'power in W'],
    ['power', 'kW', 'power in kW'],
    ['power', 'MW', 'power in MW'],
    ['energy', 'Wh', 'energy of each interval in Wh'],
    ['energy', 'kWh', 'energy of each interval in kWh'],
    ['counter', 'Wh', 'counter in Wh'],
    ['counter', 'kWh', 'counter in kWh'],
    ['counter', 'MWh', 'counter in MWh'],
    ['daily-counter', 'Wh', 'counter from midnight in Wh'],
    ['daily-counter', 'kWh', 'counter from midnight in kWh'],
  ];
}

/** What the signs of a quantity mean, plus first. */
export function directionsOf(quantity: string): readonly [plus: string, minus: string] {
  if (quantity === 'grid') return ['import is positive', 'export is positive'];
  if (quantity === 'battery' || quantity === 'batteryDc')
    return ['discharge is positive', 'charge is positive'];
  return ['as written', 'turned round'];
}

/** A mapping with one column taken for something else, or left in the file. */
export function withColumn(mapping: Mapping, name: string, change: Partial<MappedColumn> | null): Mapping {
  const at = mapping.columns.findIndex(({ column }) => column === name);
  if (change === null) return { ...mapping, columns: mapping.columns.filter((_, i) => i !== at) };
  const old = mapping.columns[at];
  const quantity = change.quantity ?? old?.quantity ?? 'load';
  const allowed = readingsOf(quantity);
  const wanted = { kind: change.kind ?? old?.kind, unit: change.unit ?? old?.unit };
  const [kind, unit] = allowed.find(([k, u]) => k === wanted.kind && u === wanted.unit) ?? allowed[0]!;
  const next: MappedColumn = { column: name, sign: 1, ...old, ...change, quantity, kind, unit };
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

/** A mapping read the other way that a conclusion offers. */
export function withAlternative(mapping: Mapping, about: string, { set }: Alternative): Mapping {
  if (set['quantity'] === 'none') return withColumn(mapping, about.slice('column:'.length), null);
  if (about.startsWith('column:')) return withColumn(mapping, about.slice('column:'.length), set);
  const time = Object.fromEntries(
    Object.entries(set).map(([key, value]) => [key.replace('time.', ''), value]),
  );
  return withTime(mapping, time);
}
