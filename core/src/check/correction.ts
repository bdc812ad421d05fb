import { z } from 'zod';
import {
  INSTANT_QUANTITIES,
  POWER_QUANTITIES,
  isPower,
  type Column,
  type Lump,
  type Quantity,
  type SourceLog,
} from '../series/log.js';

const quantity = z
  .string()
  .refine(
    (text) =>
      ([...POWER_QUANTITIES, ...INSTANT_QUANTITIES] as readonly string[]).includes(text) ||
      text.startsWith('load:'),
  ) as unknown as z.ZodType<Quantity>;

const stretches = z.array(z.tuple([z.number(), z.number()])).min(1);

/**
 * A layer over what the files say; the files stay as they came. `source` names one file, null means every one.
 * `scale` multiplies a quantity (−1 turns its sign, 1000 makes W of kW); `shift` moves a clock; `blank` takes values for
 * missing, of one quantity or of all; `lead` lets one source lead a quantity that several give.
 */
export const correctionSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('scale'), source: z.string().nullable(), quantity, factor: z.number() }),
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
  const columns = new Map<Quantity, Column>();
  for (const [name, column] of source.columns) {
    const touched = correction.quantity === null || correction.quantity === name;
    columns.set(name, touched ? { ...column, values: changed(source, column.values, correction) } : column);
  }
  return { ...source, columns, lumps: source.lumps.flatMap((lump) => changedLump(lump, correction)) };
}

type ValueCorrection = Extract<Correction, { kind: 'scale' | 'blank' }>;

function changed(source: SourceLog, values: Float64Array, correction: ValueCorrection): Float64Array {
  if (correction.kind === 'scale') return values.map((value) => value * correction.factor);
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
  if (correction.factor > 0) return [{ ...lump, wh: lump.wh * correction.factor }];
  const turned = { import: 'export', export: 'import', charge: 'discharge', discharge: 'charge' } as const;
  return lump.flow in turned
    ? [{ ...lump, flow: turned[lump.flow as keyof typeof turned], wh: -lump.wh * correction.factor }]
    : [lump];
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
  const what = correction.quantity ?? 'everything';
  if (correction.kind === 'blank')
    return `${what}${of} is taken for missing in ${correction.stretches.length === 1 ? 'one stretch' : `${correction.stretches.length} stretches`}.`;
  if (correction.factor === -1) return `The sign of ${what}${of} is turned round.`;
  return `${what}${of} is multiplied by ${correction.factor}${isPower(correction.quantity) ? '' : ' in its unit'}.`;
}
