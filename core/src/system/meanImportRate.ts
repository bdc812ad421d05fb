import { tariffAt, weekOf } from './tariffs.js';
import type { System } from './schema.js';

/**
 * What a draw that never rests pays for a kWh: the mean over a week of the import rate that holds at an instant.
 * @returns null where no tariff is described
 */
export function meanImportRate(system: System, ms: number): number | null {
  const priced = weekOf(tariffAt(system, ms)?.import ?? []).filter((rate) => !Number.isNaN(rate));
  return priced.length > 0 ? priced.reduce((sum, rate) => sum + rate, 0) / priced.length : null;
}
