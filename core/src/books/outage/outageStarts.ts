import { lackOf } from '../shared/lacking.js';
import { cellAt } from '../../model/log.js';
import { isNamed, nameOfPart } from '../../model/quantity.js';
import { offsetAt, zoneOf } from '../../time/zone.js';
import { channelOf, type RangeData } from '../../passes/rangeData.js';
import { homeStorage, type HomeStorage } from '../shared/homeStorage.js';

export const HOUR_MS = 3_600_000;
const LEAST_STEP_MS = 60_000;

/** A part of the load that is logged by itself. */
export interface NamedPart {
  readonly name: string;
  readonly values: Float64Array;
}

/**
 * Everything from which an outage can be begun in every full hour of a range: what the home used and made, by cells from
 * its first full hour on, and what it would run on. Plain data, so that it can be handed to another worker.
 */
export interface Starts {
  readonly startMs: number;
  readonly stepMs: number;
  readonly zone: string;
  /** Month of the year (0 for January) and hour of the site's own day, of every full hour. */
  readonly months: Uint8Array;
  readonly hours: Uint8Array;
  /** W; NaN where not known. */
  readonly load: Float64Array;
  readonly solar: Float64Array;
  readonly soc: Float64Array;
  readonly legs: readonly Float64Array[];
  readonly parts: readonly NamedPart[];
  /** Highest power of one leg, W; null where it is not described. */
  readonly perLegW: number | null;
  readonly storage: HomeStorage;
  /** Half-width of the load as a share. */
  readonly loadOff: number;
}

/** The starts of a range, or why there are none. */
export function startsOf(data: RangeData): Starts | { readonly reason: string } {
  const { log, range } = data;
  const storage = homeStorage(data);
  if (!storage)
    return { reason: 'The battery’s capacity is not described; the system file would supply it.' };
  const load = channelOf(data, 'load')?.values;
  const soc = log.channels.get('soc')?.values;
  const lack = lackOf(data, ['load', 'soc']);
  if (lack || !load || !soc) return { reason: lack! };
  if (HOUR_MS % log.stepMs !== 0 || log.startMs % log.stepMs !== 0)
    return {
      reason: 'The step of the log does not fit into an hour; steps of 1, 5, 10, 15, 30 or 60 min do.',
    };
  const from = cellAt(log, Math.ceil(range.fromMs / HOUR_MS) * HOUR_MS);
  const to = cellAt(log, range.toMs);
  // An inverter bears a start for seconds: where they are logged, minutes are held against its limits.
  const cells = Math.max(1, Math.floor(LEAST_STEP_MS / log.stepMs));
  const stepMs = cells * log.stepMs;
  const count = Math.floor((to - from) / cells);
  // Copies: a view on ten years would take all of them along to another worker.
  const part = (values: Float64Array) => stepMeans(values.subarray(from, to), cells);
  const solar = channelOf(data, 'solar')?.values;
  const startMs = log.startMs + from * log.stepMs;
  const full = Math.floor(((to - from) * log.stepMs) / HOUR_MS);
  const [months, hours] = [new Uint8Array(full), new Uint8Array(full)];
  const zone = zoneOf(log.zone);
  for (let hour = 0; hour < full; hour++) {
    const ms = startMs + hour * HOUR_MS;
    const local = new Date(ms + offsetAt(zone, ms));
    months[hour] = local.getUTCMonth();
    hours[hour] = local.getUTCHours();
  }
  return {
    startMs,
    stepMs,
    zone: log.zone,
    months,
    hours,
    load: part(load),
    solar: solar ? part(solar) : new Float64Array(count),
    soc: firstOfEach(soc.subarray(from, to), cells),
    legs: (['leg1', 'leg2', 'leg3'] as const).flatMap((leg) => {
      const values = log.channels.get(leg)?.values;
      return values ? [part(values)] : [];
    }),
    parts: [...log.channels].flatMap(([quantity, { values }]) =>
      isNamed(quantity) ? [{ name: nameOfPart(quantity), values: part(values) }] : [],
    ),
    perLegW: storage.perLegW,
    storage,
    loadOff: data.accuracy.load,
  };
}

/** Means of so many cells each, as a copy; NaN where less than half of them is known. */
export function stepMeans(values: Float64Array, cells: number): Float64Array {
  if (cells === 1) return values.slice();
  return Float64Array.from({ length: Math.floor(values.length / cells) }, (_, k) => {
    const own = values.subarray(k * cells, (k + 1) * cells).filter((value) => value === value);
    return 2 * own.length < cells ? NaN : own.reduce((sum, value) => sum + value, 0) / own.length;
  });
}

/** The first of so many cells each, as a copy. */
export function firstOfEach(values: Float64Array, cells: number): Float64Array {
  if (cells === 1) return values.slice();
  return Float64Array.from({ length: Math.floor(values.length / cells) }, (_, k) => values[k * cells]!);
}
