import { FLOWS, type Flow } from '../../model/quantity.js';
import type { Metered } from './uncertainty.js';
import { channelOf, coverageOf, unshapedTogether, type RangeData } from '../../passes/rangeData.js';

/** Energies of flows over the same time, Wh, and how long that is. */
export interface KnownTotals {
  readonly wh: Readonly<Record<Flow, number>>;
  readonly seconds: number;
}

/** A flow known for so much of a range is known for all of it. */
const WHOLE = 0.97;

/** Share of the range for which each quantity that the log has is known, with or without its course. */
export function coverageByQuantity(data: RangeData): Partial<Record<Metered | 'soc', number>> {
  const { total, lumps } = data;
  const seconds = (flow: Flow) =>
    lumps.filter((lump) => lump.flow === flow).reduce((sum, one) => sum + one.unknownS, 0);
  const known: Record<Metered | 'soc', number> = {
    solar: total.solarS + seconds('solar'),
    load: total.loadS + seconds('load'),
    grid: total.gridS + Math.max(seconds('import'), seconds('export')),
    battery: total.batteryS + Math.max(seconds('charge'), seconds('discharge')),
    soc: total.socS,
  };
  return Object.fromEntries(
    Object.entries(known)
      .filter(([, s]) => s > 0)
      .map(([quantity, s]) => [quantity, coverageOf(data, s)]),
  );
}

/**
 * What is known of these flows over the same time, with or without their course: over the whole range where each of them is
 * known for it, else over the stretches for which all of them have a total. Null where there is none.
 */
export function knownTotals(data: RangeData, flows: readonly Flow[]): KnownTotals | null {
  const { total, range } = data;
  const rangeS = (range.toMs - range.fromMs) / 1000;
  const course: Readonly<Record<Flow, readonly [wh: number, seconds: number]>> = {
    solar: [total.solarWh, total.solarS],
    load: [total.loadWh, total.loadS],
    import: [total.importWh, total.gridS],
    export: [total.exportWh, total.gridS],
    charge: [total.chargeWh, total.batteryS],
    discharge: [total.dischargeWh, total.batteryS],
  };
  const sum = (lumps: RangeData['lumps'], flow: Flow) => {
    const own = lumps.filter((lump) => lump.flow === flow);
    return [own.reduce((wh, one) => wh + one.wh, 0), own.reduce((s, one) => s + one.unknownS, 0)] as const;
  };
  const record = (of: (flow: Flow) => number) =>
    Object.fromEntries(FLOWS.map((flow) => [flow, of(flow)])) as Record<Flow, number>;
  if (flows.every((flow) => course[flow][1] + sum(data.lumps, flow)[1] >= WHOLE * rangeS))
    return { wh: record((flow) => course[flow][0] + sum(data.lumps, flow)[0]), seconds: rangeS };
  // A grid or a sun that is known to be nothing has no totals and needs none.
  const isNothing = (flow: Flow) => {
    const quantity = flow === 'solar' ? 'solar' : flow === 'import' || flow === 'export' ? 'grid' : null;
    return quantity !== null && channelOf(data, quantity)?.origin === 'known';
  };
  const counted = flows.filter((flow) => !isNothing(flow));
  const together = unshapedTogether(data.lumps, counted);
  if (counted.length === 0 || together.length === 0) return null;
  return {
    wh: record((flow) => (counted.includes(flow) ? sum(together, flow)[0] : 0)),
    seconds: sum(together, counted[0]!)[1],
  };
}
