import type { Correction } from '../model/correction.js';
import type { Column, UnshapedEnergy, SourceLog } from '../model/log.js';
import { FLOWS, isPower, type Quantity } from '../model/quantity.js';

/** A source as its corrections leave it, applied in their order; columns that none of them touches are shared. */
export function corrected(source: SourceLog, corrections: readonly Correction[]): SourceLog {
  return corrections
    .filter((correction) => correction.source === null || correction.source === source.name)
    .reduce(applied, source);
}

function applied(source: SourceLog, correction: Correction): SourceLog {
  if (correction.kind === 'lead' || correction.kind === 'keep') return source;
  if (correction.kind === 'shift') return shifted(source, correction.byMs, correction.stretches);
  if (correction.kind === 'exchange') return exchanged(source, correction.quantities);
  const columns = new Map<Quantity, Column>();
  for (const [name, column] of source.columns) {
    const isAll = correction.kind === 'blank' || isPower(name);
    const touched = correction.quantity === null ? isAll : correction.quantity === name;
    columns.set(name, touched ? { ...column, values: changed(source, column.values, correction) } : column);
  }
  return { ...source, columns, lumps: source.lumps.flatMap((lump) => changedLump(lump, correction)) };
}

type ValueCorrection = Extract<Correction, { kind: 'scale' | 'blank' | 'complement' }>;

function changed(source: SourceLog, values: Float64Array, correction: ValueCorrection): Float64Array {
  if (correction.kind === 'scale') return values.map((value) => value * correction.factor);
  if (correction.kind === 'complement') return values.map((value) => 1 - value);
  const next = values.slice();
  for (const [fromMs, toMs] of correction.stretches) {
    const cell = (ms: number) =>
      Math.min(values.length, Math.max(0, Math.ceil((ms - source.startMs) / source.stepMs)));
    next.fill(NaN, cell(fromMs), cell(toMs));
  }
  return next;
}

function changedLump(lump: UnshapedEnergy, correction: ValueCorrection): UnshapedEnergy[] {
  const whole: Readonly<Partial<Record<UnshapedEnergy['flow'], Quantity>>> = {
    import: 'grid',
    export: 'grid',
    charge: 'battery',
    discharge: 'battery',
  };
  const own = whole[lump.flow] ?? (lump.flow as Quantity);
  if (correction.quantity !== null && correction.quantity !== own) return [lump];
  if (correction.kind === 'blank')
    return correction.stretches.some(([fromMs, toMs]) => lump.fromMs < toMs && lump.toMs > fromMs)
      ? []
      : [lump];
  if (correction.kind === 'complement') return [lump];
  if (correction.factor > 0) return [{ ...lump, wh: lump.wh * correction.factor }];
  const turned = { import: 'export', export: 'import', charge: 'discharge', discharge: 'charge' } as const;
  return lump.flow in turned
    ? [{ ...lump, flow: turned[lump.flow as keyof typeof turned], wh: -lump.wh * correction.factor }]
    : [lump];
}

/** A source with two of its columns in each other's place; of energies without a course those that have a flow's name. */
function exchanged(source: SourceLog, [a, b]: readonly [Quantity, Quantity]): SourceLog {
  const other = (quantity: Quantity): Quantity => (quantity === a ? b : quantity === b ? a : quantity);
  const flows: readonly string[] = FLOWS;
  return {
    ...source,
    columns: new Map([...source.columns].map(([quantity, column]) => [other(quantity), column])),
    lumps: source.lumps.map((lump) => {
      const flow = other(lump.flow as Quantity);
      return flows.includes(flow) ? { ...lump, flow: flow as UnshapedEnergy['flow'] } : lump;
    }),
  };
}

/** A source on another clock, for the whole of it or for stretches of its own time. */
function shifted(
  source: SourceLog,
  byMs: number,
  stretches: readonly (readonly [number, number])[] | null,
): SourceLog {
  const { startMs, stepMs, count } = source;
  if (!stretches) {
    const lumps = source.lumps.map((lump) => ({
      ...lump,
      fromMs: lump.fromMs + byMs,
      toMs: lump.toMs + byMs,
    }));
    return { ...source, startMs: startMs + byMs, lumps };
  }
  const cells = Math.round(byMs / stepMs);
  const isMoved = (i: number) =>
    stretches.some(([from, to]) => startMs + i * stepMs >= from && startMs + i * stepMs < to);
  const columns = new Map<Quantity, Column>();
  for (const [quantity, column] of source.columns) {
    const values = new Float64Array(count).fill(NaN);
    column.values.forEach((value, i) => {
      const to = isMoved(i) ? i + cells : i;
      if (to >= 0 && to < count && !Number.isNaN(value)) values[to] = value;
    });
    columns.set(quantity, { ...column, values });
  }
  return { ...source, columns };
}
