import { seededRandom } from '../statistics/random.js';
import type { System } from '../system/schema.js';
import { offsetAt, zoneOf } from '../time/zone.js';

/** One interval of an invented home: W, and SOC in per cent at its start. */
export interface Interval {
  readonly ms: number;
  readonly solar: number;
  readonly load: number;
  readonly grid: number;
  readonly battery: number;
  readonly soc: number;
}

/** An invented home on the Atlantic coast, for logs whose truth is known. */
export const CORPUS_HOME: System = {
  schema: 'long-tally/system@1',
  name: 'Corpus home',
  timeZone: 'Europe/Lisbon',
  latitude: 41.1,
  longitude: -8.6,
  configurations: [
    {
      from: '2020-01-01T00:00:00Z',
      battery: { modules: 2, moduleKWh: 5, usableShare: 1, maxChargeKW: 5, maxDischargeKW: 5, reserve: 0.1 },
      inverter: { continuousKW: 5, batteryOnlyKW: 5 },
      arrays: [{ kWp: 5 }],
    },
  ],
};

/** A series whose account closes: sun with clouds, a load with peaks, a battery that follows, whole watts. */
export function series(fromMs: number, days: number, stepMinutes: number, seed = 7): Interval[] {
  const random = seededRandom(seed);
  const list: Interval[] = [];
  const hours = stepMinutes / 60;
  let stored = 4.2;
  let cloud = 0.8;
  for (let i = 0; i < (days * 1440) / stepMinutes; i++) {
    const ms = fromMs + i * stepMinutes * 60_000;
    // The sun of 8.6° west stands highest at 12:34 UTC.
    const hour = (ms / 3_600_000 - 0.57 + 24) % 24;
    cloud = Math.min(1, Math.max(0.15, cloud + 0.12 * (random() - 0.5)));
    const solar = Math.round(Math.max(0, 4200 * Math.sin((Math.PI * (hour - 6)) / 12)) * cloud);
    const evening = hour > 18 && hour < 22 ? 900 : 0;
    const load = Math.round(180 + evening + (random() < 0.06 ? 2100 : 0) + 120 * random());
    const want = load - solar;
    let battery = 0;
    if (want < 0 && stored < 9.95) battery = -Math.min(-want, 5000, ((10 - stored) / hours) * 1000);
    else if (want > 0 && stored > 1) battery = Math.min(want, 4500, ((stored - 1) / hours) * 950);
    battery = Math.round(battery);
    list.push({ ms, solar, load, grid: load - solar - battery, battery, soc: Math.round(stored * 100) / 10 });
    stored -= ((battery > 0 ? battery / 0.95 : battery * 0.95) * hours) / 1000;
  }
  return list;
}

export type Cell = string | number;
type Writer = (list: readonly Interval[]) => string | Uint8Array;

/** A file of the corpus: how it is written, what of the series it holds and whether something of it has to be asked. */
export interface Shape {
  readonly name: string;
  readonly file: string;
  readonly write: Writer;
  /** Figures that must equal those of the canonical log, within so much of themselves. */
  readonly keys: readonly string[];
  readonly within: number;
  /** What the owner has to be asked, as the `about` of a conclusion; empty: read without help. */
  readonly asks: readonly string[];
  readonly stepMinutes: number;
  readonly days: number;
}

export const two = (n: number) => String(n).padStart(2, '0');
export const ALL = [
  'account.solar',
  'account.load',
  'account.import',
  'account.export',
  'account.charge',
  'account.discharge',
];
export const SOC = ['wear.soc.mean'];

/** Parts of the site's clock at an instant. */
export function clock(ms: number, zone = 'Europe/Lisbon') {
  const at = new Date(ms + offsetAt(zoneOf(zone), ms));
  return {
    y: at.getUTCFullYear(),
    m: two(at.getUTCMonth() + 1),
    d: two(at.getUTCDate()),
    h: two(at.getUTCHours()),
    min: two(at.getUTCMinutes()),
    s: '00',
    hour: at.getUTCHours(),
  };
}
export const iso = (ms: number) => new Date(ms).toISOString().slice(0, 19);
export const localIso = (ms: number) => {
  const { y, m, d, h, min } = clock(ms);
  return `${y}-${m}-${d} ${h}:${min}:00`;
};
export const dmy = (ms: number) => {
  const { y, m, d, h, min } = clock(ms);
  return `${d}/${m}/${y} ${h}:${min}`;
};
export const mdy12 = (ms: number) => {
  const { y, m, d, hour, min } = clock(ms);
  return `${m}/${d}/${y} ${((hour + 11) % 12) + 1}:${min} ${hour < 12 ? 'AM' : 'PM'}`;
};

export interface Table {
  readonly header: readonly string[];
  readonly row: (interval: Interval, i: number) => readonly Cell[];
  readonly separator?: string;
  readonly decimal?: ',';
  readonly above?: string;
  readonly below?: string;
  readonly newline?: string;
}

/** Text of a table; a cell that holds the separator or a quote is quoted. */
export function text({
  header,
  row,
  separator = ',',
  decimal,
  above = '',
  below = '',
  newline = '\n',
}: Table): (list: readonly Interval[]) => string {
  const cell = (value: Cell) => {
    const written = typeof value === 'number' && decimal ? String(value).replace('.', ',') : String(value);
    return written.includes(separator) || written.includes('"')
      ? `"${written.replaceAll('"', '""')}"`
      : written;
  };
  return (list) =>
    [
      above,
      header.length > 0 ? header.map(cell).join(separator) : null,
      ...list.map((one, i) => row(one, i).map(cell).join(separator)),
      below,
    ]
      .filter((line): line is string => line !== null && line !== '')
      .join(newline) + newline;
}

export const kW = (w: number) => Math.round(w) / 1000;
export const up = (w: number) => Math.max(0, w);
export const down = (w: number) => Math.max(0, -w);
export const NET = ['PV Power (W)', 'Load Power (W)', 'Grid Power (W)', 'Battery Power (W)', 'SOC (%)'];
export const net = ({ solar, load, grid, battery, soc }: Interval): Cell[] => [
  solar,
  load,
  grid,
  battery,
  soc,
];
export const PAIRS = [
  'Solar kW',
  'Consumption kW',
  'Import kW',
  'Export kW',
  'Charge kW',
  'Discharge kW',
  'State of charge %',
];
export const pairs = ({ solar, load, grid, battery, soc }: Interval): Cell[] => [
  kW(solar),
  kW(load),
  kW(up(grid)),
  kW(down(grid)),
  kW(down(battery)),
  kW(up(battery)),
  soc,
];

/** Energies added up from the beginning, in kWh of three decimals, each row what had been counted at its time. */
export function counted(
  list: readonly Interval[],
  of: (interval: Interval) => number,
  stepMinutes: number,
  restart: (a: number, b: number) => boolean = () => false,
  start = 0,
): number[] {
  let total = start;
  return list.map((interval, i) => {
    if (i > 0)
      total = restart(list[i - 1]!.ms, interval.ms) ? 0 : total + (of(list[i - 1]!) * stepMinutes) / 60_000;
    return Math.round(total * 1000) / 1000;
  });
}

export function utf16(content: string): Uint8Array {
  const bytes = new Uint8Array(2 + content.length * 2);
  bytes.set([0xff, 0xfe]);
  for (let i = 0; i < content.length; i++) {
    bytes[2 + 2 * i] = content.charCodeAt(i) & 255;
    bytes[3 + 2 * i] = content.charCodeAt(i) >> 8;
  }
  return bytes;
}

export function latin1(content: string): Uint8Array {
  return Uint8Array.from(content, (character) => character.charCodeAt(0) & 255);
}

export function shape(name: string, write: Writer, more: Partial<Shape> = {}): Shape {
  return {
    name,
    file: 'log.csv',
    write,
    keys: [...ALL, ...SOC],
    within: 0.002,
    asks: [],
    stepMinutes: 5,
    days: 12,
    ...more,
  };
}

export const timed = (time: (ms: number) => Cell, header: string, rest: Partial<Table> = {}): Writer =>
  text({ header: [header, ...NET], row: (one) => [time(one.ms), ...net(one)], ...rest });
