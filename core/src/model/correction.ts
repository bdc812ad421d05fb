import { z } from 'zod';
import { counted } from './counted.js';
import { INSTANT_QUANTITIES, POWER_QUANTITIES, isPower, quantityText, type Quantity } from './quantity.js';

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
  switch (correction.kind) {
    case 'lead':
      return `${correction.source} leads the ${quantityText(correction.quantity)}.`;
    case 'keep':
      return `Values of the ${quantityText(correction.quantity)}${of} are used as they are, however high.`;
    case 'shift':
      return `The clock${of} is moved by ${Number((correction.byMs / 60_000).toFixed(1))} min${correction.stretches ? ` in ${counted(correction.stretches.length, 'stretch', 'stretches')}` : ''}.`;
    case 'exchange':
      return `The columns ${correction.quantities.map(quantityText).join(' and ')}${of} are exchanged.`;
    case 'complement':
      return `The ${quantityText(correction.quantity)}${of} is taken as 100 % minus its value.`;
    case 'blank':
      return `${subject(correction.quantity, 'Everything')}${of} is taken as missing in ${counted(correction.stretches.length, 'stretch', 'stretches')}.`;
    case 'scale': {
      const what = `${subject(correction.quantity, 'Every power')}${of}`;
      const inUnit = correction.quantity === null || isPower(correction.quantity) ? '' : ' in its unit';
      return correction.factor === -1
        ? `${what} has its sign reversed.`
        : `${what} is multiplied by ${correction.factor}${inUnit}.`;
    }
  }
}

function subject(quantity: Quantity | null, all: string): string {
  return quantity === null ? all : `The ${quantityText(quantity)}`;
}
