import type { Appliance, ScenarioFile, SweepPoint, WhatifScenario } from '@long-tally/core';
import { startTransition, useEffect, useRef, useState } from 'react';
import type { AskedPoint, OrProblem, WhatifBaseAnswer } from '../protocol.js';
import type { Ranged } from '../store/api.js';
import { askHome } from '../workers/client.js';

/** What is asked of the model of a range. */
export interface AskedOfModel extends Ranged {
  readonly appliances: readonly Appliance[];
  readonly scenarios: readonly ScenarioFile[];
  readonly points: readonly AskedPoint[];
}

/** Answers by what was asked, as text. */
type Answers = ReadonlyMap<string, unknown>;

/** What is known of it, and how far it has come. */
export interface ModelRuns {
  /** Null while it is under way. */
  readonly base: OrProblem<WhatifBaseAnswer> | null;
  /** In their order; null where one is under way. */
  readonly scenarios: readonly (OrProblem<{ readonly scenario: WhatifScenario }> | null)[];
  readonly points: readonly (OrProblem<{ readonly point: SweepPoint<readonly number[]> }> | null)[];
  readonly state: 'running' | 'done' | 'cancelled' | 'failed';
  readonly done: number;
  readonly of: number;
  readonly cancel: () => void;
  readonly again: () => void;
}

const NONE: Answers = new Map();

/**
 * Runs the home of a range through its model: as it is, then each scenario, then each point, one after the other, so that
 * what is done is shown and the rest can be stopped. What is known of a range is not asked for again.
 */
export function useWhatif({ at, from, to, appliances, scenarios, points }: AskedOfModel): ModelRuns {
  const range = `${at.homeId} ${at.revision} ${from} ${to}`;
  const [held, setHeld] = useState({ range, answers: NONE });
  const [run, setRun] = useState(0);
  const [ended, setEnded] = useState<{ of: string; state: ModelRuns['state'] } | null>(null);
  const controller = useRef<AbortController | null>(null);
  const answers = held.range === range ? held.answers : NONE;
  const baseKey = JSON.stringify(appliances);
  const scenarioKeys = scenarios.map((one) => JSON.stringify(one));
  const pointKeys = points.map((one) => JSON.stringify(one));
  const keys = [baseKey, ...scenarioKeys, ...pointKeys];
  const of = `${range} ${run} ${keys.join('\n')}`;
  useEffect(() => {
    const own = new AbortController();
    controller.current = own;
    // What comes one after the other is drawn bit by bit: the page goes on meanwhile.
    const keep = (key: string, answer: unknown) =>
      startTransition(() =>
        setHeld((before) => ({
          range,
          answers: new Map([...(before.range === range ? before.answers : []), [key, answer]]),
        })),
      );
    const begin = async () => {
      const tasks = [
        () => askHome<unknown>((home) => home.whatifBase(at, from, to, appliances)),
        ...scenarios.map((one) => () => askHome<unknown>((home) => home.whatifScenario(at, from, to, one))),
        ...points.map((one) => () => askHome<unknown>((home) => home.whatifPoint(at, from, to, one))),
      ];
      const isLeft = () => own.signal.aborted;
      try {
        for (const [k, ask] of tasks.entries()) {
          const key = keys[k]!;
          const known = answers.get(key);
          const answer = known ?? (await ask());
          if (isLeft()) return;
          if (!known) keep(key, answer);
          // Without a model there is nothing to run.
          if (k === 0 && 'problem' in (answer as object)) break;
        }
        startTransition(() => setEnded({ of, state: 'done' }));
      } catch {
        if (!isLeft()) setEnded({ of, state: 'failed' });
      }
    };
    void begin();
    return () => own.abort();
    // What is known already grows while it runs; it must not begin again.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [of]);
  const answerTo = (key: string) => answers.get(key) ?? null;
  return {
    base: answerTo(baseKey) as ModelRuns['base'],
    scenarios: scenarioKeys.map(answerTo) as unknown as ModelRuns['scenarios'],
    points: pointKeys.map(answerTo) as unknown as ModelRuns['points'],
    state: ended?.of === of ? ended.state : 'running',
    done: keys.filter((key) => answers.has(key)).length,
    of: keys.length,
    cancel: () => {
      controller.current?.abort();
      setEnded({ of, state: 'cancelled' });
    },
    again: () => setRun(run + 1),
  };
}
