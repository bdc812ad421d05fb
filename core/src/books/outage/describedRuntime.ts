import { configurationsOf } from '../../system/configuration.js';
import type { System } from '../../system/schema.js';
import type { RunsOn } from '../shared/homeStorage.js';

/** A battery whose losses nobody measured: its capacity on the home's side may be so much off, its charge too. */
const CAPACITY_OFF = 0.1;
const SOC_OFF = 0.03;
/** So much charge may be left at a cut-off that is not described. */
const CUT_OFF_OFF = 0.05;

/**
 * What a runtime is reckoned from where there is no log: the capacity as described, from full to empty, and the stated idle
 * draw, or none. With 3 modules of 13.5 kWh, 64 % and 3.3 kW it lasts 7.8 h (common practice, no published source).
 * @returns null where the battery's capacity is not described
 */
export function describedRunsOn(system: System): RunsOn | null {
  const { usableWh, nameplateWh, described, limits } = configurationsOf(system).at(-1)!;
  const fullWh = usableWh ?? nameplateWh;
  if (fullWh === null) return null;
  const stated = described?.battery?.cutOff;
  const cutOff = stated ?? 0;
  const idleW = described?.inverter?.statedIdleW ?? 0;
  return {
    fullWh,
    cutOff,
    capacityOff: CAPACITY_OFF,
    socOff: Math.hypot(SOC_OFF, stated === undefined ? CUT_OFF_OFF : 0),
    parameters: {
      capacityWh: fullWh * (1 - cutOff),
      idleW,
      chargeEfficiency: 1,
      dischargeEfficiency: 1,
      chargeW: Infinity,
      limitW: limits.islandW ?? Infinity,
      weakBelowWh: 0,
      weakW: Infinity,
    },
  };
}
