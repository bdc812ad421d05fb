import { type Interval, kW, localIso, NET, net, PAIRS, pairs, type Shape, shape, text } from '../shape.js';

const kilowatts = ({ ms, solar, load, grid, battery, soc }: Interval) => [
  localIso(ms),
  ...[solar, load, grid, battery].map(kW),
  soc,
];

/** Powers in many units and signs, and the charge beside them. */
export const POWER_SHAPES: readonly Shape[] = [
  shape(
    'kilowatts',
    text({
      header: ['Time', 'Solar (kW)', 'Load (kW)', 'Grid (kW)', 'Battery (kW)', 'SOC'],
      row: kilowatts,
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
    'kW named W',
    text({
      header: ['Time', ...NET],
      row: kilowatts,
    }),
    { asks: NET.slice(0, 4).map((name) => `column:${name}`) },
  ),
  shape(
    'state of charge as a share',
    text({
      header: ['Time', 'PV W', 'Load W', 'Grid W', 'Battery W', 'SOC'],
      row: ({ ms, solar, load, grid, battery, soc }) => [localIso(ms), solar, load, grid, battery, soc / 100],
    }),
  ),
];
