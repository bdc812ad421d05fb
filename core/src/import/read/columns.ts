import { isPower, type NamedLoad, type NamedSolar, type Quantity } from '../../model/quantity.js';
import type { FileUnit, Kind, MappedColumn, Role } from './mapping.js';

/**
 * How a column is read: (file value + shift) × scale, refused outside [low, high] of file units. Powers come out in W,
 * energies and counters in Wh, SOC as a share, temperatures in °C.
 */
export interface ColumnRule {
  readonly quantity: Role;
  readonly kind: Kind;
  readonly sample: 'mean' | 'instant';
  readonly scale: number;
  readonly shift: number;
  readonly low: number;
  readonly high: number;
  /** What the file writes, for messages. */
  readonly unit: string;
}

/** A column of a canonical log: a power in W, or a state, whose scale and shift are those of its unit. */
export type CanonicalRule = ColumnRule & { readonly quantity: Quantity };

const POWER_LIMIT_W = 1e7;
/** A home's counter in Wh; more is a fault. */
const COUNTER_LIMIT_WH = 1e12;

/** What a value in a unit of a file is worth in the unit of the log. */
export const SCALES: Readonly<Record<FileUnit, number>> = {
  W: 1,
  kW: 1e3,
  MW: 1e6,
  Wh: 1,
  kWh: 1e3,
  MWh: 1e6,
  '%': 0.01,
  share: 1,
  V: 1,
  A: 1,
  Hz: 1,
  '°C': 1,
  '°F': 5 / 9,
  '1/0': 1,
  mm: 1,
  'W/m²': 1,
  money: 1,
  'money/kWh': 1,
  'cents/kWh': 0.01,
  code: 1,
};

/** Bounds of a state in the unit of the log. */
const STATE_BOUNDS: Readonly<Partial<Record<Role, readonly [low: number, high: number]>>> = {
  soc: [0, 1],
  batteryTemp: [-90, 150],
  outdoorTemp: [-90, 150],
  batteryV: [0, 2000],
  batteryA: [-1e5, 1e5],
  gridV: [0, 2000],
  gridHz: [0, 100],
  gridUp: [0, 1],
  fault: [-1e9, 1e9],
  islandHz: [0, 100],
  rain: [0, 1000],
  irradiance: [-50, 2000],
  importRate: [-1e4, 1e4],
  exportRate: [-1e4, 1e4],
  cost: [-1e6, 1e6],
};

/** The unit of each state in a canonical log. */
export const STATE_UNITS: Readonly<Partial<Record<Role, FileUnit>>> = {
  soc: '%',
  batteryTemp: '°C',
  outdoorTemp: '°C',
  batteryV: 'V',
  batteryA: 'A',
  gridV: 'V',
  gridHz: 'Hz',
  gridUp: '1/0',
  fault: 'code',
  islandHz: 'Hz',
  rain: 'mm',
  irradiance: 'W/m²',
  importRate: 'money/kWh',
  exportRate: 'money/kWh',
  cost: 'money',
};

/** The rule of a column that a mapping describes. */
export function ruleOfMapped({ quantity, unit, sign, kind, sample = 'mean' }: MappedColumn): ColumnRule {
  const scale = SCALES[unit] * sign;
  // A state of charge turned round is a depth of discharge: what it leaves of a full battery.
  const full = quantity === 'soc' && sign === -1 ? 1 / SCALES[unit] : 0;
  const shift = unit === '°F' ? -32 : -full;
  const [low, high] =
    kind === 'state'
      ? (STATE_BOUNDS[quantity] ?? [-1e9, 1e9])
      : kind === 'power'
        ? [-POWER_LIMIT_W, POWER_LIMIT_W]
        : [-COUNTER_LIMIT_WH, COUNTER_LIMIT_WH];
  const ends = [low / scale - shift, high / scale - shift] as const;
  return { quantity, kind, sample, scale, shift, low: Math.min(...ends), high: Math.max(...ends), unit };
}

const CANONICAL: Readonly<Record<string, Quantity>> = {
  solar_w: 'solar',
  load_w: 'load',
  grid_w: 'grid',
  battery_w: 'battery',
  battery_dc_w: 'batteryDc',
  leg1_w: 'leg1',
  leg2_w: 'leg2',
  leg3_w: 'leg3',
  soc_pct: 'soc',
  battery_temp_c: 'batteryTemp',
  outdoor_temp_c: 'outdoorTemp',
  battery_v: 'batteryV',
  battery_a: 'batteryA',
  grid_v: 'gridV',
  grid_hz: 'gridHz',
  grid_up: 'gridUp',
  fault: 'fault',
  island_hz: 'islandHz',
  rain_mm: 'rain',
  irradiance_wm2: 'irradiance',
  import_rate: 'importRate',
  export_rate: 'exportRate',
  cost: 'cost',
};

/** The quantity of a header word of the canonical log file, or undefined when the word is not one of them. */
export function canonicalQuantity(header: string): Quantity | undefined {
  const word = header.trim().toLowerCase();
  if (Object.hasOwn(CANONICAL, word)) return CANONICAL[word];
  const [, name, of] = /^(.+)_(load|solar)_w$/.exec(word) ?? [];
  if (!name) return undefined;
  return of === 'load' ? (`load:${name}` satisfies NamedLoad) : (`solar:${name}` satisfies NamedSolar);
}

/** The canonical column of a quantity: its unit and kind. */
export function canonicalUnit(quantity: Quantity): FileUnit {
  return isPower(quantity) ? 'W' : (STATE_UNITS[quantity] ?? 'code');
}

/** The rule of a header word of the canonical log file, or undefined when the word is not one of them. */
export function canonicalRule(header: string): CanonicalRule | undefined {
  const quantity = canonicalQuantity(header);
  if (!quantity) return undefined;
  const kind = isPower(quantity) ? 'power' : 'state';
  const rule = ruleOfMapped({ column: header, quantity, unit: canonicalUnit(quantity), sign: 1, kind });
  return { ...rule, quantity, unit: quantity === 'gridUp' ? '1 or 0' : rule.unit };
}

/** The header word under which the canonical log file holds a quantity. */
export function canonicalHeader(quantity: Quantity): string {
  const word = Object.entries(CANONICAL).find(([, of]) => of === quantity)?.[0];
  return word ?? quantity.replace(/^(load|solar):(.*)$/, '$2_$1_w');
}
