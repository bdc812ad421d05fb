import { offsetAt, zoneOf } from '../../time/zone.js';
import { wantedAt, type ModelHome } from './modelHome.js';

const DAY_MS = 86_400_000;
/** Windows are kept to five minutes. */
const SLOT_MS = 300_000;

/** Charge that is wanted and floor that is kept, shares of full, by where an instant lies in the year's slots. */
export interface WantedTimes {
  readonly target: Float64Array;
  readonly floor: Float64Array;
  /** Highest charge from the grid, W. */
  readonly gridW: Float64Array;
  slotAt(ms: number): number;
}

/** Targets and floors by month and slot of the site's day, and where an instant lies in them. */
export function wantedTimes(home: ModelHome, id: string): WantedTimes {
  const zone = zoneOf(id);
  const slots = DAY_MS / SLOT_MS;
  const [target, floor, gridW] = Array.from({ length: 3 }, () => new Float64Array(12 * slots)) as [
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  for (let month = 0; month < 12; month++)
    for (let slot = 0; slot < slots; slot++) {
      const wanted = wantedAt(home, (slot * SLOT_MS) / 60_000, month + 1);
      target[month * slots + slot] = wanted.target;
      floor[month * slots + slot] = wanted.floor;
      gridW[month * slots + slot] = wanted.gridW;
    }
  let lastSlot = NaN;
  let lastDay = NaN;
  let month = 0;
  let at = 0;
  return {
    target,
    floor,
    gridW,
    slotAt(ms: number): number {
      const slot = Math.floor(ms / SLOT_MS);
      if (slot === lastSlot) return at;
      lastSlot = slot;
      const localMs = ms + offsetAt(zone, ms);
      const day = Math.floor(localMs / DAY_MS);
      if (day !== lastDay) {
        lastDay = day;
        month = new Date(localMs).getUTCMonth();
      }
      at = month * slots + Math.floor((localMs - day * DAY_MS) / SLOT_MS);
      return at;
    },
  };
}
