import { ALL, clock, down, type Interval, type Shape, shape, up, type Cell } from '../shape.js';

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

/** Statements with a row for each day, or usage alone. */
export const STATEMENT_SHAPES: readonly Shape[] = [
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
];
