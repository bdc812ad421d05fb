import type { Finding } from '../../model/finding.js';
import { hoursText } from '../../model/hoursText.js';
import { cellAt, endMs, type Column, type Fill, type Grid, type SourceLog } from '../../model/log.js';
import { between, isOfInterval, isPower, quantityText, type Quantity } from '../../model/quantity.js';
import { sampleAtStarts, spreadMeans } from './spread.js';

/**
 * Lays the sources of one quantity over each other on a grid: the first leads, the others fill what it lacks.
 * @returns the values, in how many cells others of the same step contradict, and where others speak for the leader
 */
export function overlay(
  quantity: Quantity,
  holders: readonly SourceLog[],
  grid: Grid,
): { values: Float64Array; differing: number; filled: Fill[] } {
  let differing = 0;
  const filled: { -readonly [K in keyof Fill]: Fill[K] }[] = [];
  const [first] = holders;
  const same = first && holders.length === 1 && first.startMs === grid.startMs && first.count === grid.count;
  if (same && first.stepMs === grid.stepMs)
    return { values: first.columns.get(quantity)!.values, differing, filled };
  const values = new Float64Array(grid.count);
  for (const holder of holders) {
    const column = holder.columns.get(quantity)!;
    const { offset, placed } = onGrid(quantity, holder, column, grid);
    if (holder === first) {
      values.set(placed, offset);
      values.fill(NaN, 0, offset);
      values.fill(NaN, offset + placed.length);
      continue;
    }
    const tolerance = Math.max(column.resolution, 1e-9);
    for (let i = 0; i < placed.length; i++) {
      const value = placed[i]!;
      if (Number.isNaN(value)) continue;
      const known = values[offset + i]!;
      if (Number.isNaN(known)) {
        values[offset + i] = value;
        const fromMs = grid.startMs + (offset + i) * grid.stepMs;
        if (fromMs < first!.startMs || fromMs >= endMs(first!)) continue;
        const last = filled.at(-1);
        if (last?.source === holder.name && last.toMs === fromMs) last.toMs += grid.stepMs;
        else filled.push({ quantity, source: holder.name, fromMs, toMs: fromMs + grid.stepMs });
      } else if (Math.abs(known - value) > tolerance && holder.stepMs === first!.stepMs) differing++;
    }
  }
  return { values, differing, filled };
}

/** What a source lacked and others gave, told once for each of them. */
export function fillFindings(
  filled: readonly Fill[],
  values: Float64Array,
  leading: SourceLog,
  grid: Grid,
): Finding[] {
  return [...new Set(filled.map(({ source }) => source))].map((source) => {
    const own = filled.filter((fill) => fill.source === source);
    const { quantity } = own[0]!;
    const ms = own.reduce((sum, { fromMs, toMs }) => sum + toMs - fromMs, 0);
    let wh = 0;
    for (const { fromMs, toMs } of own)
      for (let i = cellAt(grid, fromMs); i < cellAt(grid, toMs); i++)
        wh += (Math.abs(values[i]!) * grid.stepMs) / 3_600_000;
    return {
      code: 'gap-filled',
      severity: 'note',
      fromMs: own[0]!.fromMs,
      toMs: own.at(-1)!.toMs,
      message: `${hoursText(ms / 3_600_000)} of the ${quantityText(quantity)} that ${leading.name} lacks are taken from ${source}, in ${own.length === 1 ? 'one stretch' : `${own.length} stretches`}.`,
      source,
      kWh: isPower(quantity) ? wh / 1000 : null,
    };
  });
}

function onGrid(
  quantity: Quantity,
  source: SourceLog,
  { values }: Column,
  grid: Grid,
): { offset: number; placed: Float64Array } {
  const offset = (source.startMs - grid.startMs) / grid.stepMs;
  if (source.stepMs === grid.stepMs && Number.isInteger(offset)) return { offset, placed: values };
  const rows = {
    timeMs: Float64Array.from(values, (_, i) => source.startMs + i * source.stepMs),
    lastsMs: new Float64Array(values.length).fill(source.stepMs),
  };
  return {
    offset: 0,
    placed: isOfInterval(quantity)
      ? spreadMeans(rows, values, grid)
      : sampleAtStarts(rows, values, grid, between(quantity)),
  };
}
