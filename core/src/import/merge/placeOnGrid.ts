import type { Finding } from '../../model/finding.js';
import { InputError } from '../../model/problem.js';
import { MOST_VALUES, type Table } from '../read/table.js';
import type { Column, Grid, UnshapedEnergy, SourceLog } from '../../model/log.js';
import { between, isOfInterval, type Between, type Quantity } from '../../model/quantity.js';
import { isoOf } from '../../time/instant.js';
import { doubledText } from './rows.js';
import { sparseLog, type NotedState } from './sparseStates.js';
import { sampleAtStarts, spreadMeans } from './spread.js';
import { durations, findStep } from './step.js';

/** A grid this large whose rows fill so little of it is no log: bursts, or a clock that leaps. */
const SPARSE_FROM = 5_000_000;
const SPARSE_SHARE = 0.005;

/**
 * Puts the rows of one file on a regular grid: doubled rows merged to their mean, everything else missing.
 * @param table its rows in order of time
 * @param states noted now and then, where the rows are too far apart for a course
 * @throws InputError when the rows have no length (one row) or span more time than a grid can hold
 */
export function placeOnGrid(
  table: Table,
  lumps: readonly UnshapedEnergy[] = [],
  states: readonly NotedState[] = [],
): SourceLog {
  const { name } = table;
  if (table.columns.length === 0 && lumps.length + states.length > 0)
    return { ...sparseLog(name, lumps, states), findings: [] };
  const { timeMs, columns } = table;
  const firstMs = timeMs[0]!;
  const lastMs = timeMs[timeMs.length - 1]!;
  if (firstMs === lastMs) {
    const found = 'All rows bear the same time, so the length of their interval is not known.';
    throw new InputError([{ where: name, found, mend: 'Bring at least two intervals.' }]);
  }
  const { stepMs, phaseMs, regular } = findStep(timeMs);
  const startMs = Math.floor((firstMs - phaseMs) / stepMs) * stepMs + phaseMs;
  const rows = { timeMs, lastsMs: regular ? new Float64Array(0) : durations(timeMs, stepMs) };
  const lastOf = regular ? stepMs : rows.lastsMs[timeMs.length - 1]!;
  const count = Math.round((lastMs + lastOf - startMs) / stepMs);
  const isSparse = count > SPARSE_FROM && timeMs.length < SPARSE_SHARE * count;
  if (count * (1 + columns.length) > MOST_VALUES || isSparse) {
    const size = isSparse
      ? `and fill ${((100 * timeMs.length) / count).toPrecision(1)} % of them`
      : `${Math.round((count * (1 + columns.length) * 8) / 1e6)} MB, more than can be held`;
    const found = `The rows run from ${isoOf(firstMs)} to ${isoOf(lastMs)} in steps of ${stepMs / 1000} s: ${count} intervals, ${size}.`;
    throw new InputError([
      { where: name, found, mend: 'Look for a row with a stray date, or bring the log in parts.' },
    ]);
  }
  const grid: Grid = { startMs, stepMs, count };
  const cells = regular ? cellsOf(timeMs, grid) : null;
  const placed = new Map<Quantity, Column>();
  for (const { quantity, values, ...column } of columns) {
    const onGrid = cells
      ? scatter(values, cells, count, between(quantity))
      : isOfInterval(quantity)
        ? spreadMeans(rows, values, grid)
        : sampleAtStarts(rows, values, grid, between(quantity));
    if (onGrid.some((value) => !Number.isNaN(value))) placed.set(quantity, { ...column, values: onGrid });
  }
  if (placed.size === 0) {
    const list = columns.map(({ quantity }) => quantity).join(', ');
    throw new InputError([
      {
        where: name,
        found: `Not one value can be read in ${list}.`,
        mend: 'Bring a log whose cells hold plain numbers.',
      },
    ]);
  }
  const doubled = cells ? cells.doubled : countDoubled(timeMs);
  const finding = (code: string, severity: Finding['severity'], message: string): Finding => ({
    code,
    severity,
    fromMs: firstMs,
    toMs: lastMs,
    message,
    source: name,
    kWh: null,
  });
  return {
    ...grid,
    name,
    lumps,
    columns: placed,
    findings: [
      ...(doubled > 0 ? [finding('doubled-rows', 'warning', doubledText(doubled))] : []),
      ...(regular
        ? []
        : [
            finding(
              'uneven-step',
              'note',
              `The rows do not keep to one step of ${stepMs / 1000} s; their energy is spread over that grid.`,
            ),
          ]),
    ],
  };
}

/** The cell of each row; null cells when rows and cells coincide one to one. */
interface Cells {
  readonly ofRow: Uint32Array | null;
  readonly doubled: number;
}

function cellsOf(timeMs: Float64Array, { startMs, stepMs, count }: Grid): Cells {
  const rows = timeMs.length;
  const doubled = countDoubled(timeMs);
  if (doubled === 0 && rows === count) return { ofRow: null, doubled };
  const ofRow = new Uint32Array(rows);
  for (let i = 0; i < rows; i++) ofRow[i] = (timeMs[i]! - startMs) / stepMs;
  return { ofRow, doubled };
}

function countDoubled(timeMs: Float64Array): number {
  let doubled = 0;
  for (let i = 1; i < timeMs.length; i++) if (timeMs[i] === timeMs[i - 1]) doubled++;
  return doubled;
}

/** Values at their cells. Rows of one cell stand together, since the rows are sorted: their mean is kept, of codes the highest. */
function scatter(values: Float64Array, { ofRow }: Cells, count: number, goesOn: Between): Float64Array {
  if (!ofRow) return values;
  const cells = new Float64Array(count).fill(NaN);
  for (let i = 0; i < values.length;) {
    const cell = ofRow[i]!;
    let sum = 0;
    let known = 0;
    let most = -Infinity;
    for (; i < values.length && ofRow[i] === cell; i++) {
      if (Number.isNaN(values[i]!)) continue;
      sum += values[i]!;
      most = Math.max(most, values[i]!);
      known++;
    }
    if (known > 0) cells[cell] = goesOn === 'hold' ? most : sum / known;
  }
  return cells;
}
