import { type Figure, type RollDay, STRIP_SLOTS } from '@long-tally/core';
import { z } from 'zod';
import type { Roll } from '../../protocol.js';

const number = z.number();
const figure = z.looseObject({
  key: z.string(),
  value: number,
  low: number,
  high: number,
  unit: z.string(),
  status: z.string(),
  working: z.array(z.looseObject({ label: z.string(), value: number, unit: z.string(), role: z.string() })),
});
/** A piece of a demo home, as the demo's generator writes it. */
const sampleSchema = z.object({
  home: z.string(),
  timeZone: z.string(),
  year: z.string(),
  days: z
    .array(z.looseObject({ date: z.string(), notes: z.array(z.looseObject({ kind: z.string() })) }))
    .min(1),
  strips: z.object({ soc: z.array(number.nullable()), marks: z.array(number.nullable()) }),
  sun: z.array(number),
  figures: z.array(figure),
});

/** What the first page shows of it. */
export interface Sample {
  readonly home: string;
  readonly timeZone: string;
  readonly year: string;
  readonly roll: Roll;
  readonly figures: readonly { readonly key: string; readonly figure: Figure }[];
}

/** The sample beside the demo homes; null where none is handed out, or it is none. */
export async function fetchSample(): Promise<Sample | null> {
  try {
    const response = await fetch('/demo-homes/sample.json');
    return response.ok ? sampleOf(await response.json()) : null;
  } catch {
    return null;
  }
}

/** A sample from what was fetched; null where it is none. */
export function sampleOf(fetched: unknown): Sample | null {
  const read = sampleSchema.safeParse(fetched);
  if (!read.success) return null;
  const { home, timeZone, year, days, strips, sun, figures } = read.data;
  const cells = days.length * STRIP_SLOTS;
  if (strips.soc.length !== cells || strips.marks.length !== cells || sun.length !== 2 * days.length)
    return null;
  return {
    ...{ home, timeZone, year },
    roll: {
      days: days as unknown as RollDay[],
      strips: {
        soc: Float32Array.from(strips.soc, (share) => share ?? NaN),
        marks: Uint8Array.from(strips.marks, (mark) => mark ?? 0),
      },
      sun: Float32Array.from(sun),
      configurations: [],
    },
    figures: figures.map(({ key, ...own }) => ({ key, figure: own as unknown as Figure })),
  };
}
