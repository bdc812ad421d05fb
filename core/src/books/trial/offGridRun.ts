import type { Interval } from '../../model/figure.js';
import { counterCheck, overLimitCheck, temperatureCheck } from './commonChecks.js';
import { line, read, reckoned, untold } from './evaluated.js';
import { aheadOf, goalCharge, hoursTo, LEAST_FALL } from './projection.js';
import { runAdvice } from './runAdvice.js';
import { energyOf, loggedCourse, swingOf, typedCourse, type TrialMaterial } from './trialMaterial.js';
import { check, type TrialOutcome } from './trialResult.js';

const HOUR_MS = 3_600_000;
const USUAL_CUT_OFF = 0.05;

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
        ? untold('projectedRuntime', 'The charge does not fall, so nothing shows when it would be gone.')
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
    advice:
      isOver || isEmpty
        ? []
        : runAdvice(material, course, { ahead, rate, rateHalf: fallHalf / elapsedH, cutOff }),
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
