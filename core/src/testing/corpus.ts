import { gzipSync, strToU8, zipSync } from 'fflate';
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

const two = (n: number) => String(n).padStart(2, '0');
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
const dmy = (ms: number) => {
  const { y, m, d, h, min } = clock(ms);
  return `${d}/${m}/${y} ${h}:${min}`;
};
const mdy12 = (ms: number) => {
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

function utf16(content: string): Uint8Array {
  const bytes = new Uint8Array(2 + content.length * 2);
  bytes.set([0xff, 0xfe]);
  for (let i = 0; i < content.length; i++) {
    bytes[2 + 2 * i] = content.charCodeAt(i) & 255;
    bytes[3 + 2 * i] = content.charCodeAt(i) >> 8;
  }
  return bytes;
}

function latin1(content: string): Uint8Array {
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

/** Logs of many shapes from the same series; every word in them is invented. */
export const SHAPES: readonly Shape[] = [
  shape(
    'canonical',
    text({
      header: ['time', 'solar_w', 'load_w', 'grid_w', 'battery_w', 'soc_pct'],
      row: (one) => [`${iso(one.ms)}Z`, ...net(one)],
    }),
  ),
  shape(
    'ISO with Z',
    timed((ms) => `${iso(ms)}Z`, 'Timestamp'),
  ),
  shape(
    'ISO with an offset',
    timed((ms) => `${localIso(ms).replace(' ', 'T')}+01:00`, 'timestamp'),
  ),
  shape('site clock, year first', timed(localIso, 'Date/Time')),
  shape('site clock, day first, semicolons', timed(dmy, 'Datum', { separator: ';', decimal: ',' })),
  shape('site clock, month first, 12 hours', timed(mdy12, 'Date')),
  shape(
    'day first with points',
    timed((ms) => dmy(ms).replaceAll('/', '.'), 'Zeit', { separator: ';' }),
  ),
  shape(
    'month by name',
    timed((ms) => {
      const { y, d, h, min } = clock(ms);
      return `${d}-May-${y} ${h}:${min}`;
    }, 'Time'),
    { days: 12 },
  ),
  shape(
    'seconds since 1970',
    timed((ms) => ms / 1000, 'epoch'),
  ),
  shape(
    'milliseconds since 1970',
    timed((ms) => ms, 'ts'),
  ),
  shape(
    'days of a spreadsheet',
    timed((ms) => ((ms + 3_600_000) / 86_400_000 + 25_569).toFixed(6), 'Date'),
  ),
  shape(
    'compact digits',
    timed((ms) => iso(ms).replace(/[-:T]/g, '').slice(0, 12), 'UTC time'),
  ),
  shape(
    'UTC said by the header',
    timed((ms) => iso(ms).replace('T', ' '), 'Time (UTC)'),
  ),
  shape(
    'date and clock in two columns',
    text({ header: ['Date', 'Time', ...NET], row: (one) => [...dmy(one.ms).split(' '), ...net(one)] }),
  ),
  shape('tabs', timed(localIso, 'time of day', { separator: '\t' })),
  shape('bars', timed(localIso, 'Time', { separator: '|' })),
  shape('all quoted', (list) =>
    timed(
      localIso,
      'Time',
    )(list)
      .toString()
      .replace(/[^,\n]+/g, '"$&"'),
  ),
  shape(
    'CRLF and a mark',
    (list) => `\uFEFF${timed(localIso, 'Time', { newline: '\r\n' })(list).toString()}`,
  ),
  shape('UTF-16', (list) => utf16(timed(localIso, 'Time', { separator: '\t' })(list).toString())),
  shape('Windows-1252', (list) =>
    latin1(
      text({
        header: [
          'Zeit',
          'PV-Erzeugung [W]',
          'Verbrauch für Haus [W]',
          'Netz [W]',
          'Batterie [W]',
          'Ladezustand [%]',
        ],
        row: (one) => [localIso(one.ms), ...net(one)],
        separator: ';',
      })(list),
    ),
  ),
  shape('title lines above', timed(localIso, 'Time', { above: 'Energy report\nSite: hillside\n' })),
  shape(
    'a row of units',
    text({
      header: ['Time', 'Solar', 'Load', 'Grid', 'Battery', 'SOC'],
      above: '',
      row: (one) => [localIso(one.ms), ...net(one)],
    }),
    {
      write: (list) => {
        const [head, ...rows] = text({
          header: ['Time', 'Solar', 'Load', 'Grid', 'Battery', 'SOC'],
          row: (one) => [localIso(one.ms), ...net(one)],
        })(list).split('\n');
        return [head, ',W,W,W,W,%', ...rows].join('\n');
      },
    },
  ),
  shape('a footer below', timed(localIso, 'Time', { below: 'Total,1,2,3,4,5\nend of report' })),
  shape('newest first', (list) => timed(localIso, 'Time')([...list].reverse())),
  shape(
    'kilowatts',
    text({
      header: ['Time', 'Solar (kW)', 'Load (kW)', 'Grid (kW)', 'Battery (kW)', 'SOC'],
      row: ({ ms, solar, load, grid, battery, soc }) => [
        localIso(ms),
        kW(solar),
        kW(load),
        kW(grid),
        kW(battery),
        soc,
      ],
    }),
  ),
  shape(
    'no units at all',
    text({
      header: ['Time', 'Solar', 'Load', 'Grid', 'Battery', 'SOC'],
      row: (one) => [localIso(one.ms), ...net(one)],
    }),
  ),
  shape(
    'units in the cells',
    text({
      header: ['Time', 'Solar', 'Load', 'Grid', 'Battery', 'SOC'],
      row: ({ ms, solar, load, grid, battery, soc }) => [
        localIso(ms),
        `${solar} W`,
        `${load} W`,
        `${grid} W`,
        `${battery} W`,
        `${soc} %`,
      ],
    }),
  ),
  shape(
    'signs the other way round',
    text({
      header: ['Time', ...NET],
      row: ({ ms, solar, load, grid, battery, soc }) => [localIso(ms), solar, load, -grid, -battery, soc],
    }),
  ),
  shape(
    'charge positive only',
    text({
      header: ['Time', ...NET],
      row: ({ ms, solar, load, grid, battery, soc }) => [localIso(ms), solar, load, grid, -battery, soc],
    }),
  ),
  shape(
    'load written negative',
    text({
      header: ['Time', ...NET],
      row: ({ ms, solar, load, grid, battery, soc }) => [localIso(ms), solar, -load, grid, battery, soc],
    }),
  ),
  shape(
    'both ways in columns of their own',
    text({ header: ['Time', ...PAIRS], row: (one) => [localIso(one.ms), ...pairs(one)] }),
  ),
  shape(
    'export and charge written negative',
    text({
      header: ['Time', ...PAIRS],
      row: (one) => [
        localIso(one.ms),
        ...pairs(one).map((value, i) => (i === 3 || i === 4 ? -Number(value) : value)),
      ],
    }),
  ),
  shape(
    'import and export exchanged',
    text({
      header: [
        'Time',
        ...PAIRS.map((name) =>
          name.startsWith('Import') ? 'Export kW' : name.startsWith('Export') ? 'Import kW' : name,
        ),
      ],
      row: (one) => [localIso(one.ms), ...pairs(one)],
    }),
    { asks: ['column:Export kW', 'column:Import kW'] },
  ),
  shape(
    'energy of each interval',
    text({
      header: [
        'Interval start',
        'Generation kWh',
        'Consumption kWh',
        'Imported kWh',
        'Exported kWh',
        'Charged kWh',
        'Discharged kWh',
        'SOC %',
      ],
      row: (one) => [
        localIso(one.ms),
        ...pairs(one).map((value, i) => (i < 6 ? Math.round((Number(value) / 12) * 1e5) / 1e5 : value)),
      ],
    }),
  ),
  shape(
    'energy in Wh, half-hourly, end of interval',
    text({
      header: [
        'Interval end',
        'Production Wh',
        'Consumption Wh',
        'Import Wh',
        'Export Wh',
        'Charge Wh',
        'Discharge Wh',
      ],
      row: ({ ms, solar, load, grid, battery }) => [
        localIso(ms + 1_800_000),
        solar / 2,
        load / 2,
        up(grid) / 2,
        down(grid) / 2,
        down(battery) / 2,
        up(battery) / 2,
      ],
    }),
    { keys: ALL, stepMinutes: 30 },
  ),
  shape(
    'counters',
    (list) => {
      const of = (pick: (one: Interval) => number, start: number) => counted(list, pick, 5, undefined, start);
      const columns = [
        of((one) => one.solar, 8121.4),
        of((one) => one.load, 9120),
        of((one) => up(one.grid), 3411.1),
        of((one) => down(one.grid), 512),
        of((one) => down(one.battery), 1200),
        of((one) => up(one.battery), 1100),
      ];
      return text({
        header: [
          'Time',
          'Total production kWh',
          'Total consumption kWh',
          'Import counter kWh',
          'Export counter kWh',
          'Total charged kWh',
          'Total discharged kWh',
        ],
        row: (one, i) => [localIso(one.ms), ...columns.map((column) => column[i]!)],
      })(list);
    },
    { keys: ALL },
  ),
  shape(
    'counters that begin anew each day',
    (list) => {
      const newDay = (a: number, b: number) => clock(a).d !== clock(b).d;
      const of = (pick: (one: Interval) => number) => counted(list, pick, 5, newDay);
      const columns = [
        of((one) => one.solar),
        of((one) => one.load),
        of((one) => up(one.grid)),
        of((one) => down(one.grid)),
        of((one) => down(one.battery)),
        of((one) => up(one.battery)),
      ];
      return text({
        header: [
          'Time',
          'PV today kWh',
          'Load today kWh',
          'Import today kWh',
          'Export today kWh',
          'Charge today kWh',
          'Discharge today kWh',
        ],
        row: (one, i) => [localIso(one.ms), ...columns.map((column) => column[i]!)],
      })(list);
    },
    { keys: ALL, within: 0.012 },
  ),
  shape('MWh counter beside powers', (list) => {
    const total = counted(list, (one) => one.solar, 5, undefined, 12_000);
    return text({
      header: ['Time', ...NET, 'Lifetime PV energy MWh'],
      row: (one, i) => [localIso(one.ms), ...net(one), (total[i]! / 1000).toFixed(6)],
    })(list);
  }),
  shape(
    'state of charge as a share',
    text({
      header: ['Time', 'PV W', 'Load W', 'Grid W', 'Battery W', 'SOC'],
      row: ({ ms, solar, load, grid, battery, soc }) => [localIso(ms), solar, load, grid, battery, soc / 100],
    }),
  ),
  shape(
    'camel case',
    text({
      header: ['timestamp', 'pvPower', 'housePower', 'gridPower', 'batteryPower', 'batterySoc'],
      row: (one) => [localIso(one.ms), ...net(one)],
    }),
  ),
  shape(
    'Portuguese words',
    text({
      header: ['Data e hora', 'Produção solar (kW)', 'Consumo (kW)', 'Rede (kW)', 'Bateria (kW)', 'SOC (%)'],
      row: ({ ms, solar, load, grid, battery, soc }) => [
        dmy(ms),
        kW(solar),
        kW(load),
        kW(grid),
        kW(battery),
        soc,
      ],
      separator: ';',
      decimal: ',',
    }),
  ),
  shape(
    'German words',
    text({
      header: [
        'Zeitstempel',
        'PV-Leistung [kW]',
        'Hausverbrauch [kW]',
        'Netzbezug [kW]',
        'Netzeinspeisung [kW]',
        'Batterie Ladung [kW]',
        'Batterie Entladung [kW]',
        'Ladezustand [%]',
      ],
      row: (one) => [dmy(one.ms).replaceAll('/', '.'), ...pairs(one)],
      separator: ';',
      decimal: ',',
    }),
  ),
  shape(
    'Slovene words',
    text({
      header: [
        'Datum',
        'Proizvodnja kW',
        'Poraba kW',
        'Odjem kW',
        'Oddaja kW',
        'Polnjenje kW',
        'Praznjenje kW',
      ],
      row: (one) => [dmy(one.ms).replaceAll('/', '.'), ...pairs(one).slice(0, 6)],
      separator: ';',
      decimal: ',',
    }),
    { keys: ALL },
  ),
  shape('gzip', (list) => gzipSync(strToU8(timed(localIso, 'Time')(list).toString())), {
    file: 'log.csv.gz',
  }),
  shape(
    'a zip of two halves',
    (list) => {
      const half = list.length / 2;
      return zipSync({
        'a.csv': strToU8(timed(localIso, 'Time')(list.slice(0, half)).toString()),
        'b.csv': strToU8(timed(localIso, 'Time')(list.slice(half)).toString()),
        'readme.md': strToU8('no log'),
      });
    },
    { file: 'logs.zip' },
  ),
  shape(
    'JSON rows',
    (list) =>
      JSON.stringify({
        site: 'hillside',
        data: list.map(({ ms, solar, load, grid, battery, soc }) => ({
          time: `${iso(ms)}Z`,
          solarPower: solar,
          loadPower: load,
          gridPower: grid,
          batteryPower: battery,
          soc,
        })),
      }),
    { file: 'log.json' },
  ),
  shape(
    'load not logged',
    text({
      header: ['Time', 'PV W', 'Grid W', 'Battery W', 'SOC %'],
      row: ({ ms, solar, grid, battery, soc }) => [localIso(ms), solar, grid, battery, soc],
    }),
  ),
  shape(
    'battery by volts and amps',
    text({
      header: ['Time', 'PV W', 'Load W', 'Grid W', 'Battery voltage (V)', 'Battery current (A)', 'SOC %'],
      row: ({ ms, solar, load, grid, battery, soc }) => [
        localIso(ms),
        solar,
        load,
        grid,
        51.2,
        (battery / 51.2).toFixed(2),
        soc,
      ],
    }),
    { within: 0.004 },
  ),
  shape(
    'two strings of modules',
    text({
      header: ['Time', 'PV1 power W', 'PV2 power W', 'Load W', 'Grid W', 'Battery W', 'SOC %'],
      row: ({ ms, solar, load, grid, battery, soc }) => [
        localIso(ms),
        Math.round(solar * 0.6),
        solar - Math.round(solar * 0.6),
        load,
        grid,
        battery,
        soc,
      ],
    }),
  ),
  shape(
    'one day of which day and month could be exchanged',
    timed((ms) => dmy(ms + 0), 'Date'),
    { days: 1, asks: ['time.format'] },
  ),
  shape(
    'kW named W',
    text({
      header: ['Time', ...NET],
      row: ({ ms, solar, load, grid, battery, soc }) => [
        localIso(ms),
        kW(solar),
        kW(load),
        kW(grid),
        kW(battery),
        soc,
      ],
    }),
    { asks: NET.slice(0, 4).map((name) => `column:${name}`) },
  ),
  shape(
    'a logger on UTC that does not say so',
    timed((ms) => iso(ms).replace('T', ' '), 'Time'),
    { asks: ['time.zone'] },
  ),
];
