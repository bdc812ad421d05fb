import { counterCheck, logCheck, temperatureCheck } from './commonChecks.js';
import { line, read, reckoned, untold } from './evaluated.js';
import { energyOf, loggedCourse, swingOf, typedCourse, type TrialMaterial } from './trialMaterial.js';
import { check, type TrialOutcome } from './trialResult.js';

const FULL = 0.99;
const TAPERED = 0.05;
/** A load that begins with so much, W, asks the charging to give way. */
const LOAD_STEP_W = 1500;

/** A recharge: what went in from low to full, what of it the charge shows, and how the power went. */
export function recharge(material: TrialMaterial): TrialOutcome {
  const { configuration, accuracy, hours } = material;
  const taken = energyOf(material, 'chargeKWh');
  const swing = swingOf(material);
  const powers = chargePowers(material);
  const { usableWh } = configuration;
  const rise = swing ? swing.to - swing.from : NaN;
  const riseHalf = swing ? Math.hypot(swing.digit * Math.SQRT1_2, accuracy.soc * Math.SQRT2) : NaN;
  const takenHalf = taken ? Math.hypot(taken.half, accuracy.battery * taken.kWh) : NaN;
  const rated = configuration.maxChargeW ?? (configuration.nameplateWh ?? NaN) / 2;
  const noted = material.trial.readings.findLast(({ isTapered }) => isTapered !== undefined)?.isTapered;
  const last = powers.at(-1)?.value;
  const tapered = noted ?? (last === undefined || Number.isNaN(rated) ? null : last < TAPERED * rated);
  const gaveWay = gaveWayOf(material);
  const checks = [
    counterCheck(material),
    logCheck(material, 'chargeKWh'),
    check('not-truly-full', swing ? (swing.to < FULL ? false : tapered) : null, 'weakens', [
      'It ended truly full: the charging had died down.',
      'It did not end truly full: wait until the display says 100 % and the charging has died down.',
      'Nothing shows whether the charging had died down at the end.',
    ]),
    check('grid-limit-held', gaveWay, 'weakens', [
      'The charging gave way as another load began.',
      'Another load began and the charging did not give way: look at the limit of the grid connection.',
      'No other load began during the charge, so nothing shows whether its limit holds.',
    ]),
    temperatureCheck(material),
  ];
  const noCounter = 'The charge counter at the start and at the end, or a log, would supply it.';
  const peak = Math.max(...powers.map(({ value }) => value), -Infinity);
  const stored = usableWh === null ? NaN : (rise * usableWh) / 1000;
  const efficiency = taken && taken.kWh > 0 ? stored / taken.kWh : NaN;
  const figures = {
    'trial.deltaSoc': swing
      ? read('deltaSoc', {
          value: Math.abs(rise),
          half: riseHalf,
          least: 0,
          most: 1,
          basis: { source: swing.source },
        })
      : untold('deltaSoc', 'The charge at the start and at the end would supply it.'),
    'trial.taken': taken
      ? read('taken', { value: taken.kWh, half: takenHalf, least: 0, basis: { source: taken.source } })
      : untold('taken', noCounter),
    'trial.efficiency':
      Number.isNaN(efficiency) || !swing || !taken
        ? untold(
            'efficiency',
            'Charge and charge counter at both ends, and a described capacity, would supply it.',
          )
        : reckoned('efficiency', {
            value: efficiency,
            half: efficiency * Math.hypot(riseHalf / rise, takenHalf / taken.kWh),
            least: 0,
            lines: [line('stored by the display', stored, 'kWh'), line('÷ taken in', taken.kWh, 'kWh')],
            assumptions: ['The capacity is taken as described.'],
          }),
    'trial.peakPower':
      peak === -Infinity
        ? untold(
            'peakPower',
            'Powers of the battery (batteryW, below 0 while it charges), or a log, would supply it.',
          )
        : read('peakPower', { value: peak, half: accuracy.battery * peak + accuracy.offsetW, least: 0 }),
    'trial.power.mean': taken
      ? read('power.mean', { value: (1000 * taken.kWh) / hours, half: (1000 * takenHalf) / hours, least: 0 })
      : untold('power.mean', noCounter),
    'trial.hours': read('hours', { value: hours, half: 0 }),
  };
  const isDone = swing !== null && swing.to >= FULL;
  return {
    figures,
    checks,
    verdict: !swing
      ? { code: 'cannot-tell', message: 'The charge at the start and at the end is needed.' }
      : rise <= 0
        ? { code: 'invalid', message: 'The charge did not rise, so this is no recharge.' }
        : isDone
          ? {
              code: 'recharged',
              message: `From ${percent(swing.from)} to ${percent(swing.to)} in ${hours.toFixed(1)} h.`,
            }
          : {
              code: 'not-full',
              message: `It ended at ${percent(swing.to)}. Let it go on charging: a battery should not be left part empty.`,
            },
  };
}

function chargePowers(material: TrialMaterial): { atMs: number; value: number }[] {
  const logged = loggedCourse(material, 'battery');
  const course = logged.length > 0 ? logged : typedCourse(material, 'batteryW');
  return course.map(({ atMs, value }) => ({ atMs, value: Math.max(0, -value) }));
}

/** Whether the charging fell as another load began; null where none did. */
function gaveWayOf(material: TrialMaterial): boolean | null {
  const pairs = material.trial.readings.flatMap(({ loadW, batteryW }) =>
    loadW === undefined || batteryW === undefined ? [] : [{ loadW, chargeW: Math.max(0, -batteryW) }],
  );
  const logged = loggedCourse(material, 'load').map(({ atMs, value }) => ({ atMs, loadW: value }));
  const charge = new Map(
    loggedCourse(material, 'battery').map(({ atMs, value }) => [atMs, Math.max(0, -value)]),
  );
  const course =
    pairs.length > 1 ? pairs : logged.map(({ atMs, loadW }) => ({ loadW, chargeW: charge.get(atMs) ?? NaN }));
  const steps = course.flatMap((one, i) => {
    const before = course[i - 1];
    return before && one.loadW - before.loadW >= LOAD_STEP_W && before.chargeW > LOAD_STEP_W
      ? [before.chargeW - one.chargeW]
      : [];
  });
  return steps.length === 0 ? null : steps.every((fell) => fell > LOAD_STEP_W / 3);
}

function percent(share: number): string {
  return `${Math.round(100 * share)} %`;
}
