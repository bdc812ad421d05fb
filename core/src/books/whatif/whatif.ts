import type { Figure } from '../../model/figure.js';
import type { Range } from '../../model/range.js';
import type { Prepared } from '../../passes/prepare.js';
import type { Appliance } from '../trial/combinations.js';
import type { InverterCounts } from './inverterCounts.js';
import type { ScenarioFile } from './scenarioFile.js';
import { scenarioRunner, type WhatifBase, type WhatifScenario } from './scenarioRunner.js';
import {
  changeAt,
  crossedOf,
  kneeOf,
  LEAST_GAIN,
  reachOf,
  type Knee,
  type Reach,
  type Sweep,
  type SweepPoint,
} from './sweeps.js';

/** What a what-if is asked. */
export interface WhatifAsked {
  readonly scenarios: readonly ScenarioFile[];
  readonly sweep: Sweep | null;
  /** A second quantity that is swept with every value of the first. */
  readonly by: Sweep | null;
  /** Whose starts an inverter has to carry. */
  readonly appliances: readonly Appliance[];
  /** What a step of the sweep has to add to self-sufficiency to be worth taking, as a share of the load. */
  readonly leastGain: number;
}

/** What scenarios would change, `long-tally/whatif@1`. */
export interface Whatif {
  readonly schema: 'long-tally/whatif@1';
  readonly base: WhatifBase;
  readonly scenarios: readonly WhatifScenario[];
  readonly sweep: readonly SweepPoint<number>[];
  readonly knee: Knee | null;
  /** Where a sweep first has so many of its days without the grid; null where there is no grid or no sweep. */
  readonly reach: Reach | null;
  /** Two quantities swept over each other; empty where one is. */
  readonly grid: readonly SweepPoint<readonly [number, number]>[];
  readonly inverters: InverterCounts | null;
}

/**
 * Runs the home of a range as it is and as scenarios would make it.
 * @param logged figures of the range's report
 * @throws InputError where the home cannot be modelled, or a scenario names what it has not
 */
export function whatif(
  prepared: Prepared,
  range: Range,
  logged: Readonly<Record<string, Figure>>,
  { scenarios = [], sweep = null, by = null, appliances = [], leastGain = LEAST_GAIN }: Partial<WhatifAsked>,
): Whatif {
  const runner = scenarioRunner(prepared, range, logged);
  const points = (sweep?.values ?? []).map((at) =>
    runner.point(at, changeAt(sweep!.key, at), `${sweep!.key}=${at}`, sweep!.tells),
  );
  const crossed = sweep && by ? crossedOf(sweep, by) : [];
  return {
    schema: 'long-tally/whatif@1',
    base: runner.base,
    scenarios: scenarios.map(runner.scenario),
    sweep: points,
    knee: kneeOf(sweep?.key ?? '', points, leastGain),
    reach: sweep && runner.hasGrid ? reachOf(sweep.key, points) : null,
    grid: crossed.map(({ at, change }) => runner.point(at, change, at.join(' and '), 'energies')),
    inverters: runner.inverters(appliances),
  };
}
