import { chargeTaken, dischargeGiven, isoOf, parseInstant, storedAfter, type System } from '@long-tally/core';
import { gzipSync, strToU8 } from 'fflate';
import { dice } from './random.js';
import { planePower } from './sun.js';
import { cloudWalk } from './weather.js';

const PLANE = { kWp: 3.6, tilt: 32, azimuth: 178 };

/** A cabin without a grid, its two legs logged every second for a week. Everything about it is invented. */
export const CABIN: System = {
  schema: 'long-tally/system@1',
  name: 'Juniper Wash',
  timeZone: 'America/Denver',
  currency: 'USD',
  latitude: 35.9,
  longitude: -106.3,
  configurations: [
    {
      from: '2024-05-01T00:00:00-06:00',
      name: 'one inverter, two legs',
      battery: {
        modules: 2,
        moduleKWh: 5.1,
        usableShare: 1,
        chemistry: 'LFP',
        maxChargeKW: 5,
        maxDischargeKW: 6,
        reserve: 0.05,
        cutOff: 0.05,
      },
      inverter: {
        units: 1,
        continuousKW: 6,
        batteryOnlyKW: 6,
        surgeKW: 12,
        legs: 2,
        perLegKW: 3,
        lowChargeKW: 2.5,
        lowCharge: 0.1,
        statedIdleW: 45,
      },
      coupling: 'ac',
      grid: 'none',
      arrays: [{ name: 'ground rack', ...PLANE }],
    },
  ],
};

const FROM = '2024-05-13T00:00:00-06:00';
const DAYS = 7;
const DAY_S = 86_400;
const CAPACITY_WH = 10_200;
const IDLE_W = 58;
const EFFICIENCY = 0.965;
const [TOTAL_W, LEG_W, LOW_W] = [6000, 3000, 2500];
const [LOW, CUT_OFF] = [0.1, 0.05];
/** An overload is borne for so long before the output stops. */
const BEARS_S = 4;
const AUTOMATIC_S = 40;
/** Share of the direct light by day: a dull spell in the middle, so that the battery runs low. */
const SKIES = [0.9, 0.75, 0.12, 0.08, 0.85, 0.95, 0.92];
/** All light on the two dull days against a usual one with such clouds: a storm, then breaks in it. */
const STORM: Readonly<Record<number, number>> = { 2: 0.58, 3: 1.3 };
/** Charge at which the frequency begins to rise, and its range. */
const SHIFT = { fromSoc: 0.97, hz: 60, highestHz: 62 };

/** An appliance that runs: where, how long, and how many times its power it takes in its first second. */
interface Run {
  readonly fromS: number;
  readonly seconds: number;
  readonly watts: number;
  readonly leg: 1 | 2 | 'both';
  readonly start?: number;
}

/** A stop of the output as it really was. */
export interface TrueStop {
  readonly at: string;
  readonly cause: 'leg' | 'total' | 'low-charge';
  readonly darkS: number;
}

const clock = (hour: number, minute: number) => (hour * 60 + minute) * 60;

/** What runs on a day; the days on which too much runs at once are written down, the rest is drawn. */
function runsOf(day: number, roll: () => number): Run[] {
  const near = (hour: number) => clock(hour, 0) + Math.floor(2400 * (roll() - 0.5));
  const kettle = (fromS: number): Run => ({ fromS, seconds: 190, watts: 1500, leg: 1 });
  const oven = (fromS: number, minutes: number): Run => ({
    fromS,
    seconds: 60 * minutes,
    watts: 1900,
    leg: 'both',
  });
  const pump = (fromS: number): Run => ({ fromS, seconds: 240, watts: 920, leg: 2, start: 3.4 });
  const runs = [
    ...[7, 10, 16].map((hour) => kettle(near(hour))),
    ...[6.5, 9, 12, 15, 19].map((hour) => pump(near(hour))),
    oven(near(18), 35),
    { fromS: near(21), seconds: 3 * 3600, watts: 140, leg: 1 as const },
  ];
  for (let s = Math.floor(3000 * roll()); s < DAY_S; s += 3300)
    runs.push({ fromS: s, seconds: 1100, watts: 120, leg: 1, start: 6 });
  // Kettle, microwave and toaster on one leg.
  if (day === 1)
    runs.push(
      kettle(clock(17, 30)),
      { fromS: clock(17, 31), seconds: 150, watts: 1250, leg: 1 },
      { fromS: clock(17, 32), seconds: 120, watts: 900, leg: 1 },
    );
  // A table saw beside the pump: the total lies below its limit, the leg does not.
  if (day === 5)
    runs.push({ fromS: clock(11, 10), seconds: 900, watts: 1750, leg: 2, start: 2 }, pump(clock(11, 14)), {
      fromS: clock(11, 15),
      seconds: 180,
      watts: 800,
      leg: 2,
    });
  // Breakfast with little charge left.
  if (day === 3) runs.push(kettle(clock(5, 20)), oven(clock(5, 21), 20));
  return runs;
}

/** The home's log by the second, packed, and every stop that there was. */
export function cabinFiles() {
  const { roll, normal } = dice(20240513, 'cabin');
  const clouds = cloudWalk(20240513);
  const startMs = parseInstant(FROM);
  const { latitude, longitude } = CABIN;
  const parameters = {
    capacityWh: CAPACITY_WH,
    idleW: IDLE_W,
    chargeEfficiency: EFFICIENCY,
    dischargeEfficiency: EFFICIENCY,
    chargeW: 5000,
    limitW: TOTAL_W,
    weakBelowWh: 0,
    weakW: Infinity,
  };
  const hours = 1 / 3600;
  const lines = ['time,solar_w,load_w,leg1_w,leg2_w,battery_w,soc_pct,island_hz,fault\n'];
  const stops: TrueStop[] = [];
  let storedWh = 0.8 * CAPACITY_WH;
  let heldBackWh = 0;
  let [sunW, overS, darkLeft, fault] = [0, 0, 0, ''];
  const legs = new Float64Array(2 * DAY_S);
  for (let day = 0; day < DAYS; day++) {
    legs.fill(0);
    const runs = runsOf(day, roll);
    const from = new Map<number, Run[]>();
    for (const run of runs) from.set(run.fromS, [...(from.get(run.fromS) ?? []), run]);
    let on: { run: Run; endS: number }[] = [];
    for (let s = 0; s < DAY_S; s++) {
      const ms = startMs + (day * DAY_S + s) * 1000;
      if (s % 10 === 0) {
        const clear = clouds(SKIES[day]!);
        sunW =
          s % 60 === 0 || sunW > 0
            ? 0.96 * (STORM[day] ?? 1) * planePower(PLANE, ms, latitude!, longitude!, clear, 17)
            : 0;
      }
      on = [
        ...on.filter(({ endS }) => endS > s),
        ...(from.get(s) ?? []).map((run) => ({ run, endS: s + run.seconds })),
      ];
      const soc = storedWh / CAPACITY_WH;
      if (darkLeft > 0) {
        lines.push(rowOf(ms, 0, [0, 0], 0, soc, 0, fault));
        darkLeft--;
        continue;
      }
      const wanted: [number, number] = [128 + 2 * normal(), 74 + 2 * normal()];
      for (const { run, endS } of on) {
        const watts = run.watts * (endS - s === run.seconds ? (run.start ?? 1) : 1);
        if (run.leg === 'both') {
          wanted[0] += watts / 2;
          wanted[1] += watts / 2;
        } else wanted[run.leg - 1]! += watts;
      }
      const loadW = wanted[0] + wanted[1];
      const lacking = Math.max(0, loadW - sunW);
      const isLow = soc < LOW;
      const overLeg = Math.max(...wanted) > LEG_W;
      const overAll = loadW > TOTAL_W || (isLow && loadW > LOW_W);
      overS = overLeg || overAll ? overS + 1 : 0;
      const given = dischargeGiven(parameters, storedWh, lacking, CUT_OFF * CAPACITY_WH, hours);
      const isEmpty = lacking > given + 1;
      const taper = soc > 0.985 ? Math.max(0.01, (1 - soc) / 0.015) : 1;
      const taken = chargeTaken(
        { ...parameters, chargeW: 5000 * taper },
        storedWh,
        Math.max(0, sunW - loadW),
        hours,
      );
      const solarW = sunW > loadW ? loadW + taken : sunW;
      const held = sunW > 0 ? 1 - solarW / sunW : 0;
      heldBackWh += (sunW - solarW) * hours;
      const hz =
        soc < SHIFT.fromSoc || held < 0.002
          ? SHIFT.hz + 0.01 * normal()
          : SHIFT.hz + 0.5 + (SHIFT.highestHz - SHIFT.hz - 0.5) * held;
      lines.push(rowOf(ms, solarW, wanted, given - taken, soc, hz, ''));
      storedWh = storedAfter(parameters, storedWh, taken, given, IDLE_W, hours);
      if (overS <= BEARS_S && !isEmpty) continue;
      // The output stops in the next second. What was too much is off when it comes back.
      const cause = isEmpty ? 'low-charge' : overLeg ? 'leg' : 'total';
      const back = isEmpty ? clock(10, 40) : s + 1 + AUTOMATIC_S + Math.floor(20 * roll());
      darkLeft = (back > s ? back : back + DAY_S) - s - 1;
      fault = isEmpty
        ? 'F11 battery below cut-off'
        : overLeg
          ? `F04 overload, leg ${wanted[0] > LEG_W ? 1 : 2}`
          : 'F06 output limited at low charge';
      stops.push({ at: isoOf(ms + 1000), cause, darkS: darkLeft });
      overS = 0;
      on = on.filter(({ run }) => run.watts < 500);
    }
  }
  return {
    files: { 'juniper-wash.csv.gz': gzipSync(strToU8(lines.join('')), { mtime: 0 }) },
    stops,
    heldBackKWh: heldBackWh / 1000,
  };
}

function rowOf(
  ms: number,
  solarW: number,
  [leg1, leg2]: readonly [number, number],
  batteryW: number,
  soc: number,
  hz: number,
  fault: string,
): string {
  return `${isoOf(ms)},${solarW.toFixed(0)},${(leg1 + leg2).toFixed(0)},${leg1.toFixed(0)},${leg2.toFixed(0)},${batteryW.toFixed(0)},${(100 * soc).toFixed(1)},${hz.toFixed(2)},${fault && `"${fault}"`}\n`;
}
