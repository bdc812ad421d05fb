import { siteTimeOf, zoneOf } from '../../time/zone.js';
import { check, type TrialCheck } from './trialResult.js';
import {
  energiesOf,
  energyOf,
  fallingCounter,
  loggedCourse,
  typedCourse,
  type TrialMaterial,
} from './trialMaterial.js';

/** Solar below this, W, is night or a panel that is off. */
const SUN_W = 50;
const WARM = [10, 35] as const;

/** A counter that falls is misread, or began anew. */
export function counterCheck(material: TrialMaterial): TrialCheck {
  const fall = fallingCounter(material);
  const when = fall ? siteTimeOf(zoneOf(material.system.timeZone), fall.atMs) : '';
  return check('counter-fell', fall === null, 'invalid', [
    'No counter falls.',
    `The counter ${fall?.key ?? ''} falls at ${when}. Read it again, or strike out the reading.`,
    '',
  ]);
}

/** Whether what was typed and what was logged are of one thing. */
export function logCheck(material: TrialMaterial, key: 'dischargeKWh' | 'chargeKWh'): TrialCheck {
  const { typed, logged, isApart } = energiesOf(material, key);
  return check('log-differs', typed && logged ? !isApart : null, 'weakens', [
    'What was typed and what was logged agree.',
    `The counters that were typed moved by ${typed?.kWh.toFixed(1) ?? ''} kWh, the log has ${logged?.kWh.toFixed(1) ?? ''}: look at the times of the readings and at their zone. What was typed leads.`,
    'No readings and log cover the same hours, so they cannot be compared.',
  ]);
}

/** Whether the sun gave something during the trial. */
export function solarCheck(material: TrialMaterial, weight: TrialCheck['weight']): TrialCheck {
  const energy = energyOf(material, 'solarKWh');
  const highest = Math.max(
    ...[...typedCourse(material, 'solarW'), ...loggedCourse(material, 'solar')].map(({ value }) => value),
    -Infinity,
  );
  const ok =
    energy === null && highest === -Infinity
      ? null
      : !((energy?.kWh ?? 0) > Math.max(0.05, 2 * (energy?.half ?? 0)) || highest > SUN_W);
  return check('solar-during-test', ok, weight, [
    'No sun during the test.',
    'The sun gave power during the test. Begin after sunset, or switch the panels off.',
    'Nothing shows whether the sun gave power; a solar reading would.',
  ]);
}

/** Whether the grid helped. */
export function gridCheck(material: TrialMaterial): TrialCheck {
  const energy = energyOf(material, 'importKWh');
  const ok = energy === null ? null : energy.kWh <= Math.max(0.1, 2 * energy.half);
  return check('grid-present', ok, 'weakens', [
    'Nothing was bought during the test.',
    `${energy?.kWh.toFixed(1) ?? ''} kWh came from the grid during the test, so the battery did not carry all of the load. Isolate by the installed gear only.`,
    'Nothing shows whether the grid helped; an import counter would.',
  ]);
}

/** Whether any load lay above what the inverter gives from the battery, in total or on a leg. */
export function overLimitCheck(material: TrialMaterial): TrialCheck {
  const { limits } = material.configuration;
  const totals = [...typedCourse(material, 'loadW'), ...loggedCourse(material, 'load')].map(
    ({ value }) => value,
  );
  const legs = [
    ...material.trial.readings.flatMap(({ legW }) => legW ?? []),
    ...(['leg1', 'leg2', 'leg3'] as const).flatMap((leg) =>
      loggedCourse(material, leg).map(({ value }) => value),
    ),
  ];
  const highest = Math.max(...totals, -Infinity);
  const highestLeg = Math.max(...legs, -Infinity);
  const isTold =
    (limits.islandW !== null && totals.length > 0) || (limits.perLegW !== null && legs.length > 0);
  const isOver = highest > (limits.islandW ?? Infinity) || highestLeg > (limits.perLegW ?? Infinity);
  return check('over-limit', isTold ? !isOver : null, 'weakens', [
    'The load stayed below the limits.',
    `A load of ${Math.round(isOver && highestLeg > (limits.perLegW ?? Infinity) ? highestLeg : highest)} W lies above what the inverter gives from the battery. Add load in steps and stay below it.`,
    'Load or limits are not known, so nothing shows whether it stayed below them.',
  ]);
}

/** Whether the cells were at a usual temperature. */
export function temperatureCheck(material: TrialMaterial): TrialCheck {
  const celsius = [...typedCourse(material, 'batteryC'), ...loggedCourse(material, 'batteryTemp')].map(
    ({ value }) => value,
  );
  const ok = celsius.length === 0 ? null : celsius.every((value) => value >= WARM[0] && value <= WARM[1]);
  return check('temperature', ok, 'weakens', [
    `The battery stayed between ${WARM[0]} and ${WARM[1]} °C.`,
    `The battery was outside ${WARM[0]} to ${WARM[1]} °C, where it gives another capacity.`,
    'The temperature of the battery is not known.',
  ]);
}
