import { z } from 'zod';
import { BASIS } from '../model/basis.js';
import { correctionSchema } from '../model/correction.js';
import { REGISTRY } from './registry.js';

const instant = z.string().describe('ISO 8601, UTC');
const number = z.number().nullable();
const interval = z.object({ value: z.number(), low: z.number(), high: z.number() });

const bound = z.union([z.number(), z.iso.date()]).nullable();

/** What every figure is; each entry of the registry adds its unit and its meaning. */
const figure = z
  .object({
    value: bound,
    low: bound,
    high: bound,
    unit: z.string(),
    status: z.enum(['measured', 'estimated', 'insufficient', 'not-measured']),
    reason: z.string().nullable(),
    method: z.string(),
    basis: z.partialRecord(
      z.enum(Object.keys(BASIS)),
      z.union([z.number(), z.string(), z.array(z.string())]),
    ),
    formula: z.string(),
    source: z.string(),
    working: z.array(
      z.object({
        label: z.string(),
        value: z.union([z.number(), z.iso.date()]),
        unit: z.string(),
        role: z.enum(['input', 'step', 'result', 'uncertainty']),
        side: z.enum(['below', 'above']).optional(),
      }),
    ),
    assumptions: z.array(z.string()),
  })
  .meta({ id: 'figure' });

/** The report as it is written, `long-tally/report@1`: every figure of the registry, and the lists beside them. */
export const reportSchema = z.object({
  schema: z.literal('long-tally/report@1'),
  range: z.object({ from: instant, to: instant, timeZone: z.string(), days: z.number().int() }),
  coverage: z.object({
    stepSeconds: z.number().positive(),
    share: z.number().min(0).max(1),
    quantities: z.partialRecord(
      z.enum(['solar', 'load', 'grid', 'battery', 'soc']),
      z.number().min(0).max(1),
    ),
    gaps: z.array(
      z.object({ from: instant, to: instant, hours: z.number(), quantities: z.array(z.string()) }),
    ),
  }),
  findings: z.array(
    z.object({
      code: z.string(),
      severity: z.enum(['note', 'warning', 'error']),
      from: instant.nullable(),
      to: instant.nullable(),
      message: z.string(),
      source: z.string().nullable(),
      kWh: number,
      proposal: correctionSchema.optional(),
    }),
  ),
  figures: z.looseObject(
    Object.fromEntries(
      REGISTRY.flatMap(({ figures }) =>
        figures
          .filter(({ key }) => !key.endsWith('.NAME'))
          .map(({ key, unit, label, meaning }) => [
            key,
            figure.and(z.looseObject({ unit: z.literal(unit) })).describe(`${label}: ${meaning}`),
          ]),
      ),
    ),
  ),
  days: z.array(
    z.object({
      date: z.iso.date(),
      solar: number,
      load: number,
      import: number,
      export: number,
      charge: number,
      discharge: number,
      socMin: number,
      socMax: number,
      coverage: z.number(),
      gridFree: z.boolean().nullable(),
    }),
  ),
  outages: z.array(
    z.object({
      from: instant,
      to: instant,
      hours: z.number(),
      evidence: z.enum(['flag', 'voltage', 'frequency', 'inferred', 'journal']),
      socStart: number,
      socEnd: number,
      socLowest: number,
      lowestAt: instant.nullable(),
      load: number,
      solar: number,
      battery: number,
      peakKW: number,
      unservedHours: z.number(),
      heldBack: z.boolean(),
      restart: instant.nullable(),
      planned: z.boolean(),
      expectedHours: interval.nullable(),
      carriedHours: number,
      end: z.enum(['grid', 'empty', 'dark']).nullable(),
    }),
  ),
  rainflow: z.array(
    z.object({ depth: z.number(), mean: z.number(), count: z.number(), from: instant, to: instant }),
  ),
  capacity: z.array(
    z.object({
      at: instant,
      kWh: z.number(),
      low: z.number(),
      high: z.number(),
      depth: z.number(),
      side: z.enum(['ac', 'dc']),
      kind: z.enum(['segment', 'full-run', 'trial']),
      direction: z.enum(['discharge', 'charge']),
    }),
  ),
});

/** JSON Schema of the report, as committed in docs/schema. */
export function reportJsonSchema(): object {
  return z.toJSONSchema(reportSchema, { reused: 'ref' });
}
