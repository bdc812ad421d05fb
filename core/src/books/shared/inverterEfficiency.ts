import type { RangeData } from '../../passes/rangeData.js';
import { isTold, tareLines } from './tareLine.js';

/** Of an inverter from DC to AC, where nothing tells. */
export const USUAL_EFFICIENCY = 0.96;
/** What an account gives below this is a meter that is off, not an inverter. */
const LEAST = 0.9;

/**
 * Share of the solar input that arrives on the home's side of an inverter: by its tare line, by the account where all else
 * is metered on that side, or as usual.
 */
export function inverterEfficiency(data: RangeData): number {
  const line = data.batterySide === 'dc' ? tareLines(data).find(isTold) : undefined;
  if (line) return 1 / line.fit.second;
  const { solarBus, loadBus, exportBus, chargeBus, importBus, dischargeBus, busS } = data.total;
  if (data.batterySide === 'dc' || busS === 0 || solarBus <= 0) return USUAL_EFFICIENCY;
  const arrives = (loadBus + exportBus + chargeBus - importBus - dischargeBus) / solarBus;
  return Math.min(1, Math.max(LEAST, arrives));
}
