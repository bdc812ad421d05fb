import { happening, joinInStep, type Pass } from './pass.js';
import { cellAt, endMs, type Log } from '../model/log.js';
import { configurationAt, type Configuration } from '../system/configuration.js';
import { daysBetween } from '../time/days.js';
import { zoneOf } from '../time/zone.js';

const NIGHT_COVERAGE = 0.5;

/** A discharge, by the instant at which it began. */
export interface Discharge {
  readonly atMs: number;
  readonly toMs: number;
  /** Share of the usable capacity. */
  readonly depth: number;
}

/**
 * Depth of discharge night by night: the deepest fall of SOC from a highest to a following lowest value between one
 * local noon and the next. Nights in which SOC is known for less than half the time are left out, and nights in which
 * the configuration changes.
 */
export function nightlyDischarges(log: Log, configurations: readonly Configuration[]): Discharge[] {
  const soc = log.channels.get('soc')?.values;
  if (!soc) return [];
  const days = daysBetween(zoneOf(log.zone), log.startMs - 86_400_000, endMs(log));
  return days.flatMap((day, n) => {
    const noon = (day.fromMs + day.toMs) / 2;
    const next = days[n + 1];
    const nextNoon = next ? (next.fromMs + next.toMs) / 2 : noon + 86_400_000;
    const from = cellAt(log, noon);
    const to = cellAt(log, nextNoon);
    if (configurationAt(configurations, noon) !== configurationAt(configurations, nextNoon - 1)) return [];
    let depth = 0;
    let known = 0;
    let highest = -Infinity;
    for (let i = from; i < to; i++) {
      const value = soc[i]!;
      if (value !== value) continue;
      known++;
      if (value > highest) highest = value;
      else if (highest - value > depth) depth = highest - value;
    }
    return known * log.stepMs < NIGHT_COVERAGE * (nextNoon - noon)
      ? []
      : [{ atMs: Math.max(noon, log.startMs), toMs: nextNoon, depth }];
  });
}

const spanOf = ({ atMs, toMs }: Discharge) => ({ fromMs: atMs, toMs });

/** The discharge of every night. */
export const nightlyDischargesPass: Pass<readonly Discharge[]> = {
  scan: ({ log, configurations }) => nightlyDischarges(log, configurations),
  slice: happening,
  join: (before, after, seam) => joinInStep(before, after, spanOf, seam),
};
