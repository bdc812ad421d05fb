import { counted } from '../../model/counted.js';
import {
  estimated,
  insufficient,
  notMeasured,
  type Figure,
  type Method,
  type Unit,
} from '../../model/figure.js';
import type { Basis } from '../../model/basis.js';
import { WHOLE_HOME, type Held } from './scenario.js';
import { HORIZON_H, scenarioOutcome, USUAL_RESERVE, type ScenarioOutcome } from './scenarioOutcome.js';
import { startsOf } from './outageStarts.js';
import {
  runsOn,
  RUNTIME,
  runtime,
  homeStorage,
  type RunsOn,
  type HomeStorage,
} from '../shared/homeStorage.js';
import type { RangeData } from '../../passes/rangeData.js';

export const REPLAY = (share: number): Method => ({
  id: `outage.replay-p${Math.round(100 * share)}`,
  formula: `of all full hours as possible starts ${Math.round(100 * share)} % last no longer, measured load and sun carried on`,
  source: 'Runs that the log cuts off are censored: E. L. Kaplan, P. Meier, JASA 53 (1958).',
});
export const SURVIVE = (hours: number): Method => ({
  id: `outage.survive-${hours}h`,
  formula: `share of possible starts that last ${hours} h or more`,
  source: 'E. L. Kaplan, P. Meier, JASA 53 (1958).',
});
export const RESERVE: Method = {
  id: 'outage.reserve',
  formula: `least SOC from which ${100 * USUAL_RESERVE.chance} % of all full hours last ${USUAL_RESERVE.hours} h`,
  source: 'Common practice, no published source.',
};
/** Starts from fewer hours than a week has are those of one weather and one routine. */
const LEAST_STARTS = 7 * 24;
const NO_START = 'No full hour of this range has its load and state of charge known.';
const GAINS = 'load, capacity, charge and cut-off, by what is not known of them';

/** How long the home would last without the grid. */
export interface SurvivalOutcome {
  readonly figures: Readonly<Record<string, Figure>>;
  /** What a runtime is reckoned from; null where it is not known. */
  readonly runsOn: RunsOn | null;
  /** The whole home from every full hour; null where there is no replay. */
  readonly whole: ScenarioOutcome | null;
}

/** Replays every full hour of a range as the beginning of an outage. */
export function survivalOutcome(data: RangeData): SurvivalOutcome {
  const starts = startsOf(data);
  if ('reason' in starts) {
    const storage = homeStorage(data);
    return {
      figures: Object.fromEntries(
        FIGURES.map(({ key, unit, method }) => [key, notMeasured(unit, method, starts.reason)]),
      ),
      runsOn: storage && runsOn(storage),
      whole: null,
    };
  }
  const whole = scenarioOutcome(starts, WHOLE_HOME);
  return {
    figures: Object.fromEntries(
      FIGURES.map((figure) => [
        figure.key,
        figure.of ? told(figure, whole, starts.storage) : runtime(data, starts.storage),
      ]),
    ),
    runsOn: runsOn(starts.storage),
    whole,
  };
}

interface OfReplay {
  readonly key: string;
  readonly unit: Unit;
  readonly method: Method;
  /** Taken from the replay; none for the runtime now. */
  readonly of?: (course: ScenarioOutcome) => Held | null;
  readonly label?: string;
  /** Why there is none although there are starts. */
  readonly none?: string;
  readonly assumption?: string;
}

const lasts = (key: 'p10' | 'p50' | 'p90', share: number): OfReplay => ({
  key: `outage.replay.${key}`,
  unit: 'h',
  method: REPLAY(share),
  of: (course) => course[key],
  label: 'lasts',
  none: `More than ${Math.round(100 * (1 - share))} % of the starts last as long as the log, or the ${HORIZON_H / 24} days that are followed.`,
});
const survives = (hours: 12 | 24): OfReplay => ({
  key: `outage.survive.${hours}h`,
  unit: 'share',
  method: SURVIVE(hours),
  of: (course) => course[`survive${hours}`],
  label: `last ${hours} h or more`,
});
const FIGURES: readonly OfReplay[] = [
  lasts('p10', 0.1),
  lasts('p50', 0.5),
  lasts('p90', 0.9),
  survives(12),
  survives(24),
  {
    key: 'outage.reserve.12h90',
    unit: 'share',
    method: RESERVE,
    of: ({ reserve }) => reserve.all,
    label: 'reserve',
    none: `From more than a tenth of the hours even a full battery does not last ${USUAL_RESERVE.hours} h.`,
    assumption: 'With the sun that there was.',
  },
  { key: 'outage.runtime.now', unit: 'h', method: RUNTIME },
];

function told(
  { unit, method, of, label, none, assumption }: OfReplay,
  course: ScenarioOutcome,
  storage: HomeStorage,
): Figure {
  const basis: Basis = {
    starts: course.starts,
    censored: course.censored,
    horizonDays: HORIZON_H / 24,
  };
  if (course.starts === 0) return insufficient(unit, method, NO_START);
  if (course.starts < LEAST_STARTS)
    return insufficient(
      unit,
      method,
      `${counted(course.starts, 'hour')} of this range can begin an outage: too few to stand for other days. A week gives a first figure, a year one for every season.`,
      basis,
    );
  const held = of!(course);
  if (!held) return insufficient(unit, method, none!, basis);
  return estimated(held, {
    unit,
    method,
    basis,
    working: [
      ...storage.working,
      { label: label!, value: held.value, unit, role: 'result' },
      { label: GAINS, value: (held.high - held.low) / 2, unit, role: 'uncertainty' },
    ],
    assumptions: [...(assumption === undefined ? [] : [assumption]), ...storage.assumptions],
  });
}
