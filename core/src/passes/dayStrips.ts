import { cellAt, endMs, type Log } from '../model/log.js';
import { daysBetween } from '../time/days.js';
import { zoneOf } from '../time/zone.js';
import { KNOWN, type BusColumns } from './busColumns.js';
import { TRICKLE_BELOW_W } from './sumCells.js';

/** Parts into which the strip of a day is divided, whatever the day's length. */
export const STRIP_SLOTS = 96;
/** Marks of a slot, combined by bits. */
export const MARK = { grid: 1, outage: 2, missing: 4 } as const;

/** A thumbnail of every day: `STRIP_SLOTS` values for each, in the order of the days. */
export interface Strips {
  /** Mean SOC as a share, NaN where it is not known. */
  readonly soc: Float32Array;
  readonly marks: Uint8Array;
}

/** Draws up the strips of all days of a log, in one pass. */
export function stripsOf(log: Log, columns: BusColumns): Strips {
  const { soc, grid } = columns;
  const days = daysBetween(zoneOf(log.zone), log.startMs, endMs(log));
  const strips = {
    soc: new Float32Array(days.length * STRIP_SLOTS).fill(NaN),
    marks: new Uint8Array(days.length * STRIP_SLOTS),
  };
  days.forEach((day, d) => {
    const slotMs = (day.toMs - day.fromMs) / STRIP_SLOTS;
    for (let s = 0; s < STRIP_SLOTS; s++) {
      const at = d * STRIP_SLOTS + s;
      const from = cellAt(log, day.fromMs + s * slotMs);
      // A step longer than a slot shows in every slot it covers.
      const first = Math.min(from, Math.floor((day.fromMs + s * slotMs - log.startMs) / log.stepMs));
      const end = cellAt(log, day.fromMs + (s + 1) * slotMs);
      let sum = 0;
      let known = 0;
      let mark = first < 0 || first >= log.count ? MARK.missing : 0;
      for (
        let i = Math.max(0, from === end ? first : from);
        i < Math.min(log.count, Math.max(end, first + 1));
        i++
      ) {
        if (soc && soc[i] === soc[i]) {
          sum += soc[i]!;
          known++;
        }
        if (grid && grid[i]! > TRICKLE_BELOW_W) mark |= MARK.grid;
        if ((columns.known[i]! & KNOWN.gridDown) !== 0) mark |= MARK.outage;
        if ((columns.known[i]! & KNOWN.missing) !== 0 || (soc && soc[i] !== soc[i])) mark |= MARK.missing;
      }
      if (known > 0) strips.soc[at] = sum / known;
      strips.marks[at] = mark;
    }
  });
  return strips;
}
