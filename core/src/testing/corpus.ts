import { gzipSync, strToU8, zipSync } from 'fflate';
import {
  ALL,
  clock,
  counted,
  dmy,
  down,
  type Interval,
  iso,
  kW,
  latin1,
  localIso,
  mdy12,
  NET,
  net,
  PAIRS,
  pairs,
  type Shape,
  shape,
  text,
  timed,
  up,
  utf16,
} from './shape.js';

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
