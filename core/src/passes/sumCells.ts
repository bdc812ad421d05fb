import type { Log } from '../model/log.js';
import type { Configuration } from '../system/configuration.js';
import { KNOWN, type BusColumns } from './busColumns.js';
import { isOnDc } from './bypass.js';
import { noteEvents, noteLegs, noteRating } from './extremes.js';
import {
  FLOWS_OF_A_CELL,
  GRID_TO_LOAD,
  GRID_TO_STORE,
  splitCell,
  STORE_SOLD,
  STORE_TO_LOAD,
  SUN_SOLD,
  SUN_TO_LOAD,
  SUN_TO_STORE,
} from './splitCell.js';
import { noSums, type Cells, type Sums } from './sums.js';

/** Import below this, in W, while the home carries itself, is the inverter's regulation, not a purchase. */
export const TRICKLE_BELOW_W = 60;

/** A battery below this, in W, is parked, and a sun below it has not risen. */
export const PARKED_W = 15;

/** Adds up cells of a log under one configuration. */
export function sumCells(log: Log, columns: BusColumns, configuration: Configuration, cells: Cells): Sums {
  const sums = noSums();
  const stepS = log.stepMs / 1000;
  sumChannels(sums, columns, cells, stepS);
  sumKnown(sums, columns, cells, stepS);
  sumMeter(sums, columns, cells, stepS);
  sumBus(sums, columns, cells, stepS, isOnDc(log, configuration));
  sumSoc(sums, columns, cells, stepS);
  sumStore(sums, columns, cells, stepS);
  noteEvents(sums, log, columns, configuration, cells);
  noteLegs(sums, log, configuration, cells);
  noteRating(sums, log, columns, configuration, cells);
  return sums;
}

/** Both directions of a channel: sums of values and counts of cells. */
function bothWays(values: Float64Array | null, { from, to }: Cells) {
  let up = 0;
  let down = 0;
  let known = 0;
  let upCells = 0;
  let downCells = 0;
  if (values) {
    for (let i = from; i < to; i++) {
      const value = values[i]!;
      if (value > 0) {
        up += value;
        upCells++;
      } else if (value < 0) {
        down -= value;
        downCells++;
      } else if (value !== value) continue;
      known++;
    }
  }
  return { up, down, known, upCells, downCells };
}

/**
 * What of each direction of a channel would cancel if its steps were twice as long: of every two neighbours of unlike
 * sign the smaller, and half of all neighbours would share a step.
 */
function cancels(values: Float64Array | null, { from, to }: Cells): number {
  if (!values) return 0;
  let sum = 0;
  let before = NaN;
  for (let i = from; i < to; i++) {
    const value = values[i]!;
    if (value * before < 0) {
      const [a, b] = [Math.abs(value), Math.abs(before)];
      sum += a < b ? a : b;
    }
    before = value;
  }
  return sum / 2;
}

function sumChannels(
  sums: Sums,
  { solar, load, grid, battery }: BusColumns,
  cells: Cells,
  stepS: number,
): void {
  const hours = stepS / 3600;
  const s = bothWays(solar, cells);
  sums.solarWh = (s.up - s.down) * hours;
  sums.solarS = s.known * stepS;
  sums.solarOnS = (s.upCells + s.downCells) * stepS;
  const l = bothWays(load, cells);
  sums.loadWh = (l.up - l.down) * hours;
  sums.loadS = l.known * stepS;
  const g = bothWays(grid, cells);
  sums.importWh = g.up * hours;
  sums.exportWh = g.down * hours;
  sums.gridS = g.known * stepS;
  sums.importOnS = g.upCells * stepS;
  sums.exportOnS = g.downCells * stepS;
  const b = bothWays(battery, cells);
  sums.dischargeWh = b.up * hours;
  sums.chargeWh = b.down * hours;
  sums.batteryS = b.known * stepS;
  sums.dischargeOnS = b.upCells * stepS;
  sums.chargeOnS = b.downCells * stepS;
  sums.gridCancels = cancels(grid, cells) * hours;
  sums.batteryCancels = cancels(battery, cells) * hours;
}

function sumKnown(sums: Sums, { known }: BusColumns, { from, to }: Cells, stepS: number): void {
  let all = 0;
  let bridged = 0;
  for (let i = from; i < to; i++) {
    const bits = known[i]!;
    if ((bits & KNOWN.missing) === 0) all++;
    if ((bits & KNOWN.bridged) !== 0) bridged++;
  }
  sums.allS = all * stepS;
  sums.bridgedS = bridged * stepS;
}

function sumMeter(sums: Sums, { load, grid }: BusColumns, { from, to }: Cells, stepS: number): void {
  if (!load || !grid) return;
  let used = 0;
  let bought = 0;
  let cells = 0;
  let buying = 0;
  for (let i = from; i < to; i++) {
    const l = load[i]!;
    const g = grid[i]!;
    if (l !== l || g !== g) continue;
    cells++;
    used += l;
    if (g > 0) {
      bought += g;
      buying++;
    }
  }
  const hours = stepS / 3600;
  sums.loadMeter = used * hours;
  sums.importMeter = bought * hours;
  sums.meterS = cells * stepS;
  sums.importOnMeterS = buying * stepS;
}

/** The flows at the home's bus. */
function sumBus(
  sums: Sums,
  { solar, load, grid, battery, solarShare }: BusColumns,
  { from, to }: Cells,
  stepS: number,
  canBypass: boolean,
): void {
  if (!solar || !load || !grid || !battery) return;
  let [cells, sun, used, bought, exported, charged, discharged] = [0, 0, 0, 0, 0, 0, 0];
  let [carried, shortSun, shortStore, trickle, trickleCells, tracedGrid] = [0, 0, 0, 0, 0, 0];
  let [traced, tracedLoad, tracedSun, tracedStore, fromSun] = [0, 0, 0, 0, 0];
  let [parked, parkedLoad, parkedCells] = [0, 0, 0];
  let [mixed, mixedSun, mixedLoad, mixedStore] = [0, 0, 0, 0];
  const flows = new Float64Array(FLOWS_OF_A_CELL);
  const doubled = new Float64Array(FLOWS_OF_A_CELL);
  const both = new Float64Array(FLOWS_OF_A_CELL);
  let own = new Float64Array(FLOWS_OF_A_CELL);
  let before = new Float64Array(FLOWS_OF_A_CELL);
  let isBeforeKnown = false;
  for (let i = from; i < to; i++) {
    const s = solar[i]!;
    const l = load[i]!;
    const g = grid[i]!;
    const b = battery[i]!;
    if (s !== s || l !== l || g !== g || b !== b) {
      isBeforeKnown = false;
      continue;
    }
    const buying = g > 0 ? g : 0;
    const selling = g < 0 ? -g : 0;
    const charge = b < 0 ? -b : 0;
    const discharge = b > 0 ? b : 0;
    cells++;
    sun += s;
    used += l;
    bought += buying;
    exported += selling;
    charged += charge;
    discharged += discharge;
    const shining = s > 0 ? s : 0;
    const need = l > 0 ? l : 0;
    splitCell(own, s, l, g, b, canBypass);
    for (let f = 0; f < FLOWS_OF_A_CELL; f++) flows[f]! += own[f]!;
    if (isBeforeKnown) {
      const meanS = (s + solar[i - 1]!) / 2;
      const meanL = (l + load[i - 1]!) / 2;
      const meanG = (g + grid[i - 1]!) / 2;
      const meanB = (b + battery[i - 1]!) / 2;
      splitCell(both, meanS, meanL, meanG, meanB, canBypass);
      for (let f = 0; f < FLOWS_OF_A_CELL; f++) doubled[f]! += both[f]! - (own[f]! + before[f]!) / 2;
    }
    const direct = own[SUN_TO_LOAD]!;
    const served = own[STORE_TO_LOAD]!;
    const mix = charge > 0 ? (buying < charge ? buying : charge) : selling < discharge ? selling : discharge;
    if (mix > 0 && s > PARKED_W) {
      mixed += mix;
      mixedSun += s;
      mixedLoad += l;
      mixedStore += charge + discharge;
    }
    if (shining + discharge > need * 1.03 + 10) {
      carried += need;
    } else {
      shortSun += direct;
      shortStore += served;
    }
    const share = solarShare ? solarShare[i]! : NaN;
    if (share === share) {
      traced++;
      tracedLoad += need;
      tracedSun += direct;
      tracedStore += served;
      tracedGrid += own[GRID_TO_LOAD]!;
      fromSun += served * share;
    }
    if (buying > 0 && s < PARKED_W && b < PARKED_W && b > -PARKED_W) {
      parked += g - l;
      parkedLoad += l;
      parkedCells++;
    }
    if (buying > 0 && buying < TRICKLE_BELOW_W && direct + served > need / 2) {
      trickle += buying;
      trickleCells++;
    }
    const swapped = before;
    before = own;
    own = swapped;
    isBeforeKnown = true;
  }
  const hours = stepS / 3600;
  sums.busS = cells * stepS;
  sums.solarBus = sun * hours;
  sums.loadBus = used * hours;
  sums.importBus = bought * hours;
  sums.exportBus = exported * hours;
  sums.chargeBus = charged * hours;
  sums.dischargeBus = discharged * hours;
  sums.solarToLoadBus = flows[SUN_TO_LOAD]! * hours;
  sums.dischargeToLoadBus = flows[STORE_TO_LOAD]! * hours;
  sums.solarToExportBus = flows[SUN_SOLD]! * hours;
  sums.gridChargedBus = flows[GRID_TO_STORE]! * hours;
  sums.gridToLoadBus = flows[GRID_TO_LOAD]! * hours;
  sums.dischargeToExportBus = flows[STORE_SOLD]! * hours;
  sums.solarToLoadDoubled = doubled[SUN_TO_LOAD]! * hours;
  sums.solarToStoreDoubled = doubled[SUN_TO_STORE]! * hours;
  sums.solarToExportDoubled = doubled[SUN_SOLD]! * hours;
  sums.dischargeToLoadDoubled = doubled[STORE_TO_LOAD]! * hours;
  sums.dischargeToExportDoubled = doubled[STORE_SOLD]! * hours;
  sums.gridToLoadDoubled = doubled[GRID_TO_LOAD]! * hours;
  sums.gridChargedDoubled = doubled[GRID_TO_STORE]! * hours;
  sums.carriedLoadBus = carried * hours;
  sums.shortSolarBus = shortSun * hours;
  sums.shortDischargeBus = shortStore * hours;
  sums.mixedBus = mixed * hours;
  sums.mixedSolarBus = mixedSun * hours;
  sums.mixedLoadBus = mixedLoad * hours;
  sums.mixedBatteryBus = mixedStore * hours;
  sums.trickleBus = trickle * hours;
  sums.trickleS = trickleCells * stepS;
  sums.originS = traced * stepS;
  sums.loadOrigin = tracedLoad * hours;
  sums.solarToLoadOrigin = tracedSun * hours;
  sums.dischargeToLoadOrigin = tracedStore * hours;
  sums.storedSolarToLoadOrigin = fromSun * hours;
  sums.gridToLoadOrigin = tracedGrid * hours;
  sums.standbyWh = parked * hours;
  sums.standbyLoadWh = parkedLoad * hours;
  sums.standbyS = parkedCells * stepS;
}

/** SOC over time, and battery energy where the change of SOC is known. */
function sumSoc(sums: Sums, { soc, battery }: BusColumns, { from, to, end }: Cells, stepS: number): void {
  if (!soc) return;
  let [sum, known, lowest, highest, first, last] = [0, 0, Infinity, -Infinity, NaN, NaN];
  let [cells, rise, charged, discharged, charging, discharging] = [0, 0, 0, 0, 0, 0];
  for (let i = from; i < to; i++) {
    const now = soc[i]!;
    if (now !== now) continue;
    sum += now;
    known++;
    if (now < lowest) lowest = now;
    if (now > highest) highest = now;
    if (first !== first) first = now;
    last = now;
    const next = i + 1 < end ? soc[i + 1]! : NaN;
    if (next !== next) continue;
    last = next;
    const b = battery ? battery[i]! : NaN;
    if (b !== b) continue;
    cells++;
    rise += next - now;
    if (b < 0) {
      charged -= b;
      charging++;
    } else if (b > 0) {
      discharged += b;
      discharging++;
    }
  }
  const hours = stepS / 3600;
  sums.socTime = sum * stepS;
  sums.socS = known * stepS;
  if (known > 0) {
    sums.socMin = lowest;
    sums.socMax = highest;
  }
  sums.socFirst = first;
  sums.socLast = last;
  sums.cellS = cells * stepS;
  sums.socChangeCell = rise;
  sums.chargeCell = charged * hours;
  sums.dischargeCell = discharged * hours;
  sums.chargeOnCellS = charging * stepS;
  sums.dischargeOnCellS = discharging * stepS;
}

/** Flows into and out of the home where the change of SOC is known: what the losses are worked out from. */
function sumStore(
  sums: Sums,
  { solar, load, grid, soc }: BusColumns,
  { from, to, end }: Cells,
  stepS: number,
): void {
  if (!soc || !solar || !load || !grid) return;
  let [cells, rise, sun, used, bought, sold] = [0, 0, 0, 0, 0, 0];
  for (let i = from; i < to; i++) {
    const change = i + 1 < end ? soc[i + 1]! - soc[i]! : NaN;
    const s = solar[i]!;
    const l = load[i]!;
    const g = grid[i]!;
    if (change !== change || s !== s || l !== l || g !== g) continue;
    cells++;
    rise += change;
    sun += s;
    used += l;
    if (g > 0) bought += g;
    else sold -= g;
  }
  const hours = stepS / 3600;
  sums.storeS = cells * stepS;
  sums.socChangeStore = rise;
  sums.solarStore = sun * hours;
  sums.loadStore = used * hours;
  sums.importStore = bought * hours;
  sums.exportStore = sold * hours;
}
