import {
  ALL,
  clock,
  counted,
  down,
  iso,
  kW,
  localIso,
  NET,
  net,
  shape,
  SOC,
  text,
  up,
  type Cell,
  type Interval,
  type Shape,
} from './shape.js';

/** Energies of whole days of the site, kWh, by flow. */
function dayTotals(list: readonly Interval[], stepMinutes: number) {
  const days = new Map<string, { ms: number; kWh: number[] }>();
  const hours = stepMinutes / 60_000;
  for (const { ms, solar, load, grid, battery } of list) {
    const { y, m, d } = clock(ms);
    const day = days.get(`${y}-${m}-${d}`) ?? { ms, kWh: [0, 0, 0, 0, 0, 0] };
    days.set(`${y}-${m}-${d}`, day);
    [solar, load, up(grid), down(grid), down(battery), up(battery)].forEach((w, f) => {
      day.kWh[f]! += w * hours;
    });
  }
  return [...days].map(([date, { ms, kWh }]) => ({
    date,
    ms,
    kWh: kWh.map((one) => Number(one.toFixed(3))),
  }));
}

const FLOW_NAMES = [
  'Solar (kWh)',
  'Consumption (kWh)',
  'Import (kWh)',
  'Export (kWh)',
  'Charged (kWh)',
  'Discharged (kWh)',
];

/** A statement with a row for each day, its name written in one of many ways. */
function statement(
  header: readonly string[],
  nameOf: (date: string, ms: number) => readonly Cell[],
  flows: readonly number[] = [0, 1, 2, 3, 4, 5],
): (list: readonly Interval[]) => string {
  return (list) =>
    `${header.join(',')}\n${dayTotals(list, 5)
      .map(({ date, ms, kWh }) => [...nameOf(date, ms), ...flows.map((f) => kWh[f]!)].join(','))
      .join('\n')}\n`;
}

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const long = (date: string) => `${+date.slice(8)} ${MONTHS[+date.slice(5, 7) - 1]!} ${date.slice(0, 4)}`;

/** Counters of a last digit in kWh, as they are shown: cut off. */
function counters(
  names: readonly string[],
  digit: number,
  options: { readonly daily?: boolean; readonly unit?: 1 | 1000; readonly soc?: boolean } = {},
): (list: readonly Interval[]) => string {
  const newDay = (a: number, b: number) => clock(a).d !== clock(b).d;
  return (list) => {
    const of: ((one: Interval) => number)[] = [
      (one) => one.solar,
      (one) => one.load,
      (one) => up(one.grid),
      (one) => down(one.grid),
      (one) => down(one.battery),
      (one) => up(one.battery),
    ];
    const columns = of.map((flow, f) =>
      counted(list, flow, 5, options.daily ? newDay : undefined, options.daily ? 0 : 900 + 300 * f),
    );
    const shown = (kWh: number) =>
      Number((Math.floor(kWh / digit + 1e-6) * digit * (options.unit ?? 1)).toFixed(3));
    return `${['Time', ...names, ...(options.soc === false ? [] : ['SOC (%)'])].join(',')}\n${list
      .map((one, i) =>
        [
          localIso(one.ms),
          ...columns.map((column) => shown(column[i]!)),
          ...(options.soc === false ? [] : [one.soc]),
        ].join(','),
      )
      .join('\n')}\n`;
  };
}

const TOTAL_NAMES = [
  'PV total (kWh)',
  'Load total (kWh)',
  'Import total (kWh)',
  'Export total (kWh)',
  'Charge total (kWh)',
  'Discharge total (kWh)',
];
const energies = ({ solar, load, grid, battery }: Interval): number[] =>
  [solar, load, up(grid), down(grid), down(battery), up(battery)].map(
    (w) => Math.round((w * 1000) / 12) / 1e6,
  );
const energyText = (header: readonly string[]) =>
  text({ header: ['Time', ...header], row: (one) => [localIso(one.ms), ...energies(one), one.soc] });

/** Names of the six flows and the charge, as loggers write them. */
const NAMES: readonly (readonly [name: string, header: readonly string[]])[] = [
  [
    'flows named by where they go',
    [
      'solar_kwh',
      'to_home_load_kwh',
      'from_grid_kwh',
      'to_grid_kwh',
      'to_battery_kwh',
      'from_battery_kwh',
      'soc',
    ],
  ],
  [
    'battery in and out',
    ['pv_kwh', 'load_kwh', 'grid_import_kwh', 'grid_export_kwh', 'bat_in_kwh', 'bat_out_kwh', 'bat_soc'],
  ],
  [
    'stored and from store',
    [
      'Solar (kWh)',
      'House (kWh)',
      'Bought (kWh)',
      'Sold (kWh)',
      'Stored (kWh)',
      'From store (kWh)',
      'Charge level (%)',
    ],
  ],
  [
    'taken and delivered',
    [
      'Panels (kWh)',
      'Home (kWh)',
      'Taken from grid (kWh)',
      'Delivered to grid (kWh)',
      'Into battery (kWh)',
      'Out of battery (kWh)',
      'Battery (%)',
    ],
  ],
  [
    'grid in and out',
    ['PV kWh', 'Consumption kWh', 'Grid in kWh', 'Grid out kWh', 'Store in kWh', 'Store out kWh', 'SOC %'],
  ],
  [
    'Spanish',
    [
      'Solar (kWh)',
      'Consumo (kWh)',
      'Importada (kWh)',
      'Exportada (kWh)',
      'Carga (kWh)',
      'Descarga (kWh)',
      'SOC (%)',
    ],
  ],
  [
    'unit in front',
    ['kWh Solar', 'kWh Used', 'kWh Imported', 'kWh Exported', 'kWh Charged', 'kWh Discharged', 'SOC'],
  ],
];

/** Shapes of coarse, partial and many-named material; every word in them is invented. */
export const MORE_SHAPES: readonly Shape[] = [
  ...([0.01, 0.1] as const).map((digit) =>
    shape(`counters of ${digit} kWh`, counters(TOTAL_NAMES, digit), { within: 0.02 }),
  ),
  shape('counters of whole kWh', counters(TOTAL_NAMES, 1), { within: 0.15, days: 30 }),
  shape(
    'counters in Wh',
    counters(
      TOTAL_NAMES.map((name) => name.replace('kWh', 'Wh')),
      0.001,
      { unit: 1000 },
    ),
  ),
  shape(
    'counters that start anew each day, of 0.1 kWh',
    counters(
      [
        'PV today (kWh)',
        'Load today (kWh)',
        'Import today (kWh)',
        'Export today (kWh)',
        'Charge today (kWh)',
        'Discharge today (kWh)',
      ],
      0.1,
      { daily: true },
    ),
    { within: 0.06 },
  ),
  shape(
    'counters by where the energy goes',
    counters(
      [
        'solar_wh_total',
        'load_wh_total',
        'from_grid_wh_total',
        'to_grid_wh_total',
        'to_battery_wh_total',
        'from_battery_wh_total',
      ],
      0.001,
      { unit: 1000 },
    ),
  ),
  shape('counters without a charge', counters(TOTAL_NAMES, 0.1, { soc: false }), { keys: ALL, within: 0.02 }),
  ...NAMES.map(([name, header]) => shape(`energies, ${name}`, energyText(header))),
  shape(
    'daily statement',
    statement(['Date', ...FLOW_NAMES], (date) => [date]),
    { keys: ALL },
  ),
  shape(
    'daily statement, dates by name',
    statement(['Day', ...FLOW_NAMES], (date) => [long(date)]),
    { keys: ALL },
  ),
  shape(
    'statement, first and last day in two columns',
    statement(['From', 'To', ...FLOW_NAMES], (date) => [date, date]),
    { keys: ALL },
  ),
  shape(
    'statement, ranges in one column',
    statement(['Period', ...FLOW_NAMES], (date) => [`${long(date)} – ${long(date)}`]),
    { keys: ALL },
  ),
  shape(
    'statement, numeric ranges day first, with a sum below',
    (list) =>
      `${statement(['Period', ...FLOW_NAMES], (date) => {
        const [y, m, d] = date.split('-');
        return [`${d}.${m}.${y} - ${d}.${m}.${y}`];
      })(list)}Sum,0,0,0,0,0,0\n`,
    { keys: ALL },
  ),
  shape(
    'daily statement of a home without panels or battery',
    statement(['Date', 'Consumption (kWh)', 'Import (kWh)'], (date) => [date], [1, 2]),
    { keys: ['account.load', 'account.import'] },
  ),
  shape(
    'statement without a battery',
    statement(['Date', ...FLOW_NAMES.slice(0, 4)], (date) => [date], [0, 1, 2, 3]),
    { keys: ALL.slice(0, 4) },
  ),
  shape(
    'usage alone, of a utility',
    statement(['Date', 'Usage (kWh)'], (date) => [date], [2]),
    { keys: [], asks: ['column:Usage (kWh)'] },
  ),
  shape(
    'shunt: volts and amps of the bank, charging positive',
    text({
      header: ['Time', 'Bank voltage (V)', 'Shunt current (A)', 'SOC (%)'],
      row: (one) => [localIso(one.ms), 50, -one.battery / 50, one.soc],
    }),
    { keys: ['account.charge', 'account.discharge', ...SOC] },
  ),
  shape(
    'shunt without a charge beside it',
    text({
      header: ['Time', 'Pack voltage (V)', 'Pack current (A)'],
      row: (one) => [localIso(one.ms), 50, -one.battery / 50],
    }),
    { keys: [], asks: ['column:Pack current (A)'] },
  ),
  shape(
    'legs alone, no load of the whole',
    text({
      header: ['time', 'solar_w', 'grid_w', 'battery_w', 'leg1_w', 'leg2_w', 'soc_pct'],
      row: (one) => [
        `${iso(one.ms)}Z`,
        one.solar,
        one.grid,
        one.battery,
        one.load - Math.floor(one.load / 3),
        Math.floor(one.load / 3),
        one.soc,
      ],
    }),
  ),
  shape(
    'arrays alone, no solar of the whole',
    text({
      header: ['time', 'east_solar_w', 'west_solar_w', 'load_w', 'grid_w', 'battery_w', 'soc_pct'],
      row: (one) => [
        `${iso(one.ms)}Z`,
        Math.floor(one.solar / 3),
        one.solar - Math.floor(one.solar / 3),
        one.load,
        one.grid,
        one.battery,
        one.soc,
      ],
    }),
  ),
  shape(
    'weather and prices beside the flows',
    text({
      header: [
        'Time',
        ...NET,
        'Rain (mm)',
        'Irradiance (W/m2)',
        'Outdoor temp (°F)',
        'Price (ct/kWh)',
        'Cost (EUR)',
      ],
      row: (one, i) => [
        localIso(one.ms),
        ...net(one),
        i % 40 ? 0 : 0.2,
        Math.round(one.solar / 4),
        60 + (i % 12),
        31.4,
        kW(up(one.grid)),
      ],
    }),
  ),
  shape(
    'an appliance beside the flows',
    text({
      header: ['Time', ...NET, 'Heat pump (W)'],
      row: (one, i) => [localIso(one.ms), ...net(one), i % 30 < 8 ? 900 : 0],
    }),
  ),
  shape(
    'the charge stamped at the end of its row',
    (list) =>
      text({
        header: ['time', 'solar_w', 'load_w', 'grid_w', 'battery_w', 'soc_pct'],
        row: (one, i) => [
          `${iso(one.ms)}Z`,
          one.solar,
          one.load,
          one.grid,
          one.battery,
          list[i + 1]?.soc ?? '',
        ],
      })(list),
    { within: 0.005 },
  ),
  shape(
    'three strings with their sum',
    text({
      header: ['Time', 'PV total W', 'PV1 W', 'PV2 W', 'PV3 W', 'Load W', 'Grid W', 'Battery W', 'SOC %'],
      row: ({ ms, solar, load, grid, battery, soc }) => {
        const [a, b] = [Math.round(solar * 0.5), Math.round(solar * 0.3)];
        return [localIso(ms), solar, a, b, solar - a - b, load, grid, battery, soc];
      },
    }),
  ),
  shape(
    'two inverters, each with its own sun, load and battery',
    text({
      header: [
        'Time',
        'Inverter 1 PV power (W)',
        'Inverter 2 PV power (W)',
        'Inverter 1 load (W)',
        'Inverter 2 load (W)',
        'Grid power (W)',
        'Inverter 1 battery power (W)',
        'Inverter 2 battery power (W)',
        'Battery SOC (%)',
      ],
      row: ({ ms, solar, load, grid, battery, soc }) => {
        const [sun, use, store] = [solar, load, battery].map((w) => Math.round(w * 0.45)) as [
          number,
          number,
          number,
        ];
        return [localIso(ms), sun, solar - sun, use, load - use, grid, store, battery - store, soc];
      },
    }),
  ),
  shape(
    'a heat pump and a car named in German beside the flows',
    text({
      header: [
        'Zeit',
        'PV (W)',
        'Verbrauch (W)',
        'Netz (W)',
        'Batterie (W)',
        'SOC (%)',
        'Wärmepumpe (W)',
        'Wallbox (W)',
      ],
      row: ({ ms, solar, load, grid, battery, soc }) => [
        localIso(ms),
        solar,
        load,
        grid,
        battery,
        soc,
        Math.round(load * 0.2),
        Math.round(load * 0.3),
      ],
    }),
  ),
];
