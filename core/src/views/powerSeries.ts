import { faultRuns, type FaultRun } from '../books/peak/faultRuns.js';
import { cellAt, type Fill } from '../model/log.js';
import type { Range } from '../model/range.js';
import type { Quantity } from '../model/quantity.js';
import { busChannel } from '../import/merge/derive.js';
import type { Prepared } from '../passes/prepare.js';
import { configurationAt, type Limits } from '../system/configuration.js';

/** The power of a stretch of time, cell by cell. W and shares; NaN where missing. */
export interface PowerSeries {
  readonly range: Range;
  /** Start of the first cell, epoch ms. */
  readonly startMs: number;
  readonly stepMs: number;
  readonly solar: Float64Array | null;
  readonly load: Float64Array | null;
  readonly grid: Float64Array | null;
  readonly battery: Float64Array | null;
  readonly soc: Float64Array | null;
  /** 1 in cells of an outage or an island run. */
  readonly gridDown: Uint8Array;
  /** First instant at which solar carries the whole load, and for at least a quarter of an hour; null when never. */
  readonly carriedFromMs: number | null;
  readonly peak: { readonly atMs: number; readonly watts: number } | null;
  readonly limits: Limits;
  readonly configuration: string;
  /** Stretches that another source fills, cut to the range. */
  readonly fills: readonly Fill[];
  /** Faults that the equipment reported. */
  readonly faults: readonly FaultRun[];
}

/** The course of a day of a prepared home, or of another stretch of it. */
export function powerSeries({ log, outages, configurations }: Prepared, range: Range): PowerSeries {
  const from = cellAt(log, range.fromMs);
  const to = cellAt(log, range.toMs);
  const part = (quantity: Quantity) => busChannel(log.channels, quantity)?.values.slice(from, to) ?? null;
  const [solar, load] = [part('solar'), part('load')];
  const startMs = log.startMs + from * log.stepMs;
  const configuration = configurationAt(configurations, range.fromMs);
  const peak = load ? highest(load) : -1;
  const crossing =
    solar && load ? carriedFrom(solar, load, Math.max(1, Math.ceil(900_000 / log.stepMs))) : -1;
  const gridDown = new Uint8Array(Math.max(0, to - from));
  for (const outage of outages)
    gridDown.fill(
      1,
      Math.max(0, cellAt(log, outage.fromMs) - from),
      Math.max(0, cellAt(log, outage.toMs) - from),
    );
  return {
    range,
    startMs,
    stepMs: log.stepMs,
    solar,
    load,
    grid: part('grid'),
    battery: part('battery'),
    soc: part('soc'),
    gridDown,
    carriedFromMs: crossing < 0 ? null : startMs + crossing * log.stepMs,
    peak: peak < 0 ? null : { atMs: startMs + peak * log.stepMs, watts: load![peak]! },
    limits: configuration.limits,
    configuration: configuration.name,
    fills: log.fills
      .filter(({ fromMs, toMs }) => fromMs < range.toMs && toMs > range.fromMs)
      .map((fill) => ({
        ...fill,
        fromMs: Math.max(fill.fromMs, range.fromMs),
        toMs: Math.min(fill.toMs, range.toMs),
      })),
    faults: faultRuns(log, range),
  };
}

function highest(values: Float64Array): number {
  let at = -1;
  for (let i = 0; i < values.length; i++)
    if (values[i] === values[i] && (at < 0 || values[i]! > values[at]!)) at = i;
  return at;
}

function carriedFrom(solar: Float64Array, load: Float64Array, cells: number): number {
  let run = 0;
  for (let i = 0; i < solar.length; i++) {
    run = solar[i]! > 0 && solar[i]! >= load[i]! ? run + 1 : 0;
    if (run === cells) return i - cells + 1;
  }
  return -1;
}
