import { InputError } from '../../model/problem.js';
import { isNamed, isSameName, nameOfPart } from '../../model/quantity.js';
import type { RangeData } from '../../passes/rangeData.js';
import { offsetAt, zoneOf } from '../../time/zone.js';
import { isWithin, minuteOf } from '../../system/tariffs.js';
import { HOUR_MS } from '../outage/outageStarts.js';
import { USUAL_EFFICIENCY } from '../shared/inverterEfficiency.js';
import type { ModelHome } from './modelHome.js';
import type { ModelInputs } from './modelRun.js';
import type { Change } from './scenarioFile.js';

/** What is left of a moved load at the end of a day is run from this hour on. */
const SURPLUS_AT_NIGHT_H = 22;

/** The sun with arrays larger or smaller, at the side on which the changed home measures it. */
export function sunOf(
  data: RangeData,
  solar: Float64Array,
  change: Change,
  home: ModelHome,
  from: number,
  to: number,
): Float64Array {
  if (change.noSolar) return new Float64Array(solar.length);
  const scales = change.arraysScale ?? {};
  const arrays = data.parts.at(-1)!.configuration.described?.arrays ?? [];
  const whole = arrays.reduce((sum, { kWp }) => sum + kWp, 0);
  let factor = scales['all'] ?? 1;
  const own = new Float64Array(solar.length);
  for (const [name, scale] of Object.entries(scales)) {
    if (name === 'all') continue;
    const logged = data.log.channels.get(`solar:${name}`)?.values.subarray(from, to);
    const array = arrays.find((one) => one.name === name);
    if (logged)
      for (let i = 0; i < own.length; i++)
        own[i]! += (scale - 1) * (logged[i] === logged[i] ? logged[i]! : 0);
    else if (array && whole > 0) factor += ((scale - 1) * array.kWp) / whole;
    else
      throw new InputError([
        {
          where: 'scenario',
          column: `key change.arraysScale.${name}`,
          found: `There is no array "${name}".`,
          mend: `Write "all"${arrays.length > 0 ? `, or one of ${arrays.flatMap((one) => (one.name ? [`"${one.name}"`] : [])).join(', ')}` : ''}.`,
        },
      ]);
  }
  const side =
    change.coupling === undefined || change.coupling === home.coupling
      ? 1
      : change.coupling === 'dc'
        ? 1 / USUAL_EFFICIENCY
        : home.efficiency;
  if (side === 1 && factor === 1 && Object.keys(scales).length === 0) return solar;
  return solar.map((watts, i) => side * Math.max(0, watts * factor + own[i]!));
}

/** The load with parts added, moved and taken away. */
export function loadOf(
  data: RangeData,
  inputs: ModelInputs,
  sun: Float64Array,
  change: Change,
  from: number,
  to: number,
): Float64Array {
  const { addLoads = [], shiftLoads = [], removeLoads = [], heatPump } = change;
  if (addLoads.length + shiftLoads.length + removeLoads.length === 0 && !heatPump) return inputs.load;
  const load = inputs.load.slice();
  const hours = inputs.stepMs / HOUR_MS;
  const zone = zoneOf(inputs.zone);
  const perDay = Math.max(1, Math.round(24 / hours));
  const minutes = Float64Array.from(load, (_, i) => {
    const ms = inputs.startMs + i * inputs.stepMs;
    return ((ms + offsetAt(zone, ms)) % 86_400_000) / 60_000;
  });
  const partOf = (name: string, key: string) => {
    const found = [...data.log.channels].find(
      ([quantity]) => isNamed(quantity) && isSameName(nameOfPart(quantity), name),
    );
    if (found) return found[1].values.subarray(from, to);
    const names = [...data.log.channels.keys()].flatMap((quantity) =>
      isNamed(quantity) ? [`"${nameOfPart(quantity)}"`] : [],
    );
    throw new InputError([
      {
        where: 'scenario',
        column: `key change.${key}`,
        found: `No part of the load is logged by the name "${name}".`,
        mend:
          names.length > 0
            ? `Write one of ${names.join(', ')}.`
            : 'Log it by a column of its own, for example boiler_load_w.',
      },
    ]);
  };
  const takeAway = (values: Float64Array) => {
    for (let i = 0; i < load.length; i++)
      if (values[i] === values[i]) load[i] = Math.max(0, load[i]! - values[i]!);
  };
  for (const name of removeLoads) takeAway(partOf(name, 'removeLoads'));
  for (const { name, to: where } of shiftLoads) {
    const values = partOf(name, 'shiftLoads');
    takeAway(values);
    const most = values.reduce((highest, watts) => (watts > highest ? watts : highest), 0);
    for (let day = 0; day < load.length; day += perDay) {
      const end = Math.min(load.length, day + perDay);
      let left = 0;
      for (let i = day; i < end; i++) if (values[i] === values[i]) left += values[i]! * hours;
      const fill = (isHere: (i: number) => number) => {
        for (let i = day; i < end && left > 1e-9; i++) {
          const watts = Math.min(isHere(i), left / hours);
          if (!(watts > 0)) continue;
          load[i]! += watts;
          left -= watts * hours;
        }
      };
      if (where === 'surplus') fill((i) => Math.min(most, Math.max(0, sun[i]! - load[i]!)));
      fill((i) =>
        (where === 'night' ? minutes[i]! < 360 : minutes[i]! >= SURPLUS_AT_NIGHT_H * 60) ? most : 0,
      );
      fill(() => most);
    }
  }
  for (const { kWhPerDay, start, end, kW } of addLoads) {
    let [left, day] = [0, -1];
    for (let i = 0; i < load.length; i++) {
      const isIn = isWithin(minutes[i]!, { start, end });
      const ms = inputs.startMs + i * inputs.stepMs;
      // A window over midnight belongs to the day on which it begins.
      const begun = Math.floor((ms + offsetAt(zone, ms) - minuteOf(start) * 60_000) / 86_400_000);
      if (begun !== day) [day, left] = [begun, kWhPerDay * 1000];
      if (!isIn || left <= 0) continue;
      const watts = Math.min(1000 * kW, left / hours);
      load[i]! += watts;
      left -= watts * hours;
    }
  }
  if (heatPump) addHeatPump(data, load, heatPump, from, to);
  return load;
}

/** Adds what a heat pump takes by the outdoor temperature, W; where that is missing, by the last that was known. */
function addHeatPump(
  { log }: RangeData,
  load: Float64Array,
  { kWhPerDegreeDay, baseC, kW }: NonNullable<Change['heatPump']>,
  from: number,
  to: number,
): void {
  const outdoor = log.channels.get('outdoorTemp')?.values.subarray(from, to);
  if (!outdoor)
    throw new InputError([
      {
        where: 'scenario',
        column: 'key change.heatPump',
        found: 'The outdoor temperature is not logged, so nothing shows when the heat pump would run.',
        mend: 'Bring a column outdoor_temp_c, or add a load with its kWh a day and its hours.',
      },
    ]);
  let celsius = outdoor.find((value) => value === value) ?? baseC;
  for (let i = 0; i < load.length; i++) {
    if (outdoor[i] === outdoor[i]) celsius = outdoor[i]!;
    load[i]! += Math.min(1000 * kW, (1000 / 24) * kWhPerDegreeDay * Math.max(0, baseC - celsius));
  }
}
