import type { Grid } from '../model/log.js';
import type { Quantity } from '../model/quantity.js';
import { resumable } from '../model/resumable.js';

/** The flows whose balance closes: solar + grid + battery = load. */
export const FLOW_NAMES = ['solar', 'grid', 'battery', 'load'] as const;
export type FlowName = (typeof FLOW_NAMES)[number];

/** Hours of a log, evenly chosen: means of its flows in W, and the state of charge at both ends. */
export interface HourlyFlows {
  readonly hours: number;
  /** Length of each block: an hour, or the log's step where that is longer. */
  readonly blockH: number;
  /** How many times more hours the log has than are held here. */
  readonly every: number;
  readonly startMs: Float64Array;
  /** Only flows that are logged; NaN where missing. */
  readonly flows: Readonly<Partial<Record<FlowName, Float64Array>>>;
  readonly socFrom: Float64Array | null;
  readonly socTo: Float64Array | null;
}

/** So many hours tell enough; a longer log is looked at in steps. */
const MOST_HOURS = 6000;
const HOUR_MS = 3_600_000;

const resumedMeans = resumable<Float64Array>();

/**
 * Cuts a log into hours.
 * @param valuesOf a logged quantity on the grid, undefined where it is not logged
 */
export function hourlyFlows(
  { startMs, stepMs, count }: Grid,
  valuesOf: (quantity: Quantity) => Float64Array | undefined,
): HourlyFlows {
  const cells = Math.max(1, Math.round(HOUR_MS / stepMs));
  const all = Math.max(0, Math.floor((count - 1) / cells));
  const every = Math.max(1, Math.ceil(all / MOST_HOURS));
  const hours = Math.floor(all / every);
  const first = (k: number) => k * every * cells;
  const means = (values: Float64Array) =>
    resumedMeans(values, `${cells} ${every}`, (before) => {
      const means = new Float64Array(hours);
      means.set(before?.result ?? []);
      for (let k = before?.result.length ?? 0; k < hours; k++) {
        let sum = 0;
        for (let i = first(k); i < first(k) + cells; i++) sum += values[i]!;
        means[k] = sum / cells;
      }
      return means;
    });
  const flows: Partial<Record<FlowName, Float64Array>> = {};
  for (const name of FLOW_NAMES) {
    const values = valuesOf(name) ?? (name === 'battery' ? valuesOf('batteryDc') : undefined);
    if (values) flows[name] = means(values);
  }
  const soc = valuesOf('soc');
  const at = (offset: number) =>
    soc ? new Float64Array(hours).map((_, k) => soc[first(k) + offset] ?? NaN) : null;
  return {
    hours,
    blockH: (cells * stepMs) / HOUR_MS,
    every,
    startMs: new Float64Array(hours).map((_, k) => startMs + first(k) * stepMs),
    flows,
    socFrom: at(0),
    socTo: at(cells),
  };
}
