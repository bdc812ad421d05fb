import type { RangeData } from '../../passes/rangeData.js';
import type { TarePoints } from '../../passes/tare.js';
import type { Configuration } from '../../system/configuration.js';
import { robustFit, type RobustFit } from '../../statistics/robustFit.js';

export const LEAST_NIGHTS = 10;
export const LEAST_POINTS = 60;
/** Served power must vary by so much of its mean for the line to have a foot. */
const LEAST_SPREAD = 0.15;

/** The inverter's tare line under one configuration. */
export interface TareLine {
  readonly configuration: Configuration;
  readonly fit: RobustFit;
  readonly points: number;
  readonly nights: number;
  readonly spread: number;
}

/** The tare line of each configuration in a range that has points at all, in order of time: another inverter, another line. */
export function tareLines({ tare, range, configurations }: RangeData): TareLine[] {
  if (!tare) return [];
  return configurations.flatMap((configuration) => {
    const from = firstAtOrAfter(tare.fromMs, Math.max(range.fromMs, configuration.fromMs));
    const to = firstAtOrAfter(tare.fromMs, Math.min(range.toMs, configuration.toMs));
    return to > from ? [lineOf(tare, configuration, from, to)] : [];
  });
}

function lineOf(tare: TarePoints, configuration: Configuration, from: number, to: number): TareLine {
  const x = tare.servedW.subarray(from, to);
  const base = tare.night[from]!;
  const night = tare.night.subarray(from, to).map((n) => n - base);
  let [sum, squares] = [0, 0];
  for (const watts of x) {
    sum += watts;
    squares += watts * watts;
  }
  const mean = sum / x.length;
  return {
    configuration,
    fit: robustFit(new Float64Array(x.length).fill(1), x, tare.drawnW.subarray(from, to), night),
    points: x.length,
    nights: night.at(-1)! + 1,
    spread: Math.sqrt(Math.max(0, squares / x.length - mean * mean)) / mean,
  };
}

function firstAtOrAfter(sorted: Float64Array, value: number): number {
  let [low, high] = [0, sorted.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle]! < value) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** True when a tare line tells idle draw from conversion. */
export function isTold({ nights, points, spread }: TareLine): boolean {
  return nights >= LEAST_NIGHTS && points >= LEAST_POINTS && spread >= LEAST_SPREAD;
}
