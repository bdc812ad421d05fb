import type { Configuration, SweepPoint } from '@long-tally/core';
import type { Home } from '../../db/database.js';
import type { ModelRuns } from '../../ui/useWhatif.js';
import { localized } from '../../ui/localized.js';
import { AfterPaint } from '../../ui/AfterPaint.js';
import { AnotherYear } from './AnotherYear.js';
import { Courses } from './Courses.js';
import { CROSSINGS, type CrossedWith } from './crossings.js';
import { Differences } from './Differences.js';
import { Inverters } from './Inverters.js';
import { MonthTable } from './MonthTable.js';
import { Proposals } from './Proposals.js';
import { Crossed } from './Crossed.js';
import { Sweep } from './Sweep.js';
import { trustOf, verdictOf } from './verdict.js';

interface Props {
  readonly runs: ModelRuns;
  readonly home: Home;
  readonly configuration: Configuration;
  /** Scenarios that are chosen, and points of the sweep over modules. */
  readonly chosen: number;
  readonly swept: number;
  readonly hasAppliances: boolean;
  readonly crossed: CrossedWith;
}

/** What the model says, as far as it has come: the verdict first, in words, and what it rests on. */
export function Answer({ runs, home, configuration, chosen, swept, hasAppliances, crossed }: Props) {
  const currency = home.system.currency ?? '';
  const modules = configuration.described?.battery?.modules ?? 1;
  const scenarios = runs.scenarios.flatMap((one) => (one && 'scenario' in one ? [one.scenario] : []));
  const problems = runs.scenarios.flatMap((one) => (one && 'problem' in one ? [one.problem] : []));
  const points = runs.points.flatMap((one) => (one && 'point' in one ? [one.point] : []));
  const modulePoints = points.flatMap(({ at, ...point }): SweepPoint<number>[] =>
    at.length === 1 ? [{ ...point, at: at[0]! }] : [],
  );
  const grid = points.filter(({ at }) => at.length === 2);
  return (
    <>
      <Progress runs={runs} />
      {problems.map((problem) => (
        <p key={problem} role="alert" className="mt-2 max-w-4xl">
          {localized(problem)}
        </p>
      ))}
      {runs.base && 'problem' in runs.base && (
        <p role="alert" className="mt-3 max-w-4xl">
          {localized(runs.base.problem)}
        </p>
      )}
      {runs.base && 'base' in runs.base && (
        <>
          {scenarios.map((scenario) => (
            <p key={scenario.name} className="my-2 max-w-4xl text-[15px]">
              <b>{scenario.name}</b>: {verdictOf(scenario, currency)}{' '}
              {scenario.payback && localized(scenario.payback.says)}
            </p>
          ))}
          {chosen === 0 && <p className="my-2 max-w-4xl text-[15px]">Choose at the side what to change.</p>}
          <p className="my-2 max-w-4xl">{trustOf(runs.base.base)}</p>
          {runs.base.base.causes.map((cause) => (
            <p key={cause} className="my-2 max-w-4xl">
              {localized(cause)}
            </p>
          ))}
          <Proposals proposals={runs.base.base.proposals} {...{ home, configuration }} />
          <Differences base={runs.base.base} scenarios={scenarios} currency={currency} />
          <AfterPaint>
            <AnotherYear scenarios={scenarios} currency={currency} />
            <Courses
              base={runs.base.base}
              scenarios={scenarios}
              hasGrid={runs.base.hasGrid}
              timeZone={home.system.timeZone}
            />
            <AfterPaint>
              <MonthTable base={runs.base.base} scenarios={scenarios} />
              {modulePoints.length > 0 && (
                <Sweep
                  points={modulePoints}
                  modules={modules}
                  hasGrid={runs.base.hasGrid}
                  isDone={modulePoints.length === swept}
                />
              )}
              {crossed !== 'nothing' && grid.length > 0 && (
                <Crossed
                  grid={grid}
                  crossing={CROSSINGS[crossed]}
                  tellsReach={runs.base.hasGrid && grid.length === swept * CROSSINGS[crossed].values.length}
                />
              )}
              {runs.base.inverters && (
                <Inverters inverters={runs.base.inverters} homeId={home.id} hasAppliances={hasAppliances} />
              )}
            </AfterPaint>
          </AfterPaint>
        </>
      )}
    </>
  );
}

/** How far the runs have come, with a way to stop them and to go on. */
function Progress({ runs: { state, done, of, cancel, again } }: { readonly runs: ModelRuns }) {
  return (
    <p role="status" className="mt-2 flex min-h-6 flex-wrap items-baseline gap-x-4 text-faint">
      {state === 'running' && (
        <>
          <span>
            Running the load and the sun of the range through the model: {done} of {of} …
          </span>
          <button type="button" className="quiet" onClick={cancel}>
            Stop
          </button>
        </>
      )}
      {state === 'cancelled' && done < of && (
        <>
          <span>
            Stopped after {done} of {of} runs.
          </span>
          <button type="button" className="quiet" onClick={again}>
            Go on
          </button>
        </>
      )}
      {state === 'failed' && (
        <>
          <span>The model could not be run. Nothing that is stored has changed.</span>
          <button type="button" className="quiet" onClick={again}>
            Try again
          </button>
        </>
      )}
    </p>
  );
}
