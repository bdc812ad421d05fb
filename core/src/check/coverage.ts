import { type SourceLog, endMs } from '../model/log.js';
import { FLOWS } from '../model/quantity.js';
import { dayNumberAt, daysBetween } from '../time/days.js';
import { zoneOf } from '../time/zone.js';

/** How much of each day a source knows of each quantity. */
export interface Coverage {
  readonly source: string;
  readonly firstDate: string;
  readonly days: number;
  /** Shares of the day in 1/100; 255 where only the energy is known, not its course. */
  readonly rows: readonly { readonly quantity: string; readonly shares: Uint8Array }[];
}

export const ENERGY_ONLY = 255;

/** The coverage map of a source, days of the site by quantities. */
export function coverageOfSource(source: SourceLog, zoneName: string): Coverage {
  const zone = zoneOf(zoneName);
  const list = daysBetween(zone, source.startMs, endMs(source));
  const first = dayNumberAt(zone, source.startMs);
  const cellsOfDay = list.map(({ fromMs, toMs }) => {
    const cell = (ms: number) =>
      Math.min(source.count, Math.max(0, Math.ceil((ms - source.startMs) / source.stepMs)));
    return [cell(fromMs), cell(toMs), (toMs - fromMs) / source.stepMs] as const;
  });
  const rows: { quantity: string; shares: Uint8Array }[] = [...source.columns].map(
    ([quantity, { values }]) => ({
      quantity: quantity,
      shares: Uint8Array.from(cellsOfDay, ([from, to, whole]) => {
        let known = 0;
        for (let i = from; i < to; i++) if (!Number.isNaN(values[i]!)) known++;
        return Math.min(100, Math.round((100 * known) / whole));
      }),
    }),
  );
  for (const flow of FLOWS) {
    const own = source.lumps.filter((lump) => lump.flow === flow);
    if (own.length === 0) continue;
    const shares = new Uint8Array(list.length);
    for (const { fromMs, toMs } of own)
      shares.fill(ENERGY_ONLY, dayNumberAt(zone, fromMs) - first, dayNumberAt(zone, toMs - 1) - first + 1);
    rows.push({ quantity: `${flow}, energy only`, shares });
  }
  return { source: source.name, firstDate: list[0]?.date ?? '', days: list.length, rows };
}
