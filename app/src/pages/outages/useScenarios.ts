import { WHOLE_HOME, type Scenario, type ScenarioOutcome } from '@long-tally/core';
import { useEffect, useRef, useState } from 'react';
import type { At } from '../../protocol.js';
import { runScenarios } from '../../workers/replayPool.js';

/** So long a range must stay before its scenarios are begun. */
const SETTLED_MS = 300;

/** What is known of the scenarios of a range. */
export interface Compared {
  /** By name; missing while it is not done. */
  readonly courses: ReadonlyMap<string, ScenarioOutcome>;
  readonly state: 'running' | 'done' | 'cancelled' | 'failed';
  readonly cancel: () => void;
  readonly again: () => void;
}

/**
 * Begins an outage in every hour of a range for each scenario, in workers of their own.
 * @param whole the whole home, which is known already
 */
export function useScenarios(
  { homeId, revision }: At,
  from: string,
  to: string,
  scenarios: readonly Scenario[],
  whole: ScenarioOutcome | null,
): Compared {
  const range = `${homeId} ${revision} ${from} ${to}`;
  const [done, setDone] = useState<{ range: string; courses: ReadonlyMap<string, ScenarioOutcome> }>({
    range,
    courses: new Map(),
  });
  const [run, setRun] = useState(0);
  const [ended, setEnded] = useState<{ of: string; state: Compared['state'] } | null>(null);
  const controller = useRef<AbortController | null>(null);
  const known = done.range === range ? done.courses : null;
  const wanted = scenarios.map(({ name }) => name).join('\n');
  const of = `${range} ${wanted} ${run}`;
  useEffect(() => {
    const own = new AbortController();
    controller.current = own;
    const isLeft = () => own.signal.aborted;
    const begin = async () => {
      if (isLeft()) return;
      try {
        const missing = scenarios.filter(({ name }) => name !== WHOLE_HOME.name && !known?.has(name));
        if (missing.length > 0)
          await runScenarios(
            { homeId, revision },
            from,
            to,
            missing,
            (_index, course) =>
              setDone((before) => ({
                range,
                courses: new Map([
                  ...(before.range === range ? before.courses : []),
                  [course.scenario.name, course],
                ]),
              })),
            own.signal,
          );
        if (!isLeft()) setEnded({ of, state: 'done' });
      } catch {
        if (!isLeft()) setEnded({ of, state: 'failed' });
      }
    };
    const timer = whole ? setTimeout(() => void begin(), SETTLED_MS) : undefined;
    return () => {
      clearTimeout(timer);
      own.abort();
    };
    // What is known already changes while the scenarios run; it must not begin them again.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [of, whole === null]);
  const courses = new Map(known ?? []);
  if (whole) courses.set(WHOLE_HOME.name, whole);
  return {
    courses,
    state: ended?.of === of ? ended.state : 'running',
    cancel: () => {
      controller.current?.abort();
      setEnded({ of, state: 'cancelled' });
    },
    again: () => setRun(run + 1),
  };
}
