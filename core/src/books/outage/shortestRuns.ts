import { quantile } from '../../statistics/quantile.js';
import { offsetAt, zoneOf } from '../../time/zone.js';
import type { Scenario } from './scenario.js';
import { changeInCell, type Composed } from '../../storage/compose.js';
import type { Run } from '../../storage/replay.js';
import { islandNeed } from '../../storage/step.js';
import { HOUR_MS, type Starts } from './outageStarts.js';

/** What is so far from the month's own is told as a reason. */
const LITTLE_CHARGE = 0.6;
const MUCH_LOAD = 1.4;
const LITTLE_SUN = 0.5;
/** The sun is no reason for what ends sooner, h. */
const SUN_AFTER_H = 6;

/** The shortest start of a month of the year, why it was so short, and what half of that month's starts last. */
export interface ShortestRun {
  readonly month: number;
  readonly atMs: number;
  readonly hours: number;
  readonly usualHours: number;
  readonly reason: string;
}

/** The start of each month of the year that lasts the shortest; months without one that ended are left out. */
export function shortestRuns(
  starts: Starts,
  scenario: Scenario,
  composed: Composed,
  charge: Float64Array,
  runs: readonly (Run | null)[],
): ShortestRun[] {
  const byMonth = Array.from({ length: 12 }, (): number[] => []);
  runs.forEach((run, hour) => {
    if (run) byMonth[starts.months[hour]!]!.push(hour);
  });
  return byMonth.flatMap((hours, month) => {
    const ended = hours.filter((hour) => !runs[hour]!.isCensored);
    if (ended.length === 0) return [];
    const worst = ended.reduce((short, hour) => (runs[hour]!.hours < runs[short]!.hours ? hour : short));
    const usual = quantile(Float64Array.from(hours, (hour) => runs[hour]!.hours).sort(), 0.5);
    return [
      {
        month,
        atMs: starts.startMs + worst * HOUR_MS,
        hours: runs[worst]!.hours,
        usualHours: usual,
        reason: reasonOf(starts, scenario, composed, charge, hours, worst, runs[worst]!.hours),
      },
    ];
  });
}

function reasonOf(
  { storage, perLegW, legs, startMs, stepMs, zone }: Starts,
  scenario: Scenario,
  { demand, parameters, cellsAnHour }: Composed,
  charge: Float64Array,
  month: readonly number[],
  worst: number,
  hours: number,
): string {
  const end = Math.round((worst + hours) * cellsAnHour);
  const kW = (watts: number) => `${(watts / 1000).toFixed(2)} kW`;
  const ms = startMs + end * stepMs;
  const clock = new Date(ms + offsetAt(zoneOf(zone), ms)).toISOString().slice(11, 16);
  const load = demand.load[end]!;
  if (load > parameters.limitW)
    return `a load of ${kW(load)} at ${clock}, more than the inverter carries (${kW(parameters.limitW)})`;
  if (demand.overLeg?.[end] === 1)
    return `${kW(Math.max(...legs.map((leg) => leg[end]!)))} on one leg at ${clock}, more than it carries (${kW(perLegW!)})`;
  const change = changeInCell(demand, parameters, end);
  if (islandNeed(parameters, load, change) > -change)
    return `${kW(load)} at ${clock} with little charge left, when the inverter carries ${kW(parameters.weakW)}`;
  const soc = (hour: number) => storage.cutOff + charge[hour]! / storage.fullWh;
  const above = (hour: number) => soc(hour) - storage.cutOff;
  const usualAbove = quantile(Float64Array.from(month, above).sort(), 0.5);
  const mean = (values: ArrayLike<number>, from: number, to: number) => {
    let [sum, count] = [0, 0];
    for (let i = from; i < to; i++)
      if (values[i] === values[i]) {
        sum += values[i]!;
        count++;
      }
    return count > 0 ? sum / count : NaN;
  };
  const ofMonth = (values: ArrayLike<number>) => {
    const means = month.map((hour) => mean(values, hour * cellsAnHour, (hour + 1) * cellsAnHour));
    return means.reduce((sum, watts) => sum + (watts || 0), 0) / means.length;
  };
  const [from, to] = [worst * cellsAnHour, Math.max(end, worst * cellsAnHour + 1)];
  const [used, usualUsed] = [mean(demand.load, from, to), ofMonth(demand.load)];
  const [made, usualMade] = [mean(demand.solar, from, to), ofMonth(demand.solar)];
  const told = [
    ...(scenario.startSoc === null && above(worst) < LITTLE_CHARGE * usualAbove
      ? [`it began at ${Math.round(100 * soc(worst))} %`]
      : []),
    ...(used > MUCH_LOAD * usualUsed
      ? [`${kW(used)} of load, ${(used / usualUsed).toFixed(1)} times the month’s mean`]
      : []),
    ...(scenario.hasSun && hours >= SUN_AFTER_H && made < LITTLE_SUN * usualMade
      ? [`${Math.round((100 * made) / usualMade)} % of the month’s usual sun`]
      : []),
  ];
  return told.length > 0 ? told.join('; ') : 'nothing out of the ordinary: charge, load and sun together';
}
