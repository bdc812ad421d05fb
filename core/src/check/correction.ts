import { z } from 'zod';
import {
  FLOWS,
  INSTANT_QUANTITIES,
  POWER_QUANTITIES,
  isPower,
  type Column,
  type Lump,
  type Quantity,
  type SourceLog,
} from '../series/log.js';

/** A quantity of the log, a named part of the load among them. */
export const quantitySchema = z
  .string()
  .refine(
    (text) =>
      ([...POWER_QUANTITIES, ...INSTANT_QUANTITIES] as readonly string[]).includes(text) ||
      text.startsWith('load:'),
  ) as unknown as z.ZodType<Quantity>;

const quantity = quantitySchema;
const stretches = z.array(z.tuple([z.number(), z.number()])).min(1);

/**
 * A layer over what the files say; the files stay as they came. `source` names one file, null means every one.
 * `scale` multiplies a quantity, or every power where it names none (−1 turns the sign, 1000 makes W of kW); `exchange`
 * lets two columns change places; `complement` makes a state of charge of a depth of discharge; `shift` moves a clock;
 * `blank` takes values for missing, of one quantity or of all; `lead` lets one source lead a quantity that several give.
 */
export const correctionSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('scale'),
    source: z.string().nullable(),
    quantity: quantity.nullable(),
    factor: z.number(),
  }),
  z.object({
    kind: z.literal('exchange'),
    source: z.string().nullable(),
    quantities: z.tuple([quantity, quantity]),
  }),
  z.object({ kind: z.literal('complement'), source: z.string().nullable(), quantity }),
  z.object({
    kind: z.literal('shift'),
    source: z.string().nullable(),
    byMs: z.number(),
    stretches: stretches.nullable(),
  }),
  z.object({
    kind: z.literal('blank'),
    source: z.string().nullable(),
    quantity: quantity.nullable(),
    stretches,
  }),
  z.object({ kind: z.literal('lead'), source: z.string(), quantity }),
]);

export type Correction = z.infer<typeof correctionSchema>;

/** A source as its corrections leave it, applied in their order; columns that none of them touches are shared. */
export function corrected(source: SourceLog, corrections: readonly Correction[]): SourceLog {
  return corrections
    .filter((correction) => correction.source === null || correction.source === source.name)
    .reduce(applied, source);
}

function applied(source: SourceLog, correction: Correction): SourceLog {
  if (correction.kind === 'lead') return source;
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

function changedLump(lump: Lump, correction: ValueCorrection): Lump[] {
  const whole: Readonly<Partial<Record<Lump['flow'], Quantity>>> = {
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
      return flows.includes(flow) ? { ...lump, flow: flow as Lump['flow'] } : lump;
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

/** What a correction does, in words. */
export function correctionText(correction: Correction): string {
  const of = correction.source === null ? '' : ` of ${correction.source}`;
  if (correction.kind === 'lead') return `${correction.source} leads ${correction.quantity}.`;
  if (correction.kind === 'shift')
    return `The clock${of} is moved by ${Number((correction.byMs / 60_000).toFixed(1))} min${correction.stretches ? ` in ${correction.stretches.length} stretches` : ''}.`;
  if (correction.kind === 'exchange')
    return `The columns ${correction.quantities.join(' and ')}${of} change places.`;
  if (correction.kind === 'complement')
    return `${correction.quantity}${of} is taken for what it leaves of 100 %.`;
  const what = correction.quantity ?? (correction.kind === 'scale' ? 'every power' : 'everything');
  if (correction.kind === 'blank')
    return `${what}${of} is taken for missing in ${correction.stretches.length === 1 ? 'one stretch' : `${correction.stretches.length} stretches`}.`;
  if (correction.factor === -1) return `The sign of ${what}${of} is turned round.`;
  return `${what}${of} is multiplied by ${correction.factor}${correction.quantity === null || isPower(correction.quantity) ? '' : ' in its unit'}.`;
}
