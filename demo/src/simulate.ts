import { dayNumberAt, dayOf, parseInstant, zoneOf } from '@long-tally/core';
import { household, type Presence } from './appliances.js';
import { charge, discharge, idle, type Store } from './battery.js';
import { KAURI_BEND, KAURI_BEND_TRUTH } from './kauriBend.js';
import { dice } from './random.js';
import { planePower } from './sun.js';
import { cloudWalk, weatherOf, type DayWeather } from './weather.js';

const MINUTE_MS = 60_000;
const TRUTH = KAURI_BEND_TRUTH;

/** True powers in W at the places where the log measures them. */
export interface Flows {
  solarW: number;
  loadW: number;
  gridW: number;
  batteryW: number;
}

/** A minute of the true home; SOC is a share at the minute's start. */
export interface Minute extends Flows {
  ms: number;
  soc: number;
  outdoorC: number;
  gridUp: boolean;
}

/** An outage of the grid. */
export interface Outage {
  readonly fromMs: number;
  readonly toMs: number;
}

/** The home's true course, handed over minute by minute in one reused record; returns the outages there were. */
export function simulate(take: (minute: Minute) => void): Outage[] {
  const zone = zoneOf(KAURI_BEND.timeZone);
  const fromMs = parseInstant(TRUTH.from);
  const toMs = parseInstant(TRUTH.to);
  const firmwareMs = parseInstant(TRUTH.firmware);
  const firstDay = dayNumberAt(zone, fromMs);
  const days = dayNumberAt(zone, toMs - 1) - firstDay + 1;
  const weather = weatherOf(days, 59, 32, TRUTH.seed);
  const clouds = cloudWalk(TRUTH.seed);
  const fillLoad = household(TRUTH.seed);
  const presence = presences(days);
  const outages = outagesOf(weather, (d) => dayOf(zone, firstDay + d).fromMs);
  const { roll, normal } = dice(TRUTH.seed, 'control');
  const [before, after] = KAURI_BEND.configurations.map(({ battery, from }) => ({
    newWh: battery.modules * battery.moduleKWh * battery.usableShare * 1000,
    limitW: battery.maxChargeKW * 1000,
    fromMs: parseInstant(from),
  }));
  let now = before!;
  const store: Store = {
    capacityWh: now.newWh,
    storedWh: now.newWh * 0.62,
    idleW: TRUTH.idleW,
    chargeEfficiency: TRUTH.chargeEfficiency,
    dischargeEfficiency: TRUTH.dischargeEfficiency,
  };
  const [plane] = KAURI_BEND.configurations[0].arrays;
  const load = new Float64Array(1440);
  const minute: Minute = {
    ms: 0,
    solarW: 0,
    loadW: 0,
    gridW: 0,
    batteryW: 0,
    soc: 0,
    outdoorC: 0,
    gridUp: true,
  };
  let outage = 0;

  for (let d = 0; d < days; d++) {
    const day = dayOf(zone, firstDay + d);
    const sky = weather[d]!;
    fillLoad(load, sky.meanC, (firstDay + d + 4) % 7, presence[d]!);
    const chargeTo = nightTarget(weather, d, sky.meanC, roll());
    let potential = 0;
    for (let ms = day.fromMs; ms < day.toMs; ms += MINUTE_MS) {
      const m = Math.min(1439, (ms - day.fromMs) / MINUTE_MS);
      if (ms === after!.fromMs) {
        // The new module arrives half charged, as modules are shipped.
        store.storedWh += (after!.newWh - now.newWh) * 0.5;
        now = after!;
      }
      if (ms >= firmwareMs) store.idleW = TRUTH.idleAfterW;
      store.capacityWh = now.newWh * (1 - (TRUTH.fadePerYear * (ms - fromMs)) / (365.25 * 86_400_000));
      store.storedWh = Math.min(store.storedWh, store.capacityWh);
      const outdoorC = sky.meanC + 3.4 * Math.sin(((m - 540) / 1440) * 2 * Math.PI);
      const clear = clouds(sky.sky);
      if (m % 2 === 0)
        potential = planePower(
          plane,
          ms + MINUTE_MS,
          KAURI_BEND.latitude,
          KAURI_BEND.longitude,
          clear,
          outdoorC,
        );
      while (outage < outages.length && outages[outage]!.toMs <= ms) outage++;
      minute.gridUp = !(outage < outages.length && outages[outage]!.fromMs <= ms);
      minute.ms = ms;
      minute.soc = store.storedWh / store.capacityWh;
      minute.outdoorC = outdoorC;
      const clock = m < 420 || m >= 1380;
      if (minute.gridUp)
        onGrid(minute, store, potential, load[m]!, now.limitW, clock ? chargeTo : 0, normal());
      else island(minute, store, potential, load[m]!, now.limitW);
      idle(store);
      take(minute);
    }
  }
  return outages;
}

/** How full the cheap night is to make the battery: for dull winter days ahead, and before a storm. */
function nightTarget(weather: readonly DayWeather[], d: number, meanC: number, chance: number): number {
  if (weather[d + 1]?.storm === true || weather[d]!.storm) return 1;
  return meanC < 13.5 && weather[d]!.sky < 0.45 && chance < 0.8 ? 0.65 : 0;
}

function onGrid(
  minute: Minute,
  store: Store,
  potential: number,
  load: number,
  limitW: number,
  chargeTo: number,
  noise: number,
): void {
  const exportLimitW = KAURI_BEND.configurations[0].exportLimitKW * 1000;
  const sunW = potential * TRUTH.solarToAc;
  const need = load + TRUTH.inverterTareW;
  let batteryW: number;
  let usedSunW = sunW;
  if (minute.soc < chargeTo) {
    batteryW = -charge(store, Math.max(2600, sunW - need), limitW);
  } else if (sunW > need) {
    batteryW = -charge(store, sunW - need, limitW);
    const spare = sunW - need + batteryW;
    if (spare > exportLimitW) usedSunW = sunW - (spare - exportLimitW);
  } else {
    // The regulation leaves a little for the grid, now more, now less.
    const trickle = Math.max(0, 14 + 7 * noise);
    batteryW = discharge(
      store,
      Math.max(0, need - sunW - trickle),
      Math.min(limitW, 6000),
      chargeTo > 0 ? chargeTo : 0.1,
    );
  }
  minute.solarW = usedSunW / TRUTH.solarToAc;
  minute.loadW = load;
  minute.batteryW = batteryW;
  minute.gridW = need - usedSunW - batteryW;
}

function island(minute: Minute, store: Store, potential: number, load: number, limitW: number): void {
  const sunW = potential * TRUTH.solarToAc;
  const need = load + TRUTH.inverterTareW;
  minute.gridW = 0;
  if (sunW >= need) {
    const taken = charge(store, sunW - need, limitW);
    minute.loadW = load;
    minute.batteryW = -taken;
    minute.solarW = (need + taken) / TRUTH.solarToAc;
    return;
  }
  const given = discharge(store, need - sunW, Math.min(limitW, 6000), 0.05);
  const served = given + sunW >= need - 1;
  minute.loadW = served ? load : Math.max(0, Math.min(load, given + sunW - TRUTH.inverterTareW));
  minute.batteryW = given;
  minute.solarW = potential;
}

function outagesOf(weather: readonly DayWeather[], dayFromMs: (d: number) => number): Outage[] {
  const { roll } = dice(TRUTH.seed, 'outages');
  return weather.flatMap(({ storm }, d) => {
    if (!storm || roll() > 0.75) return [];
    const fromMs = dayFromMs(d) + Math.floor(roll() * 1200) * MINUTE_MS;
    const minutes = Math.round(8 + 420 * roll() ** 2.2);
    return [{ fromMs, toMs: fromMs + minutes * MINUTE_MS }];
  });
}

function presences(days: number): Presence[] {
  const { roll } = dice(TRUTH.seed, 'presence');
  const list: Presence[] = [];
  while (list.length < days) {
    const what = roll();
    const length = what < 0.06 ? 8 : what < 0.14 ? 4 : 12;
    const presence = what < 0.06 ? 'away' : what < 0.14 ? 'guests' : 'usual';
    for (let k = 0; k < length; k++) list.push(presence);
  }
  return list.slice(0, days);
}
