import type { WorkingLine } from '../../model/figure.js';
import { coverageOf, storedChangeWh, type RangeData } from '../../passes/rangeData.js';
import type { Uncertainty } from '../shared/uncertainty.js';

/** What a figure of the account rests on, over the time it counts. */
export function basisOf(data: RangeData, seconds: number) {
  return {
    coverage: coverageOf(data, seconds),
    intervals: Math.round((seconds * 1000) / data.log.stepMs),
    stepSeconds: data.log.stepMs / 1000,
  };
}

/** What long steps hide. */
export function coarseNote({ log }: RangeData): string[] {
  return log.stepMs >= 1_800_000
    ? ['Steps of 30 minutes or more hide import and export that both happened within one.']
    : [];
}

/** In a short range the store may carry over more than a tenth of the load from before, or to after. */
export function carried(data: RangeData): string[] {
  const { total } = data;
  const storeWh = storedChangeWh(data, 'socChangeStore');
  if (Math.abs(storeWh) <= 0.1 * total.loadWh) return [];
  const direction = storeWh < 0 ? 'was stored before this range' : 'stays in store at its end';
  return [
    `The change in store exceeds 10 % of the load: ${Math.abs(storeWh / 1000).toFixed(1)} kWh ${direction}.`,
  ];
}

/** A doubt in another measure. */
export function scaled({ label, half }: Uncertainty, factor: number): Uncertainty {
  return { label, half: half * Math.abs(factor) };
}

/** An energy as a line of the working. */
export function energyLine(label: string, wh: number, role: WorkingLine['role'] = 'input'): WorkingLine {
  return { label, value: wh / 1000, unit: 'kWh', role };
}
