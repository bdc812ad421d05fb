import { parseInstant } from '../time/instant.js';
import type { Accuracy, System, SystemConfiguration } from './schema.js';

export type WarrantyTerms = NonNullable<SystemConfiguration['warranty']>;

/** What the inverter carries, W; null where it is not described. */
export interface Limits {
  readonly continuousW: number | null;
  readonly batteryOnlyW: number | null;
  /** Without the grid: the battery-only rating, or the continuous one where that is not described. */
  readonly islandW: number | null;
  readonly perLegW: number | null;
  /** What it carries with less than `lowCharge` (a share) in the battery. */
  readonly lowChargeW: number | null;
  readonly lowCharge: number;
}

/** Charge below which many an inverter gives less, where it is not described. */
const LOW_CHARGE = 0.1;

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
  /** Charge that is kept for outages; null when not described. */
  readonly reserve: number | null;
  /** SOC at which the battery has no more to give; null when not described: the reserve is no cut-off. */
  readonly cutOff: number | null;
  readonly hasGrid: boolean;
  readonly limits: Limits;
  /** When this configuration was installed, as described; null when it is not. */
  readonly installedMs: number | null;
  /** The warranty's terms that hold: those for use without a grid where there is none and they are given. */
  readonly warranty: { readonly terms: WarrantyTerms; readonly use: 'grid-tied' | 'off-grid' } | null;
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
      reserve: reserve ?? null,
      cutOff: cutOff ?? null,
      hasGrid: item?.grid !== 'none',
      limits: limitsOf(item?.inverter),
      installedMs: item ? parseInstant(item.from) : null,
      warranty: warrantyOf(item),
      described: item,
    };
  });
}

function limitsOf(inverter: SystemConfiguration['inverter']): Limits {
  const { continuousKW, batteryOnlyKW, perLegKW, lowChargeKW, lowCharge } = inverter ?? {};
  const watts = (kW: number | null | undefined) => (kW == null ? null : kW * 1000);
  return {
    continuousW: watts(continuousKW),
    batteryOnlyW: watts(batteryOnlyKW),
    islandW: watts(batteryOnlyKW ?? continuousKW),
    perLegW: watts(perLegKW),
    lowChargeW: watts(lowChargeKW),
    lowCharge: lowCharge ?? LOW_CHARGE,
  };
}

function warrantyOf(item: SystemConfiguration | null): Configuration['warranty'] {
  if (item?.grid === 'none' && item.warrantyOffGrid) return { terms: item.warrantyOffGrid, use: 'off-grid' };
  return item?.warranty ? { terms: item.warranty, use: 'grid-tied' } : null;
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

/** Outdoor temperatures below which a home is heated and above which it is cooled, °C. */
export interface DegreeBases {
  readonly heating: number;
  readonly cooling: number;
}

/** Those of a home, where they are not stated the usual ones: common practice, no published source. */
export function degreeBases({ degreeDays: stated }: Pick<System, 'degreeDays'>): DegreeBases {
  return { heating: stated?.heatingBaseC ?? 15.5, cooling: stated?.coolingBaseC ?? 22 };
}

/** Import up to which a day counts as free of the grid, Wh; half a kilowatt-hour where the home states nothing: common practice, no published source. */
export function gridFreeWhOf({ gridFreeKWh }: Pick<System, 'gridFreeKWh'>): number {
  return 1000 * (gridFreeKWh ?? 0.5);
}

/** The configuration that holds at an instant. */
export function configurationAt(configurations: readonly Configuration[], ms: number): Configuration {
  return configurations.find(({ fromMs, toMs }) => fromMs <= ms && ms < toMs) ?? configurations.at(-1)!;
}

/** Age of the battery of a configuration at an instant, ms: since it was installed, or since it was first seen. */
export function ageAt({ installedMs }: Configuration, atMs: number, firstSeenMs: number): number {
  return atMs - (installedMs ?? firstSeenMs);
}
