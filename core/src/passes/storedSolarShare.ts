import { withRoom } from '../model/growable.js';
import { cellAt, type Log } from '../model/log.js';
import { isBypass, isOnDc } from './bypass.js';
import type { Configuration } from '../system/configuration.js';

/** Charging of so long a time gives the mix with which the store is taken to begin. */
const FIRST_MIX_MS = 14 * 86_400_000;

/** Where a trace goes on that began in earlier cells: the share then, and what the store held, Wh. */
export interface StoredShareState {
  readonly share: number;
  readonly storedWh: number;
}

interface Flows {
  readonly solar: Float64Array | null;
  readonly load: Float64Array | null;
  readonly grid: Float64Array | null;
  readonly battery: Float64Array | null;
  readonly soc: Float64Array | null;
}

/**
 * Traces the origin of what a battery holds: charge mixes with what is stored in proportion, discharge takes the mix as
 * it is, losses fall on both alike. What charges is solar as far as solar exceeds the load, more where the grid gives less than
 * the rest, and all of it in a hybrid's bypass. The first mix is that of the first 14 days' charging; until the first turnover of the store it counts for nothing.
 * @param state where the log goes on another's trace; its store has turned over by then
 * @returns share of solar origin at the start of each cell; null where a flow, the state of charge or the capacity is
 *   not known
 * @source common practice, no published source
 */
export function solarShareOf(
  log: Log,
  { solar, load, grid, battery, soc }: Flows,
  configurations: readonly Configuration[],
  state?: StoredShareState,
): Float32Array | null {
  if (!solar || !load || !battery || !soc) return null;
  if (configurations.every(({ usableWh }) => usableWh === null)) return null;
  const hours = log.stepMs / 3_600_000;
  const shares = withRoom(Float32Array, log.count);
  const firstCells = Math.min(log.count, Math.ceil(FIRST_MIX_MS / log.stepMs));
  // Held to single precision, as it is kept, so that a trace can go on from any cell.
  let share = state ? state.share : Math.fround(firstMix({ solar, load, grid, battery }, firstCells));
  let discharged = state ? Infinity : 0;
  for (const configuration of configurations) {
    const { fromMs, toMs, usableWh } = configuration;
    const canBypass = grid !== null && isOnDc(log, configuration);
    const [from, to] = [cellAt(log, fromMs), cellAt(log, toMs)];
    if (usableWh === null) {
      shares.fill(NaN, from, to);
      continue;
    }
    // What is known of the level is held over a gap: the mix stays as it was.
    let stored = state && from === 0 ? state.storedWh : 0;
    for (let i = from; i < to; i++) {
      shares[i] = discharged < usableWh ? NaN : share;
      const level = soc[i]!;
      if (level === level) stored = level * usableWh;
      const power = battery[i]!;
      if (power > 0) {
        discharged += power * hours;
      } else if (power < 0) {
        const spare = solar[i]! - load[i]!;
        if (spare !== spare) continue;
        const passes = canBypass && isBypass(load[i]!, grid[i]!, solar[i]!, -power);
        const fromSun = passes ? -power : sunIn(-power, spare, grid ? grid[i]! : NaN);
        const into = -power * hours;
        share = Math.fround((share * stored + fromSun * hours) / (stored + into));
      }
    }
  }
  return shares;
}

/** Of what charges the part that is solar: what exceeds the load, and what meters that differ leave for nobody else. */
function sunIn(charge: number, spare: number, grid: number): number {
  const rest = charge - Math.max(0, Math.min(charge, spare));
  return charge - (grid === grid ? Math.min(rest, Math.max(0, grid)) : rest);
}

function firstMix(
  flows: Readonly<Record<'solar' | 'load' | 'battery', Float64Array>> & Pick<Flows, 'grid'>,
  end: number,
): number {
  const { solar, load, grid, battery } = flows;
  let charged = 0;
  let fromSun = 0;
  for (let i = 0; i < end; i++) {
    const charge = -battery[i]!;
    const spare = solar[i]! - load[i]!;
    if (!(charge > 0) || spare !== spare) continue;
    charged += charge;
    fromSun += sunIn(charge, spare, grid ? grid[i]! : NaN);
  }
  return charged > 0 ? fromSun / charged : 1;
}
