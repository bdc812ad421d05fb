import {
  ALL,
  clock,
  counted,
  down,
  type Interval,
  localIso,
  NET,
  net,
  type Shape,
  shape,
  text,
  up,
} from '../shape.js';

/** Counters that run on or begin anew each day. */
export const COUNTER_SHAPES: readonly Shape[] = [
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
];

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
/** Counters shown to a last digit. */
export const DIGIT_COUNTER_SHAPES: readonly Shape[] = [
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
];
