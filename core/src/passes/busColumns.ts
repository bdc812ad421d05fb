import { busChannel } from '../import/merge/derive.js';
import { stretchesBeyond, stretchesLacking } from '../model/blocks.js';
import { withRoom } from '../model/growable.js';
import type { Log } from '../model/log.js';
import type { Quantity } from '../model/quantity.js';
import type { Configuration } from '../system/configuration.js';
import { solarShareOf, type StoredShareState } from './storedSolarShare.js';

/** A logged sign of the grid: below its bound the grid is down. */
export interface GridSign {
  readonly evidence: 'flag' | 'voltage' | 'frequency';
  readonly values: Float64Array;
  readonly below: number;
}

/** The signs of the grid that a log has, the surest first. */
export function signsOf({ channels }: Log): GridSign[] {
  const bounds = [
    ['flag', 'gridUp', 0.5],
    ['voltage', 'gridV', 50],
    ['frequency', 'gridHz', 10],
  ] as const;
  return bounds.flatMap(([evidence, quantity, below]) => {
    const values = channels.get(quantity)?.values;
    return values ? [{ evidence, values, below }] : [];
  });
}

/** What is known in a cell, by bits. */
export const KNOWN = {
  /** A flow that the log has elsewhere is missing here; without any flow, the state of charge. */
  missing: 1,
  /** A flow is bridged across a short gap. */
  bridged: 2,
  /** A logged sign of the grid says that it is down. */
  gridDown: 4,
} as const;

type Values = Float64Array | null;

/** The columns the passes read, looked up once for a log. */
export interface BusColumns {
  readonly solar: Values;
  readonly load: Values;
  readonly grid: Values;
  readonly battery: Values;
  readonly soc: Values;
  /** Bits of {@link KNOWN} for each cell. */
  readonly known: Uint8Array;
  /** Share of solar origin of what the store holds at the start of each cell; NaN before it is known, null when it never is. */
  readonly solarShare: Float32Array | null;
}

/**
 * Looks up the columns of a log and goes once through what they lack.
 * @param origin state in which a trace of an earlier log ended, where this one goes on from it
 */
export function busColumns(
  log: Log,
  configurations: readonly Configuration[],
  origin?: StoredShareState,
): BusColumns {
  const channel = (quantity: Quantity) => busChannel(log.channels, quantity);
  const known = withRoom(Uint8Array, log.count);
  const flows = (['solar', 'load', 'grid', 'battery'] as const).flatMap(
    (quantity) => channel(quantity) ?? [],
  );
  // A log without any flow is judged by its state of charge.
  const concluded = flows.length > 0 ? flows : [channel('soc')].filter((soc) => soc !== undefined);
  for (const { values, bridged } of concluded) markMissing(known, values, bridged);
  for (const { values, below } of signsOf(log))
    for (const { from, to } of stretchesBeyond(values, below, Infinity))
      for (let i = from; i < to; i++) if (values[i]! < below) known[i]! |= KNOWN.gridDown;
  const flowsOfLog = flowColumns(log);
  return { ...flowsOfLog, known, solarShare: solarShareOf(log, flowsOfLog, configurations, origin) };
}

/** The channels the passes read, as they stand at the home's bus. */
export function flowColumns({ channels }: Log): Omit<BusColumns, 'known' | 'solarShare'> {
  const values = (quantity: Quantity) => busChannel(channels, quantity)?.values ?? null;
  return {
    solar: values('solar'),
    load: values('load'),
    grid: values('grid'),
    battery: values('battery'),
    soc: values('soc'),
  };
}

function markMissing(known: Uint8Array, values: Float64Array, bridged: Uint8Array): void {
  for (const { from, to } of stretchesLacking(values))
    for (let i = from; i < to; i++) if (values[i] !== values[i]) known[i]! |= KNOWN.missing;
  for (let i = bridged.indexOf(1); i >= 0; i = bridged.indexOf(1, i + 1)) known[i]! |= KNOWN.bridged;
}
