import type { Interval } from '../../model/figure.js';
import { offsetAt, zoneOf } from '../../time/zone.js';
import { flowColumns } from '../../passes/busColumns.js';
import { quantile } from '../../statistics/quantile.js';
import { counterCheck, overLimitCheck, temperatureCheck } from './commonChecks.js';
import { line, read, reckoned, untold } from './evaluated.js';
import { energyOf, loggedCourse, swingOf, typedCourse, type TrialMaterial } from './trialMaterial.js';
import { check, type TrialOutcome } from './trialResult.js';

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
/** Days before the run from which the usual course of a day is taken, and the least of them. */
const DAYS_BEFORE = 28;
const LEAST_DAYS = 7;
/** Where nothing tells how use changes from hour to hour: a mean of some hours is met within this share of it. */
const USE_OFF = 0.3;
/** A use so far is held to be no further from the usual one than this. */
const UNUSUAL = [0.4, 2.5] as const;
const USUAL_CUT_OFF = 0.05;
/** Charge that is too little to judge a fall by. */
const LEAST_FALL = 0.01;

/** A run without the grid: what was used so far, and the charge and the hours that are to be expected from here on. */
export function offGridRun(material: TrialMaterial): TrialOutcome {
  const { trial, fromMs, accuracy, configuration } = material;
  const course = checkpoints(material);
  const solar = energyOf(material, 'solarKWh');
  const load = energyOf(material, 'loadKWh');
  const delivered = energyOf(material, 'dischargeKWh');
  const swing = swingOf(material);
  const { usableWh } = configuration;
  const checks = [
    counterCheck(material),
    overLimitCheck(material),
    temperatureCheck(material),
    check(
      'below-cut-off',
      configuration.cutOff === null || course.length === 0
        ? null
        : course.at(-1)!.value >= configuration.cutOff,
      'weakens',
      [
        'It stayed above the cut-off.',
        'It went below the cut-off that the maker sets. Recharge now.',
        'The cut-off or the charge is not known.',
      ],
    ),
  ];
  const [first, last] = [course[0], course.at(-1)];
  const needed = 'The charge at the start and at a checkpoint would supply it.';
  const own = {
    'trial.solar': solar
      ? read('solar', {
          value: solar.kWh,
          half: Math.hypot(solar.half, accuracy.solar * solar.kWh),
          least: 0,
        })
      : untold('solar', 'A solar counter or a log would supply it.'),
    'trial.load': load
      ? read('load', { value: load.kWh, half: Math.hypot(load.half, accuracy.load * load.kWh), least: 0 })
      : untold('load', 'A load counter or a log would supply it.'),
    ...(delivered
      ? {
          'trial.delivered': read('delivered', {
            value: delivered.kWh,
            half: Math.hypot(delivered.half, accuracy.battery * delivered.kWh),
            least: 0,
          }),
        }
      : {}),
  };
  if (!first || !last || last.atMs <= first.atMs)
    return {
      figures: {
        ...own,
        ...Object.fromEntries(
          (['deltaSoc', 'projectedRuntime', 'socAtGoal', 'runtime', 'power.mean'] as const).map((key) => [
            `trial.${key}`,
            untold(key, needed),
          ]),
        ),
      },
      checks,
      verdict: { code: 'under-way', message: needed },
    };
  const elapsedH = (last.atMs - first.atMs) / HOUR_MS;
  const fall = first.value - last.value;
  const digit = swing?.digit ?? 0.01;
  // Of one display its own error mostly falls out of a difference; its digit does not.
  const fallHalf = Math.hypot(digit * Math.SQRT1_2, accuracy.soc * Math.min(1, Math.abs(fall)));
  const cutOff = configuration.cutOff ?? USUAL_CUT_OFF;
  const goalMs = trial.goal?.untilMs ?? (trial.goal?.hours ? fromMs + trial.goal.hours * HOUR_MS : null);
  const ahead = aheadOf(material, course, usableWh);
  const rate = fall / elapsedH;
  const empties = hoursTo(ahead, last, rate, fallHalf / elapsedH, last.value - cutOff);
  const toGoalH = goalMs === null ? null : (goalMs - last.atMs) / HOUR_MS;
  const goal =
    toGoalH === null ? null : goalCharge(ahead, last, rate, fallHalf / elapsedH, toGoalH, accuracy.soc);
  const meanW = usableWh === null ? NaN : (fall * usableWh) / elapsedH;
  const figures = {
    ...own,
    'trial.deltaSoc': read('deltaSoc', { value: Math.abs(fall), half: fallHalf, least: 0, most: 1 }),
    'trial.hours': read('hours', { value: elapsedH, half: 0 }),
    'trial.power.mean': Number.isNaN(meanW)
      ? untold('power.mean', 'A described capacity would supply it.')
      : reckoned('power.mean', {
          value: meanW,
          half: Math.abs(meanW) * Math.hypot(fallHalf / Math.max(LEAST_FALL, Math.abs(fall)), 0.05),
          lines: [
            line('fall of the charge × usable capacity', (fall * usableWh!) / 1000, 'kWh'),
            line('÷ time', elapsedH, 'h'),
          ],
        }),
    'trial.runtime': read('runtime', { value: elapsedH, half: 0 }),
    'trial.projectedRuntime':
      empties === null
        ? untold('projectedRuntime', 'The charge does not fall, so nothing tells when it would be gone.')
        : reckoned('projectedRuntime', {
            value: empties.value,
            ...bounds(empties),
            lines: [
              line('charge at the last checkpoint', last.value, 'share'),
              line('down to', cutOff, 'share'),
            ],
            assumptions: ahead
              ? ['Use as usual in those hours, as far as the run so far was as usual.']
              : ['Use as it was so far.'],
          }),
    'trial.socAtGoal':
      goal === null
        ? untold('socAtGoal', 'A goal with a time would supply it.')
        : reckoned('socAtGoal', {
            value: goal.value,
            ...bounds(goal),
            lines: [line('hours to the goal', toGoalH!, 'h')],
          }),
  };
  const wanted = trial.goal?.soc ?? cutOff;
  const isOver =
    goalMs !== null &&
    (last.atMs >= goalMs ||
      (trial.toMs !== null && trial.toMs >= goalMs && typedCourse(material, 'soc').length === 0));
  const isEmpty = last.value <= cutOff + digit / 2;
  return {
    figures,
    checks,
    verdict: verdictOf(isOver, isEmpty, last.value, wanted, goal, empties, goalMs !== null),
  };
}

/** Bounds that are not alike on both sides, as half-widths of their own. */
function bounds({ value, low, high }: Interval) {
  return { half: Math.max(high - value, value - low), least: low, most: high };
}

function checkpoints(material: TrialMaterial): { atMs: number; value: number }[] {
  const typed = typedCourse(material, 'soc');
  return typed.length >= 2 ? typed : loggedCourse(material, 'soc');
}

/** Fall of the charge in each hour of the day, from days before the run, brought to the use of the run so far. */
interface Ahead {
  /** Share of full an hour, by hour of the site's day: a usual day, and a tenth of days on either side. */
  readonly usual: Float64Array;
  readonly low: Float64Array;
  readonly high: Float64Array;
  readonly scale: number;
  readonly hourAt: (ms: number) => number;
}

function aheadOf(
  material: TrialMaterial,
  course: readonly { atMs: number; value: number }[],
  usableWh: number | null,
): Ahead | null {
  const { log, fromMs, system } = material;
  if (!log || usableWh === null) return null;
  const { load, solar } = flowColumns(log);
  if (!load) return null;
  const zone = zoneOf(system.timeZone);
  const hourAt = (ms: number) => new Date(ms + offsetAt(zone, ms)).getUTCHours();
  const hasSun = course.length > 0 && loggedCourse(material, 'solar').some(({ value }) => value > 50);
  const byHour = Array.from({ length: 24 }, () => new Map<number, { sum: number; count: number }>());
  for (let i = 0; i < log.count; i++) {
    const ms = log.startMs + i * log.stepMs;
    if (ms >= fromMs) break;
    if (ms < fromMs - DAYS_BEFORE * DAY_MS || load[i] !== load[i]) continue;
    const net = load[i]! - (hasSun && solar && solar[i] === solar[i] ? solar[i]! : 0);
    const days = byHour[hourAt(ms)]!;
    const day = Math.floor(ms / DAY_MS);
    const own = days.get(day) ?? { sum: 0, count: 0 };
    own.sum += net;
    own.count++;
    days.set(day, own);
  }
  if (byHour.some((days) => days.size < LEAST_DAYS)) return null;
  const at = (p: number) =>
    Float64Array.from(byHour, (days) =>
      quantile(Float64Array.from([...days.values()], ({ sum, count }) => sum / count / usableWh).sort(), p),
    );
  const usual = at(0.5);
  const [first, last] = [course[0]!, course.at(-1)!];
  const expected = fallBetween(usual, hourAt, first.atMs, last.atMs);
  const came = first.value - last.value;
  const scale = expected > LEAST_FALL ? Math.min(UNUSUAL[1], Math.max(UNUSUAL[0], came / expected)) : 1;
  return { usual, low: at(0.1), high: at(0.9), scale, hourAt };
}

function fallBetween(
  byHour: Float64Array,
  hourAt: (ms: number) => number,
  fromMs: number,
  toMs: number,
): number {
  let sum = 0;
  for (let ms = fromMs; ms < toMs; ms += HOUR_MS / 4)
    sum += (byHour[hourAt(ms)]! * Math.min(HOUR_MS / 4, toMs - ms)) / HOUR_MS;
  return sum;
}

/** Hours until so much charge is gone; null where it does not fall. */
function hoursTo(
  ahead: Ahead | null,
  last: { readonly atMs: number },
  rate: number,
  rateHalf: number,
  left: number,
): Interval | null {
  if (left <= 0) return { value: 0, low: 0, high: 0 };
  if (!ahead) {
    if (rate <= 0) return null;
    const half = Math.hypot(rateHalf, USE_OFF * rate);
    return { value: left / rate, low: left / (rate + half), high: left / Math.max(rate * 0.3, rate - half) };
  }
  const until = (byHour: Float64Array, factor: number) => {
    let rest = left;
    for (let k = 0; k < 14 * 96; k++) {
      rest -= (byHour[ahead.hourAt(last.atMs + (k * HOUR_MS) / 4)]! * factor) / 4;
      if (rest <= 0) return (k + 1) / 4;
    }
    return 14 * 24;
  };
  const value = until(ahead.usual, ahead.scale);
  const fast = until(mixed(ahead.usual, ahead.high), ahead.scale * 1.1);
  const slow = until(mixed(ahead.usual, ahead.low), ahead.scale * 0.9);
  return { value, low: Math.min(value, fast), high: Math.max(value, slow) };
}

/** Days do not keep to a tenth of days hour after hour: halfway between the usual and it. */
function mixed(usual: Float64Array, other: Float64Array): Float64Array {
  return usual.map((value, hour) => (value + other[hour]!) / 2);
}

function goalCharge(
  ahead: Ahead | null,
  last: { readonly atMs: number; readonly value: number },
  rate: number,
  rateHalf: number,
  hours: number,
  socOff: number,
): Interval {
  const held = (value: number, low: number, high: number): Interval => ({
    value: Math.min(1, Math.max(0, value)),
    low: Math.min(1, Math.max(0, low - socOff / 2)),
    high: Math.min(1, Math.max(0, high + socOff / 2)),
  });
  if (hours <= 0) return held(last.value, last.value, last.value);
  if (!ahead) {
    const half = Math.hypot(rateHalf, USE_OFF * Math.abs(rate)) * hours;
    const value = last.value - rate * hours;
    return held(value, value - half, value + half);
  }
  const fall = (byHour: Float64Array) =>
    ahead.scale * fallBetween(byHour, ahead.hourAt, last.atMs, last.atMs + hours * HOUR_MS);
  const value = last.value - fall(ahead.usual);
  const own = Math.abs(fall(ahead.usual)) * 0.15;
  return held(
    value,
    last.value - fall(mixed(ahead.usual, ahead.high)) - own,
    last.value - fall(mixed(ahead.usual, ahead.low)) + own,
  );
}

function verdictOf(
  isOver: boolean,
  isEmpty: boolean,
  soc: number,
  wanted: number,
  goal: Interval | null,
  empties: Interval | null,
  hasGoal: boolean,
) {
  const percent = (share: number) => `${Math.round(100 * share)} %`;
  if (isOver && soc >= wanted && !isEmpty)
    return {
      code: 'reached',
      message: `The goal is reached with ${percent(soc)} left. Recharge the same day.`,
    };
  if (isOver || isEmpty)
    return {
      code: 'missed',
      message: isEmpty
        ? 'The charge ran out before the goal. Recharge now; do not leave a battery empty.'
        : `The goal's time came with ${percent(soc)}, below the ${percent(wanted)} that were wanted.`,
    };
  const left = empties
    ? ` It lasts about ${empties.value.toFixed(1)} h more (${empties.low.toFixed(1)} to ${empties.high.toFixed(1)}).`
    : '';
  if (!hasGoal || goal === null) return { code: 'under-way', message: `${percent(soc)} left.${left}` };
  const likely =
    goal.low >= wanted
      ? 'It will be reached'
      : goal.value >= wanted
        ? 'It will probably be reached'
        : goal.high >= wanted
          ? 'It may not be reached'
          : 'It will not be reached';
  return {
    code: 'under-way',
    message: `${percent(soc)} left. ${likely}: ${percent(goal.value)} at the goal (${percent(goal.low)} to ${percent(goal.high)}).${left}`,
  };
}
