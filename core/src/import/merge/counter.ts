/** What was met while following a counter. */
export interface CounterFaults {
  /** Falls to a start value, as at midnight or when the meter was replaced. */
  resets: number;
  /** Falls by a full register: 2^16, 2^32 or a power of ten of its last digit. */
  rollovers: number;
  /** Readings that fall and come back, or leap beyond what the home can use; they are left out. */
  glitches: number;
}

/** Registers in units of the last digit. */
const REGISTERS = [2 ** 16, 2 ** 31, 2 ** 32, 1e4, 1e5, 1e6, 1e7, 1e8, 1e9];
/** More than any home's meter passes on. */
const MOST_W = 1e6;

/**
 * Energy between the readings of a counter: reading i counts what came after the last known reading before it.
 * @param timeMs sorted epoch ms
 * @param wh readings, NaN where missing
 * @param digitWh last digit of the readings
 * @param daily true for a counter that starts anew each day: its falls are resets, never a full register
 * @returns risen: Wh since the last known reading, NaN at missing readings and glitches, and 0 at the first
 */
export function followCounter(
  timeMs: Float64Array,
  wh: Float64Array,
  digitWh: number,
  daily: boolean,
): { risen: Float64Array; faults: CounterFaults } {
  const risen = new Float64Array(wh.length).fill(NaN);
  const faults = { resets: 0, rollovers: 0, glitches: 0 };
  let last = -1;
  for (let i = 0; i < wh.length; i++) {
    const value = wh[i]!;
    if (Number.isNaN(value)) continue;
    if (last < 0) {
      risen[i] = 0;
      last = i;
      continue;
    }
    const before = wh[last]!;
    const hours = Math.max(timeMs[i]! - timeMs[last]!, 1000) / 3_600_000;
    const leaps = (rise: number) => rise > MOST_W * hours + digitWh;
    let rise = value - before;
    if (rise < 0) {
      const next = nextKnown(wh, i);
      const comesBack = next >= 0 && wh[next]! >= before && !leaps(wh[next]! - before);
      const rolled = rise + registerFor(before, digitWh);
      if (comesBack && -rise > digitWh) {
        faults.glitches++;
        continue;
      }
      if (-rise <= digitWh) {
        // The last digit wavers.
        rise = 0;
      } else if (
        !daily &&
        rolled >= 0 &&
        value < 0.1 * before &&
        !leaps(rolled) &&
        isNearFull(before, digitWh)
      ) {
        faults.rollovers++;
        rise = rolled;
      } else {
        faults.resets++;
        rise = leaps(value) ? 0 : Math.max(0, value);
      }
    } else if (leaps(rise)) {
      const next = nextKnown(wh, i);
      // A leap that stays is a new meter with another start; one that comes back is a glitch.
      faults[next >= 0 && !leaps(wh[next]! - value) && wh[next]! >= value ? 'resets' : 'glitches']++;
      if (next >= 0 && wh[next]! >= value) last = i;
      if (last === i) risen[i] = 0;
      continue;
    }
    risen[i] = rise;
    last = i;
  }
  return { risen, faults };
}

function nextKnown(wh: Float64Array, i: number): number {
  for (let k = i + 1; k < Math.min(wh.length, i + 50); k++) if (!Number.isNaN(wh[k]!)) return k;
  return -1;
}

/** The smallest register that holds a reading. */
function registerFor(value: number, digitWh: number): number {
  return (REGISTERS.filter((size) => size * digitWh > value).sort((a, b) => a - b)[0] ?? Infinity) * digitWh;
}

/** A counter rolls over when its register is full, not in the middle. */
function isNearFull(value: number, digitWh: number): boolean {
  return value > 0.97 * registerFor(value, digitWh);
}
