import { parseInstant } from '../time/instant.js';
import type { Accuracy, System, SystemConfiguration } from './schema.js';

/** A stretch of time in which the home is built in one way. */
export interface Configuration {
  readonly index: number;
  readonly name: string;
  readonly fromMs: number;
  readonly toMs: number;
  /** Modules × kWh each; null when not described. */
  readonly nameplateWh: number | null;
  /** Nameplate × usable share; SOC 0–1 spans it. Null when not described. */
  readonly usableWh: number | null;
  readonly maxChargeW: number | null;
  readonly maxDischargeW: number | null;
  /** SOC at which the battery stops serving the home while the grid is there. */
  readonly floor: number | null;
  readonly described: SystemConfiguration | null;
}

/**
 * The configurations of a system as consecutive stretches. The first holds from the beginning of time, so that a log
 * that starts before it is still read; a system without any has one that knows nothing.
 */
export function configurationsOf(system: System): Configuration[] {
  const list: (SystemConfiguration | null)[] = system.configurations?.length ? system.configurations : [null];
  const froms = list.map((item, i) => (item && i > 0 ? parseInstant(item.from) : -Infinity));
  return list.map((item, index) => {
    const { modules, moduleKWh, usableShare, maxChargeKW, maxDischargeKW, reserve, cutOff } =
      item?.battery ?? {};
    const nameplateWh = modules !== undefined && moduleKWh !== undefined ? modules * moduleKWh * 1000 : null;
    return {
      index,
      name: item?.name ?? (modules === undefined ? `configuration ${index + 1}` : moduleCount(modules)),
      fromMs: froms[index]!,
      toMs: froms[index + 1] ?? Infinity,
      nameplateWh: nameplateWh || null,
      usableWh: (nameplateWh && usableShare !== undefined ? nameplateWh * usableShare : null) || null,
      maxChargeW: maxChargeKW === undefined ? null : maxChargeKW * 1000,
      maxDischargeW: maxDischargeKW === undefined ? null : maxDischargeKW * 1000,
      floor: reserve ?? cutOff ?? null,
      described: item,
    };
  });
}

function moduleCount(modules: number): string {
  return modules === 1 ? 'one module' : `${modules} modules`;
}

/** Gains as shares, SOC as a share of full, offset in W. */
export interface MeterAccuracy {
  readonly solar: number;
  readonly load: number;
  readonly grid: number;
  readonly battery: number;
  readonly soc: number;
  readonly offsetW: number;
}

/**
 * Accuracy of the meters where the system file does not state it: an inverter's own measurement 3 % (solar, battery on
 * the AC side), current clamps 2 % (load, grid), a battery monitor 2 % (DC side), SOC 3 % of full, zero offset 5 W.
 * @source common practice, no published source
 */
export function accuracyOf(stated: Accuracy | undefined, batterySide: 'ac' | 'dc'): MeterAccuracy {
  return {
    solar: stated?.solar ?? 0.03,
    load: stated?.load ?? 0.02,
    grid: stated?.grid ?? 0.02,
    battery: stated?.battery ?? (batterySide === 'dc' ? 0.02 : 0.03),
    soc: stated?.soc ?? 0.03,
    offsetW: stated?.offsetW ?? 5,
  };
}

/** The configuration that holds at an instant. */
export function configurationAt(configurations: readonly Configuration[], ms: number): Configuration {
  return configurations.find(({ fromMs, toMs }) => fromMs <= ms && ms < toMs) ?? configurations.at(-1)!;
}

/** The warranty's terms that hold for a configuration: those for use without a grid where there is none and they are given. */
export function warrantyTerms({ described }: Configuration): SystemConfiguration['warranty'] {
  return described?.grid === 'none' ? (described.warrantyOffGrid ?? described.warranty) : described?.warranty;
}
