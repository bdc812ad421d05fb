import { counterCheck, solarCheck } from './commonChecks.js';
import { line, read, untold } from './evaluated.js';
import { energyOf, loggedCourse, swingOf, typedCourse, type TrialMaterial } from './trialMaterial.js';
import { check, type TrialOutcome } from './trialResult.js';

const LEAST_H = 8;
/** A counter must move by so many of its digits to tell a draw. */
const MOVED = 3;
/** Draw of a home with everything off, W. */
const LOAD_W = 30;
const NIGHT_H = 12;

interface Draw {
  readonly watts: number;
  readonly half: number;
  readonly by: string;
}

/** An idle draw: everything off, hours without sun, and what left the battery meanwhile. */
export function idle(material: TrialMaterial): TrialOutcome {
  const { hours, configuration } = material;
  const loads = [...typedCourse(material, 'loadW'), ...loggedCourse(material, 'load')].map(
    ({ value }) => value,
  );
  const charged = energyOf(material, 'chargeKWh');
  const checks = [
    counterCheck(material),
    check('too-short', hours >= LEAST_H, 'weakens', [
      `It lasted ${LEAST_H} hours or more.`,
      `It lasted ${hours.toFixed(1)} h; ${LEAST_H} hours give the digits of display and counters their weight.`,
      '',
    ]),
    solarCheck(material, 'weakens'),
    check(
      'charged-during-test',
      charged === null ? null : charged.kWh <= Math.max(0.05, 2 * charged.half),
      'weakens',
      [
        'The battery was not charged meanwhile.',
        'The battery was charged meanwhile; what went in is taken off.',
        'Nothing shows whether the battery was charged; its charge counter would.',
      ],
    ),
    check('load-on', loads.length === 0 ? null : loads.every((watts) => watts < LOAD_W), 'weakens', [
      'No load was on.',
      `A load of up to ${Math.round(Math.max(...loads))} W was on; its mean is taken off where it is known.`,
      'Nothing shows whether a load was on.',
    ]),
  ];
  const draw = drawOf(material);
  if (!draw) {
    const reason =
      'Shunt readings (batteryW), or counters or the charge at the start and at the end, would supply it.';
    return {
      figures: { 'trial.idleW': untold('idleW', reason), 'trial.idlePerDay': untold('idlePerDay', reason) },
      checks,
      verdict: { code: 'cannot-tell', message: reason },
    };
  }
  const { watts, half, by } = draw;
  const stated = configuration.described?.inverter?.statedIdleW;
  const { usableWh } = configuration;
  const basis = {
    hours,
    source: by,
    ...(usableWh ? { shareOfCapacityANight: (watts * NIGHT_H) / usableWh } : {}),
  };
  const swing = swingOf(material);
  return {
    figures: {
      'trial.idleW': read('idleW', {
        value: watts,
        half,
        least: 0,
        basis,
        lines: [line(`by ${by}, over`, hours, 'h')],
      }),
      'trial.idlePerDay': read('idlePerDay', {
        value: (watts * 24) / 1000,
        half: (half * 24) / 1000,
        least: 0,
        basis,
      }),
      'trial.hours': read('hours', { value: hours, half: 0 }),
      ...(swing
        ? {
            'trial.deltaSoc': read('deltaSoc', {
              value: Math.abs(swing.to - swing.from),
              half: Math.max(swing.digit, 1e-6),
              least: 0,
              most: 1,
            }),
          }
        : {}),
    },
    checks,
    verdict: verdictOf(watts, half, stated),
  };
}

function verdictOf(watts: number, half: number, stated: number | undefined) {
  const found = `${Math.round(watts)} W (${Math.round(Math.max(0, watts - half))} to ${Math.round(watts + half)}), ${((watts * 24) / 1000).toFixed(1)} kWh a day`;
  if (stated === undefined)
    return { code: 'no-statement', message: `${found}. What the maker states is not described.` };
  if (stated > watts + half)
    return { code: 'below-stated', message: `${found}: less than the ${stated} W that are stated.` };
  if (stated < watts - half)
    return {
      code: 'above-stated',
      message: `${found}: more than the ${stated} W that are stated. Check whether a second unit, a fan or a standby mode is running.`,
    };
  return { code: 'as-stated', message: `${found}: as the ${stated} W that are stated.` };
}

/** The draw by what tells it best: a shunt, counters that moved, else the fall of the charge. */
function drawOf(material: TrialMaterial): Draw | null {
  const { accuracy, hours, configuration } = material;
  const loads = [...typedCourse(material, 'loadW'), ...loggedCourse(material, 'load')].map(
    ({ value }) => value,
  );
  const load = energyOf(material, 'loadKWh');
  const loadW = load ? (1000 * load.kWh) / hours : loads.length > 0 ? mean(loads) : 0;
  const shunt = typedCourse(material, 'batteryW').map(({ value }) => value);
  const logged = loggedCourse(material, 'battery').map(({ value }) => value);
  const powers = logged.length > shunt.length ? logged : shunt;
  if (powers.length >= 3 && Math.abs(mean(powers)) > 0) {
    const watts = mean(powers) - loadW;
    const spread = Math.sqrt(mean(powers.map((value) => (value - mean(powers)) ** 2)) / powers.length);
    // A log's own meter has its zero off; a shunt that is read is taken at its digits and gain.
    const zeroW = powers === logged ? accuracy.offsetW : 1;
    return {
      watts,
      half: Math.hypot(1.96 * spread, accuracy.battery * mean(powers), zeroW),
      by: powers === logged ? 'the log' : 'the shunt',
    };
  }
  const out = energyOf(material, 'dischargeKWh');
  const into = energyOf(material, 'chargeKWh');
  if (out && out.kWh > MOVED * out.half) {
    const kWh = out.kWh - (into?.kWh ?? 0) - (loadW * hours) / 1000;
    return {
      watts: (1000 * kWh) / hours,
      half:
        (1000 * Math.hypot(out.half, into?.half ?? 0, accuracy.battery * out.kWh, load?.half ?? 0)) / hours,
      by: 'the counters',
    };
  }
  const swing = swingOf(material);
  if (!swing || configuration.usableWh === null) return null;
  const wh = (swing.from - swing.to) * configuration.usableWh;
  // Over one rest the display's own error stays; its digit does not.
  const half = (Math.max(swing.digit, 0.002) * configuration.usableWh) / hours;
  return { watts: Math.max(0, wh / hours - loadW), half, by: 'the fall of the charge' };
}

function mean(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / values.length;
}
