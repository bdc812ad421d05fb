import { z } from 'zod';
import type { UnshapedEnergy, SourceLog } from '../../model/log.js';
import { FLOWS, type Flow } from '../../model/quantity.js';
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
  note: z.string().max(500),
});
export type Reading = z.infer<typeof readingSchema>;

/** Name under which readings stand among the sources. */
const READINGS_NAME = 'counter readings';
/** Last digit of a meter's display, Wh. */
const DIGIT_WH = 100;

/** The energies between readings typed by hand, as a source; null when no counter was read twice. */
export function readingsLog(readings: readonly Reading[]): SourceLog | null {
  const ordered = [...readings].sort((a, b) => a.atMs - b.atMs);
  const timeMs = Float64Array.from(ordered, ({ atMs }) => atMs);
  const lumps = FLOWS.flatMap((flow): UnshapedEnergy[] => {
    const wh = Float64Array.from(ordered, ({ counters }) => (counters[flow] ?? NaN) * 1000);
    const { risen } = followCounter(timeMs, wh, DIGIT_WH, false);
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
  return lumps.length === 0 ? null : placeOnGrid({ name: READINGS_NAME, timeMs, columns: [] }, lumps);
}
