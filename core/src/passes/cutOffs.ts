import { happening, type Pass } from './pass.js';
import { busChannel } from '../import/merge/derive.js';
import { cellAt, type Log } from '../model/log.js';
import type { Configuration } from '../system/configuration.js';

/** Shares of the nameplate in an hour: above the one a battery works, below the other it has stopped. */
export const WORKS = 0.02;
export const STOPPED = 0.005;
/** Above this charge a battery that stops was told to. */
const NEAR_EMPTY = 0.3;
/** A battery that was only parked delivers again before it has been charged by so much. */
const CHARGED = 0.02;
const LONGEST_MS = 3 * 86_400_000;
/** A home that draws less than this, W, has gone dark. */
export const DARK_W = 10;

/** A place at which a battery had no more to give. */
export interface CutOff {
  readonly atMs: number;
  readonly configuration: Configuration;
  /** What its monitor showed there. */
  readonly soc: number;
}

/**
 * Finds where the battery stops although the home needs it, and does not deliver again until it has been charged: from
 * one interval to the next it falls from work to rest near empty, while others take over or the home goes dark.
 */
function cutOffsOf(log: Log, configurations: readonly Configuration[]): CutOff[] {
  const [battery, load, solar] = (['battery', 'load', 'solar'] as const).map(
    (quantity) => busChannel(log.channels, quantity)?.values,
  );
  const soc = log.channels.get('soc')?.values;
  const found: CutOff[] = [];
  if (!battery || !load || !soc || log.stepMs > 3_600_000) return found;
  const longest = LONGEST_MS / log.stepMs;
  for (const configuration of configurations) {
    const { nameplateWh } = configuration;
    if (nameplateWh === null) continue;
    const [works, stopped] = [WORKS * nameplateWh, STOPPED * nameplateWh];
    const end = cellAt(log, configuration.toMs);
    let stop = -1;
    for (let i = cellAt(log, configuration.fromMs) + 1; i < end; i++) {
      const power = battery[i]!;
      if (stop >= 0) {
        if (power >= works || i - stop > longest) stop = -1;
        else if (soc[i]! >= soc[stop]! + CHARGED) {
          found.push({ atMs: log.startMs + stop * log.stepMs, configuration, soc: soc[stop]! });
          stop = -1;
        }
      }
      if (!(battery[i - 1]! >= works && Math.abs(power) < stopped && soc[i]! < NEAR_EMPTY)) continue;
      const need = load[i]! - (solar ? solar[i]! : 0);
      if (need >= battery[i - 1]! / 2 || (load[i]! < DARK_W && load[i - 1]! > works)) stop = i;
    }
  }
  return found;
}

const DAY_MS = 86_400_000;

/** Stops near empty. What one was is known a few days later, so those of before are kept up to early in the overlap alone. */
export const cutOffsPass: Pass<readonly CutOff[]> = {
  scan: ({ log, configurations }) => cutOffsOf(log, configurations),
  slice: happening,
  join: (before, after, { tailMs }) => [
    ...before.filter(({ atMs }) => atMs < tailMs + DAY_MS),
    ...after.filter(({ atMs }) => atMs >= tailMs + DAY_MS),
  ],
};
