import { ALL, down, type Interval, localIso, pairs, type Shape, shape, text, up } from '../shape.js';

/** Energies of each interval. */
export const ENERGY_SHAPES: readonly Shape[] = [
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

/** Energies of each interval by the names that loggers give them. */
export const NAMED_ENERGY_SHAPES: readonly Shape[] = [
  ...NAMES.map(([name, header]) => shape(`energies, ${name}`, energyText(header))),
];
