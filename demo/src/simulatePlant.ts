import { dayNumberAt, dayOf, parseInstant, zoneOf } from '@long-tally/core';
import { household } from './appliances.js';
import { charge, discharge, idle, type Store } from './battery.js';
import type { Plant } from './plants.js';
import { planePower } from './sun.js';
import { cloudWalk, weatherOf } from './weather.js';

const MINUTE_MS = 60_000;

/** A minute of the true home: powers in W where its log measures them, SOC and temperatures at the minute's start. */
export interface PlantMinute {
  ms: number;
  solarW: number;
  /** Of each plane, where all of it was used. */
  planesW: number[];
  loadW: number;
  carW: number;
  gridW: number;
  batteryW: number;
  soc: number;
  outdoorC: number;
  batteryC: number;
}

/** The home's true course, handed over minute by minute in one reused record. */
export function simulatePlant(plant: Plant, take: (minute: PlantMinute) => void): void {
  const { system, seed, planes } = plant;
  const zone = zoneOf(system.timeZone);
  const [fromMs, toMs] = [parseInstant(plant.from), parseInstant(plant.to)];
  const firstDay = dayNumberAt(zone, fromMs);
  const days = dayNumberAt(zone, toMs - 1) - firstDay + 1;
  const dayOfYear = Math.round((fromMs - Date.UTC(new Date(fromMs).getUTCFullYear(), 0, 1)) / 86_400_000);
  const weather = weatherOf(days, dayOfYear, plant.warmest, seed, plant.climate);
  const clouds = cloudWalk(seed);
  const fillLoad = household(seed);
  const hasGrid = system.configurations![0]!.grid !== 'none';
  const store: Store = {
    capacityWh: plant.capacityWh,
    storedWh: plant.capacityWh * 0.6,
    idleW: plant.idleW,
    chargeEfficiency: plant.chargeEfficiency,
    dischargeEfficiency: plant.dischargeEfficiency,
  };
  const load = new Float64Array(1440);
  const suns = planes.map(() => 0);
  const minute: PlantMinute = {
    ms: 0,
    solarW: 0,
    planesW: planes.map(() => 0),
    loadW: 0,
    carW: 0,
    gridW: 0,
    batteryW: 0,
    soc: 0,
    outdoorC: 0,
    batteryC: 8,
  };
  for (let d = 0; d < days; d++) {
    const day = dayOf(zone, firstDay + d);
    const { sky, meanC } = weather[d]!;
    fillLoad(load, plant.heatsWithPower ? meanC : 20, (firstDay + d + 4) % 7, 'usual');
    let sun = 0;
    for (let ms = day.fromMs; ms < day.toMs; ms += MINUTE_MS) {
      const m = Math.min(1439, (ms - day.fromMs) / MINUTE_MS);
      const outdoorC = meanC + 3.4 * Math.sin(((m - 540) / 1440) * 2 * Math.PI);
      const clear = clouds(sky);
      if (m % 2 === 0) {
        sun = 0;
        for (const [i, plane] of planes.entries()) {
          const watts = planePower(
            plane,
            ms + MINUTE_MS,
            system.latitude!,
            system.longitude!,
            clear,
            outdoorC,
          );
          suns[i] = watts;
          sun += watts;
        }
      }
      minute.ms = ms;
      for (const [i, watts] of suns.entries()) minute.planesW[i] = watts;
      minute.soc = store.storedWh / store.capacityWh;
      minute.outdoorC = outdoorC;
      // A stone cellar follows the air over days.
      minute.batteryC += (outdoorC + 4 - minute.batteryC) / (3 * 1440);
      minute.carW = plant.carW?.(firstDay + d, m) ?? 0;
      const need = load[m]! * plant.loadShare + minute.carW;
      if (hasGrid) onGrid(minute, store, plant, sun, need);
      else alone(minute, store, plant, sun, need);
      idle(store);
      take(minute);
    }
  }
}

/** Solar to load, then store, then grid; the store to the load; the grid serves the rest. */
function onGrid(
  minute: PlantMinute,
  store: Store,
  { limitW, floor }: Plant,
  sun: number,
  need: number,
): void {
  minute.solarW = sun;
  minute.loadW = need;
  // The controller leaves a little for the grid, so that it never feeds the battery into it.
  minute.batteryW =
    sun > need
      ? -charge(store, sun - need, limitW)
      : discharge(store, Math.max(0, need - sun - 12), limitW, floor);
  minute.gridW = need - sun - minute.batteryW;
}

/** Without a grid: what cannot be used or stored is held back at the panels; what cannot be served goes dark. */
function alone(minute: PlantMinute, store: Store, plant: Plant, sun: number, need: number): void {
  const { limitW, floor, solarToAc, tareW } = plant;
  const fromDc = need / solarToAc + tareW;
  minute.gridW = 0;
  if (sun >= fromDc) {
    const taken = charge(store, sun - fromDc, limitW);
    minute.solarW = fromDc + taken;
    minute.batteryW = -taken;
    minute.loadW = need;
    return;
  }
  const given = discharge(store, fromDc - sun, limitW, floor);
  minute.solarW = sun;
  minute.batteryW = given;
  minute.loadW = given + sun >= fromDc - 1 ? need : Math.max(0, (given + sun - tareW) * solarToAc);
}
