import { z } from 'zod';
import type { UnshapedEnergy, SourceLog } from '../../model/log.js';
import { FLOWS, type Flow, type Quantity } from '../../model/quantity.js';
import { followCounter } from './counter.js';
import { placeOnGrid } from './placeOnGrid.js';

const counterKWh = z.number().min(0).max(1e9).optional();

/** Counters read by hand at one moment, kWh as the meter shows them. */
export const readingSchema = z.object({
  atMs: z.number(),
  counters: z.object({
    solar: counterKWh,
    load: counterKWh,
    import: counterKWh,
    export: counterKWh,
    charge: counterKWh,
    discharge: counterKWh,
  } satisfies Record<Flow, typeof counterKWh>),
  /** State of charge, %, and the battery's temperature, °C, as displayed. */
  socPct: z.number().min(0).max(100).optional(),
  batteryC: z.number().min(-60).max(120).optional(),
  /** A counter of what a named load does: kilometres of a car, litres of a pump; its digits behind the point. */
  use: z
    .object({
      part: z.string().trim().min(1).max(60),
      unit: z.string().trim().min(1).max(20),
      shown: z.number().min(0).max(1e9),
      decimals: z.number().int().min(0).max(6),
    })
    .optional(),
  /** Digits behind the point that each counter shows; one where it is not noted. */
  decimals: z.partialRecord(z.enum(FLOWS), z.number().int().min(0).max(6)).optional(),
  note: z.string().max(500),
});
export type Reading = z.infer<typeof readingSchema>;

/** Name under which readings stand among the sources. */
const READINGS_NAME = 'counter readings';
/** Digits that a meter's display usually has behind the point. */
const USUAL_DECIMALS = 1;

/** A counter as it was typed, kWh; null where it was not read. */
export function counterText({ counters, decimals }: Reading, flow: Flow): string | null {
  const kWh = counters[flow];
  return kWh === undefined ? null : kWh.toFixed(decimals?.[flow] ?? USUAL_DECIMALS);
}

/**
 * The energies between readings typed by hand and the states noted with them, as a source; null when no counter was read
 * twice and nothing else was noted.
 */
export function readingsLog(readings: readonly Reading[]): SourceLog | null {
  const ordered = [...readings].sort((a, b) => a.atMs - b.atMs);
  const timeMs = Float64Array.from(ordered, ({ atMs }) => atMs);
  const lumps = FLOWS.flatMap((flow): UnshapedEnergy[] => {
    const wh = Float64Array.from(ordered, ({ counters }) => (counters[flow] ?? NaN) * 1000);
    const digits = Math.max(...ordered.map(({ decimals }) => decimals?.[flow] ?? USUAL_DECIMALS));
    const { risen } = followCounter(timeMs, wh, 1000 / 10 ** digits, false);
    const own: UnshapedEnergy[] = [];
    let last = -1;
    risen.forEach((rise, i) => {
      if (Number.isNaN(rise)) return;
      if (last >= 0 && timeMs[i]! > timeMs[last]!)
        own.push({ flow, fromMs: timeMs[last]!, toMs: timeMs[i]!, wh: rise, source: READINGS_NAME });
      last = i;
    });
    return own;
  });
  const noted = (quantity: Quantity, of: (reading: Reading) => number | undefined, scale: number) =>
    ordered.some((reading) => of(reading) !== undefined)
      ? [
          {
            quantity,
            timeMs,
            values: ordered.map((reading) => (of(reading) ?? NaN) * scale),
            resolution: scale,
          },
        ]
      : [];
  const states = [
    ...noted('soc', ({ socPct }) => socPct, 0.01),
    ...noted('batteryTemp', ({ batteryC }) => batteryC, 1),
  ];
  if (lumps.length + states.length === 0) return null;
  return placeOnGrid({ name: READINGS_NAME, timeMs, columns: [] }, lumps, states);
}
