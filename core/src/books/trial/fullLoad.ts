import { isoOf } from '../../time/instant.js';
import { counterCheck, overLimitCheck, temperatureCheck } from './commonChecks.js';
import { line, read, untold } from './evaluated.js';
import { loggedCourse, readingsWith, type TrialMaterial } from './trialMaterial.js';
import { times } from '../../model/counted.js';
import { check, type TrialOutcome, type TrialStep } from './trialResult.js';

const LOW_CHARGE = 0.1;

/** Appliances added one at a time: what each takes, what held, and what did not. */
export function fullLoad(material: TrialMaterial): TrialOutcome {
  const { trial, accuracy, configuration } = material;
  const { limits } = configuration;
  const events = trial.readings.filter(({ event }) => event === 'trip' || event === 'transfer');
  const held = trial.readings.filter(({ event }) => event !== 'trip' && event !== 'transfer');
  const loads = [
    ...held.flatMap(({ loadW, legW }) => loadW ?? (legW ? sum(legW) : [])),
    ...loggedCourse(material, 'load').map(({ value }) => value),
  ];
  const legs = readingsWith(material, 'legW').map(({ legW }) => legW);
  const logged = loggedLegs(material);
  const allLegs = [...legs, ...logged];
  const peak = Math.max(...loads, -Infinity);
  const legPeak = Math.max(...allLegs.flat(), -Infinity);
  const imbalance = Math.max(
    ...allLegs
      .filter((own) => own.length > 1 && sum(own) > 0)
      .map((own) => Math.max(...own) / (sum(own) / own.length) - 1),
    -Infinity,
  );
  const trips = events.flatMap(({ legW, loadW }) => (legW ? Math.max(...legW) : (loadW ?? [])));
  const trip = Math.min(...trips, Infinity);
  const limitW = limits.islandW;
  const half = (watts: number) => accuracy.load * Math.abs(watts) + accuracy.offsetW;
  const restart = restartDelayH(material);
  const noLoad = 'Loads read as each appliance comes on (loadW or legW), or a log, would supply it.';
  const lowest = trial.readings.flatMap(({ soc }) => soc ?? []);
  const checks = [
    counterCheck(material),
    overLimitCheck(material),
    temperatureCheck(material),
    check('low-charge', lowest.length === 0 ? null : Math.min(...lowest) >= LOW_CHARGE, 'weakens', [
      'The charge stayed at 10 % or more.',
      'The charge was below 10 %, where many inverters give less: what held and what tripped applies only there.',
      'The charge is not noted, so nothing shows whether the output was limited for lack of it.',
    ]),
  ];
  const figures = {
    'trial.peakPower':
      peak === -Infinity ? untold('peakPower', noLoad) : read('peakPower', { value: peak, half: half(peak) }),
    'trial.headroom':
      peak === -Infinity || limitW === null
        ? untold(
            'headroom',
            limitW === null ? 'The inverter’s battery-only rating is not described in the system.' : noLoad,
          )
        : read('headroom', {
            value: limitW - peak,
            half: half(peak),
            lines: [line('battery-only rating', limitW, 'W'), line('− highest load held', peak, 'W')],
          }),
    'trial.legPeak':
      legPeak === -Infinity
        ? untold('legPeak', 'Powers of each leg (legW), or a log of them, would supply it.')
        : read('legPeak', { value: legPeak, half: half(legPeak) }),
    'trial.legImbalance':
      imbalance === -Infinity
        ? untold('legImbalance', 'Powers of two legs or more would supply it.')
        : read('legImbalance', { value: imbalance, half: Math.SQRT2 * accuracy.load, least: 0 }),
    'trial.tripPower':
      trip === Infinity
        ? untold('tripPower', 'Nothing tripped, or its load was not noted.')
        : read('tripPower', { value: trip, half: half(trip) }),
    'trial.combos.failing': read('combos.failing', { value: events.length, half: 0 }),
    'trial.restartDelay':
      restart === null
        ? untold('restartDelay', 'A trip and the restart after it, each with its time, would supply it.')
        : read('restartDelay', { value: restart, half: 1 / 60, least: 0 }),
    'trial.hours': read('hours', { value: material.hours, half: 0 }),
  };
  const last = events.at(-1);
  const isUnequal = limits.perLegW !== null && legPeak > limits.perLegW;
  return {
    figures,
    checks,
    steps: stepsOf(material),
    verdict:
      events.length > 0
        ? {
            code: 'tripped',
            message: `The output stopped or handed over ${times(events.length)}${last?.appliance ? `, last as ${last.appliance} came on` : ''}${trip < Infinity ? `, at ${Math.round(trip)} W${legs.length > 0 ? ' on the most loaded leg' : ''}` : ''}.${isUnequal ? ' A leg lay above its limit: move a load to the other one.' : ''} Find out why before the restart.`,
          }
        : peak === -Infinity
          ? { code: 'cannot-tell', message: noLoad }
          : {
              code: 'held',
              message: `${Math.round(peak)} W held${limitW === null ? '' : `, ${Math.round(limitW - peak)} W below the battery-only rating`}. A motor’s start may still ask for several times its running power.`,
            },
  };
}

/** The rise of each appliance over the reading before it. */
function stepsOf({ trial }: TrialMaterial): TrialStep[] {
  return trial.readings.flatMap((one, i) => {
    if (one.appliance === undefined && (one.event === undefined || one.event === 'none')) return [];
    const before = trial.readings[i - 1];
    const watts = (of: typeof one | undefined) => of?.loadW ?? (of?.legW ? sum(of.legW) : undefined);
    const [now, then] = [watts(one), watts(before)];
    return [
      {
        at: isoOf(one.atMs),
        appliance: one.appliance ?? null,
        riseW: now === undefined || then === undefined ? null : now - then,
        legRiseW: one.legW && before?.legW ? one.legW.map((leg, k) => leg - (before.legW![k] ?? 0)) : [],
        perUnit: one.perUnit ?? [],
        event: one.event ?? null,
      },
    ];
  });
}

function loggedLegs(material: TrialMaterial): number[][] {
  const courses = (['leg1', 'leg2', 'leg3'] as const)
    .map((leg) => loggedCourse(material, leg))
    .filter((own) => own.length > 0);
  return (courses[0] ?? []).map((_, i) => courses.flatMap((own) => own[i]?.value ?? []));
}

/** Hours from the first stop to the restart after it; null where either is not noted. */
export function restartDelayH({ trial }: TrialMaterial): number | null {
  const stop = trial.readings.find(({ event }) => event === 'trip' || event === 'low-charge');
  const restart = stop && trial.readings.find(({ event, atMs }) => event === 'restart' && atMs > stop.atMs);
  return stop && restart ? (restart.atMs - stop.atMs) / 3_600_000 : null;
}

function sum(values: readonly number[]): number {
  return values.reduce((total, value) => total + value, 0);
}
