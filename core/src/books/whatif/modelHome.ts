import type { RangeData } from '../../passes/rangeData.js';
import { isOnDc } from '../../passes/bypass.js';
import { configurationAt } from '../../system/configuration.js';
import type { SystemConfiguration } from '../../system/schema.js';
import { gridCharging, type DatedCharge, type ModelWindow } from './gridCharging.js';
import { loggedTrickle } from './loggedTrickle.js';
import { loggedReserves } from './loggedReserves.js';
import { isWithin } from '../../system/tariffs.js';
import { homeStorage } from '../shared/homeStorage.js';
import { inverterEfficiency, USUAL_EFFICIENCY } from '../shared/inverterEfficiency.js';
import type { Change } from './scenarioFile.js';

/** A home as the model runs it; energies in Wh on the home's side, powers in W. */
export interface ModelHome {
  readonly coupling: 'ac' | 'dc';
  readonly hasGrid: boolean;
  /** From full to 0 %, and the shares of it below which nothing comes out, with the grid and without. */
  readonly fullWh: number;
  readonly reserve: number;
  readonly cutOff: number;
  /** True where the battery's own draw goes on from its cells below the reserve; false where the grid keeps it up. */
  readonly drawsBelowReserve: boolean;
  /** False where a battery at its foot feeds nothing, neither from its cells nor from the grid. */
  readonly drawsWhenEmpty: boolean;
  readonly nameplateWh: number;
  readonly chargeEfficiency: number;
  /** Of the inverter from DC to AC, 1 where the battery has its own. */
  readonly efficiency: number;
  /** What the battery itself draws from its cells. */
  readonly idleW: number;
  /** What the inverter draws on the DC side, from the sun first, then from the battery. */
  readonly inverterIdleW: number;
  readonly chargeW: number;
  readonly dischargeW: number;
  /** What the inverter passes, or the arrays' own inverters do. */
  readonly acLimitW: number;
  readonly batteryOnlyW: number;
  /** Highest power of one leg, W; null where it is not described. */
  readonly perLegW: number | null;
  readonly exportLimitW: number;
  readonly gridChargeLimitW: number;
  /** What the grid gives all along while the home carries itself, W. */
  readonly trickleW: number;
  readonly windows: readonly ModelWindow[];
  /** Charges that the log shows beside the windows, one after the other. */
  readonly datedCharges: readonly DatedCharge[];
  readonly reserveWindows: readonly {
    readonly start: string;
    readonly end: string;
    readonly reserve: number;
    readonly months: readonly number[] | null;
  }[];
  readonly strategy: 'self-use' | 'cheap-charge' | 'peak-shave' | 'none';
  /** Cheap hours fill the battery for what the next day lacks, no further. */
  readonly knowsTomorrow: boolean;
  /** Half-width of the capacity as a share. */
  readonly capacityOff: number;
  /** The configuration it was made from; null where none is described. */
  readonly described: SystemConfiguration | null;
}

/** The home of a range's end as it is; null where its battery is not described. */
export function modelHome(data: RangeData): ModelHome | null {
  const configuration = configurationAt(data.configurations, data.range.toMs - 1);
  const { described, limits, nameplateWh, hasGrid } = configuration;
  const storage = homeStorage(data);
  if (!storage || nameplateWh === null) return null;
  const coupling = isOnDc(data.log, configuration) ? 'dc' : 'ac';
  const efficiency = coupling === 'dc' ? inverterEfficiency(data) : 1;
  const inverterIdleW = coupling === 'dc' ? storage.inverterIdleW : 0;
  const arrays = described?.arrays ?? [];
  const arraysW = arrays.every(({ inverterKW }) => inverterKW !== undefined)
    ? arrays.reduce((sum, { inverterKW }) => sum + 1000 * inverterKW!, 0) || Infinity
    : Infinity;
  const reserve = hasGrid
    ? Math.max(configuration.reserve ?? shownReserve(data), storage.cutOff)
    : storage.cutOff;
  const charging = hasGrid ? gridCharging(data) : { windows: [], dated: [] };
  return {
    coupling,
    hasGrid,
    fullWh: storage.fullWh,
    reserve,
    cutOff: storage.cutOff,
    drawsBelowReserve: drawsBelow(data, configuration.reserve),
    drawsWhenEmpty: !data.stretches.some(({ emptyHours }) => emptyHours > 0),
    nameplateWh,
    chargeEfficiency: storage.parameters.chargeEfficiency,
    efficiency,
    idleW: Math.max(0, storage.parameters.idleW - inverterIdleW * efficiency),
    inverterIdleW,
    chargeW: storage.parameters.chargeW,
    dischargeW: Math.min(
      configuration.maxDischargeW ?? Infinity,
      limits.batteryOnlyW ?? limits.continuousW ?? Infinity,
    ),
    acLimitW: coupling === 'dc' ? (limits.continuousW ?? Infinity) : arraysW,
    batteryOnlyW: limits.islandW ?? Infinity,
    perLegW: storage.perLegW,
    exportLimitW: !hasGrid
      ? 0
      : described?.exportLimitKW === undefined
        ? Infinity
        : 1000 * described.exportLimitKW,
    gridChargeLimitW: Infinity,
    trickleW:
      (hasGrid ? loggedTrickle(data, reserve) : null) ??
      (data.total.busS > 0 ? (3600 * data.total.trickleBus) / data.total.busS : 0),
    datedCharges: charging.dated,
    windows: described?.chargeWindows
      ? described.chargeWindows.map(({ start, end, toSoc = 1, months = null }) => ({
          ...{ start, end, toSoc, months },
          chargeW: null,
        }))
      : charging.windows,
    reserveWindows: (described?.battery?.reserveWindows ?? []).map(
      ({ start, end, reserve, months = null }) => ({ start, end, reserve, months }),
    ),
    strategy: 'self-use',
    knowsTomorrow: false,
    capacityOff: storage.capacityOff,
    described,
  };
}

/** The least charge at which the log shows the battery kept; 0 where it shows none. */
function shownReserve(data: RangeData): number {
  const known = loggedReserves(data).filter((one) => one !== null);
  return known.length > 0 ? Math.min(...known) : 0;
}

/** A display this far below the reserve has fallen below it; one this close above has reached it. */
const BELOW = 0.015;
const REACHED = 0.02;
const OFTEN = 0.3;

/** Whether the charge goes on falling on days that reach the reserve. */
function drawsBelow({ days, log }: RangeData, reserve: number | null): boolean {
  if (reserve === null) return false;
  const digit = log.channels.get('soc')?.resolution ?? 0;
  const reached = days.filter(({ sums }) => sums.socMin <= reserve + REACHED);
  const below = reached.filter(({ sums }) => sums.socMin < reserve - BELOW - digit / 2);
  return below.length > OFTEN * reached.length;
}

/** All that battery and inverter draw for themselves, W on the home's side. */
export function idleOf({ idleW, inverterIdleW, efficiency }: ModelHome): number {
  return idleW + inverterIdleW * efficiency;
}

/** The home as a change would make it. */
export function changedHome(home: ModelHome, change: Change): ModelHome {
  const { battery = {}, inverter = {} } = change;
  const { described } = home;
  const before = described?.battery ?? {};
  const [modules, moduleKWh, usable] = [
    before.modules ?? 1,
    before.moduleKWh ?? home.nameplateWh / 1000,
    before.usableShare ?? 1,
  ];
  const more = (battery.modules ?? modules) / Math.max(1, modules);
  const nameplateWh = (battery.modules ?? modules) * (battery.moduleKWh ?? moduleKWh) * 1000;
  const scale = (nameplateWh * (battery.usableShare ?? usable)) / (home.nameplateWh * usable);
  const cutOff = battery.cutOff ?? home.cutOff;
  const kW = (value: number | null | undefined, otherwise: number) =>
    value == null ? otherwise : 1000 * value;
  const isEmpty = change.noBattery === true || nameplateWh === 0;
  const coupling = change.coupling ?? home.coupling;
  const isTurned = coupling !== home.coupling;
  // An own draw that is named is all of it; turned to the AC side, the inverter's becomes the battery's.
  const allIdleW = idleOf(home);
  const idleScale = (change.idleW ?? allIdleW) / (allIdleW || 1);
  // Limits are those of all units together.
  const moreUnits = inverter.units === undefined ? 1 : inverter.units / (described?.inverter?.units ?? 1);
  const islandW = kW(inverter.batteryOnlyKW ?? inverter.continuousKW, home.batteryOnlyW * moreUnits);
  const beforePerLegW = home.perLegW === null ? null : home.perLegW * moreUnits;
  return {
    ...home,
    coupling,
    efficiency: !isTurned ? home.efficiency : coupling === 'dc' ? USUAL_EFFICIENCY : 1,
    acLimitW: isTurned
      ? kW(inverter.continuousKW ?? described?.inverter?.continuousKW, Infinity)
      : coupling === 'dc'
        ? kW(inverter.continuousKW, home.acLimitW * moreUnits)
        : home.acLimitW,
    nameplateWh: isEmpty ? 0 : nameplateWh,
    fullWh: isEmpty ? 0 : home.fullWh * scale,
    cutOff,
    reserve: Math.max(cutOff, battery.reserve ?? home.reserve),
    chargeW: isEmpty ? 0 : kW(battery.maxChargeKW, home.chargeW * more),
    dischargeW: isEmpty
      ? 0
      : battery.maxDischargeKW !== undefined || battery.modules !== undefined
        ? Math.min(
            kW(
              battery.maxDischargeKW,
              (before.maxDischargeKW === undefined ? Infinity : 1000 * before.maxDischargeKW) * more,
            ),
            islandW,
          )
        : inverter.batteryOnlyKW !== undefined || inverter.continuousKW !== undefined || moreUnits !== 1
          ? Math.min(islandW, before.maxDischargeKW === undefined ? Infinity : 1000 * before.maxDischargeKW)
          : home.dischargeW,
    batteryOnlyW: islandW,
    perLegW:
      inverter.perLegKW === undefined
        ? beforePerLegW
        : inverter.perLegKW === null
          ? null
          : 1000 * inverter.perLegKW,
    ...(isEmpty
      ? { idleW: 0 }
      : isTurned || allIdleW === 0
        ? { idleW: change.idleW ?? allIdleW, inverterIdleW: 0 }
        : { idleW: home.idleW * idleScale, inverterIdleW: home.inverterIdleW * idleScale }),
    exportLimitW: kW(change.exportLimitKW, home.exportLimitW),
    gridChargeLimitW: kW(change.gridChargeLimitKW, home.gridChargeLimitW),
    // Whoever is told when to charge does not charge at other times as well.
    datedCharges: change.chargeWindows || change.strategy ? [] : home.datedCharges,
    windows:
      change.chargeWindows?.map(({ months = null, ...window }) => ({ ...window, months, chargeW: null })) ??
      (change.strategy === 'cheap-charge' ? [] : home.windows),
    reserveWindows:
      battery.reserveWindows?.map(({ months, ...window }) => ({ ...window, months: months ?? null })) ??
      home.reserveWindows,
    strategy: change.strategy ?? home.strategy,
    knowsTomorrow: change.knowsTomorrow ?? home.knowsTomorrow,
  };
}

/**
 * The charge that is wanted at a minute of a month's day and the power at which it is charged for, W, and the floor that is
 * kept; shares of full.
 */
export function wantedAt({ windows, reserveWindows, reserve }: ModelHome, minute: number, month: number) {
  let [target, gridW] = [0, Infinity];
  for (const one of windows)
    if ((one.months === null || one.months.includes(month)) && isWithin(minute, one) && one.toSoc > target)
      [target, gridW] = [one.toSoc, one.chargeW ?? Infinity];
  let floor = reserve;
  for (const one of reserveWindows)
    if ((one.months === null || one.months.includes(month)) && isWithin(minute, one))
      floor = Math.max(floor, one.reserve);
  return { target, gridW, floor };
}
