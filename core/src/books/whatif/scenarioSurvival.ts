import { kaplanMeier, survivalAt } from '../../statistics/kaplanMeier.js';
import type { Demand } from '../../storage/compose.js';
import type { Run } from '../../storage/replay.js';
import { firstOfEach, stepMeans, type Starts } from '../outage/outageStarts.js';
import { scenarioOf, WHOLE_HOME, type Scenario } from '../outage/scenario.js';
import { demandOf, EXACT, replayed } from '../outage/scenarioOutcome.js';
import { idleOf } from './modelHome.js';
import type { Change } from './scenarioFile.js';
import type { CarriedOutages, Model, Modelled } from './scenarioValues.js';

/** Hours for which an outage is followed. */
const HORIZON_H = 24;

/** Share of possible outages that a home carries. */
export interface ScenarioSurvival extends CarriedOutages {
  /** 24 hours, by the month of the year in which the outage begins; null where none does. */
  readonly byMonth: readonly (number | null)[];
}

/**
 * From what an outage is begun in every hour of a run: with the charge that the run has there, its load, and the sun as it
 * could have been, since what was held back for want of room is there for a home that has the room. Null where the log does not tell.
 */
export function startsOfRun(
  { starts, inputs: { startMs, stepMs } }: Model,
  { home, load, sun, run }: Modelled,
): Starts | null {
  if (!starts) return null;
  const skip = Math.round((starts.startMs - startMs) / stepMs);
  const cells = Math.round(starts.stepMs / stepMs);
  const part = (values: Float64Array) => values.subarray(skip, skip + cells * starts.load.length);
  return {
    ...starts,
    load: stepMeans(part(load), cells),
    solar: stepMeans(part(sun), cells),
    soc: firstOfEach(part(run.courses.soc), cells),
    perLegW: home.perLegW,
    storage: {
      ...starts.storage,
      fullWh: home.fullWh,
      cutOff: home.cutOff,
      perLegW: home.perLegW,
      parameters: {
        ...starts.storage.parameters,
        capacityWh: home.fullWh * (1 - home.cutOff),
        idleW: idleOf(home),
        chargeW: home.chargeW,
        limitW: home.batteryOnlyW,
      },
    },
  };
}

/** Outages begun in every hour of a run, and what has to be carried through them. */
export interface RunOutages {
  readonly starts: Starts;
  readonly scenario: Scenario;
  readonly demand: Demand;
}

/** The outages of a run; null where the log does not tell. */
export function outagesOf(model: Model, modelled: Modelled): RunOutages | null {
  const starts = startsOfRun(model, modelled);
  if (!starts) return null;
  const scenario = carriedBy(modelled.change);
  return { starts, scenario, demand: demandOf(starts, scenario) };
}

/**
 * How often outages are carried; null where the log does not tell.
 * @param capacity of the battery, as a share of the run's own
 */
export function survivalOf(outages: RunOutages | null, capacity = 1): ScenarioSurvival | null {
  if (!outages) return null;
  const { starts, scenario, demand } = outages;
  if (starts.storage.fullWh === 0)
    return { survive12: 0, survive24: 0, byMonth: new Array<number>(12).fill(0) };
  const { runs, curve } = replayed(starts, scenario, demand, { ...EXACT, capacity }, HORIZON_H);
  const byMonth = Array.from({ length: 12 }, (): Run[] => []);
  for (let hour = 0; hour < runs.length; hour++) {
    const one = runs[hour];
    if (one) byMonth[starts.months[hour]!]!.push(one);
  }
  return {
    survive12: survivalAt(curve, 12),
    survive24: survivalAt(curve, 24),
    byMonth: byMonth.map((begun) => (begun.length > 0 ? survivalAt(kaplanMeier(begun), 24) : null)),
  };
}

/** What of the home an outage has to be carried for. */
function carriedBy({ outage = {} }: Change): Scenario {
  const { share = WHOLE_HOME.share, capKW, without = WHOLE_HOME.without } = outage;
  return scenarioOf({ share, capW: capKW === undefined ? WHOLE_HOME.capW : 1000 * capKW, without });
}
