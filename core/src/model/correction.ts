import { z } from 'zod';
import { INSTANT_QUANTITIES, POWER_QUANTITIES, isPower, type Quantity } from './quantity.js';

/** A quantity of the log, named parts of load and solar among them. */
export const quantitySchema = z
  .string()
  .refine(
    (text) =>
      ([...POWER_QUANTITIES, ...INSTANT_QUANTITIES] as readonly string[]).includes(text) ||
      /^(?:load|solar):./.test(text),
  ) as unknown as z.ZodType<Quantity>;

const quantity = quantitySchema;
const stretches = z.array(z.tuple([z.number(), z.number()])).min(1);

/**
 * A layer over what the files say; the files stay as they came. `source` names one file, null means every one.
 * `scale` multiplies a quantity, or every power where it names none (−1 turns the sign, 1000 makes W of kW); `exchange`
 * lets two columns change places; `complement` makes a state of charge of a depth of discharge; `shift` moves a clock;
 * `blank` takes values for missing, of one quantity or of all; `lead` lets one source lead a quantity that several give;
 * `keep` counts values that are taken for physically impossible.
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
  z.object({ kind: z.literal('keep'), source: z.string().nullable(), quantity }),
]);

export type Correction = z.infer<typeof correctionSchema>;

/** What a correction does, in words. */
export function correctionText(correction: Correction): string {
  const of = correction.source === null ? '' : ` of ${correction.source}`;
  if (correction.kind === 'lead') return `${correction.source} leads ${correction.quantity}.`;
  if (correction.kind === 'keep')
    return `Values of ${correction.quantity}${of} count as they are, however high.`;
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
