/** @jest-environment <rootDir>/jest.dom.mjs */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { scenarioOf, WHOLE_HOME, type Scenario, type ScenarioOutcome } from '@long-tally/core';
import { act, cleanup, renderHook } from '@testing-library/react';

interface Asked {
  readonly from: string;
  readonly names: readonly string[];
  readonly done: (name: string) => void;
  readonly end: () => void;
  readonly fail: () => void;
  readonly signal: AbortSignal;
}
const asked: Asked[] = [];
const outcome = (name: string) => ({ scenario: { name }, curve: [] }) as unknown as ScenarioOutcome;
jest.unstable_mockModule('../../workers/replayPool.js', () => ({
  runScenarios: (
    _at: unknown,
    from: string,
    _to: string,
    scenarios: readonly Scenario[],
    onDone: (index: number, course: ScenarioOutcome) => void,
    signal: AbortSignal,
  ) =>
    new Promise<void>((end, refuse: (error: Error) => void) => {
      const names = scenarios.map(({ name }) => name);
      asked.push({
        ...{ from, names, signal, end },
        done: (name) => onDone(names.indexOf(name), outcome(name)),
        fail: () => refuse(new Error('The worker is gone.')),
      });
    }),
}));
const { useScenarios } = await import('./useScenarios.js');

const ESSENTIALS = scenarioOf({ share: 0.5, capW: Infinity, without: [] });
const CAPPED = scenarioOf({ share: 1, capW: 1000, without: [] });
const AT = { homeId: 'home', revision: 3 };
const WHOLE = outcome(WHOLE_HOME.name);
const opened = (from = '2024-06-01', whole: ScenarioOutcome | null = WHOLE) =>
  renderHook(
    (props: { from: string; whole: ScenarioOutcome | null; options: readonly Scenario[] }) =>
      useScenarios(AT, props.from, '2024-06-30', props.options, props.whole),
    { initialProps: { from, whole, options: [WHOLE_HOME, ESSENTIALS, CAPPED] } },
  );
/** The range has been rested on for long enough. */
const rest = () => act(async () => jest.advanceTimersByTimeAsync(400));
const then = (step: () => void) =>
  act(async () => {
    step();
    await jest.advanceTimersByTimeAsync(0);
  });

beforeEach(() => {
  asked.length = 0;
  jest.useFakeTimers();
});
afterEach(() => {
  cleanup();
  jest.useRealTimers();
});

describe('the scenarios of an outage', () => {
  test('are begun when the range has been rested on, the whole home not again; each is there when it is done', async () => {
    const { result } = opened();
    expect([...result.current.courses.keys()]).toEqual([WHOLE_HOME.name]);
    await act(async () => jest.advanceTimersByTimeAsync(200));
    expect(asked).toEqual([]);
    await rest();
    expect(asked[0]!.names).toEqual([ESSENTIALS.name, CAPPED.name]);
    await then(() => asked[0]!.done(CAPPED.name));
    expect(result.current.courses.has(CAPPED.name)).toBe(true);
    expect(result.current.state).toBe('running');
    await then(() => {
      asked[0]!.done(ESSENTIALS.name);
      asked[0]!.end();
    });
    expect(result.current.state).toBe('done');
    expect(asked).toHaveLength(1);
  });

  test('wait for the whole home', async () => {
    const { result, rerender } = opened('2024-06-01', null);
    await rest();
    expect(asked).toEqual([]);
    expect(result.current.courses.size).toBe(0);
    rerender({ from: '2024-06-01', whole: WHOLE, options: [WHOLE_HOME, ESSENTIALS] });
    await rest();
    expect(asked).toHaveLength(1);
  });

  test('of another range are others: what runs is left, and nothing of it is shown', async () => {
    const { result, rerender } = opened();
    await rest();
    rerender({ from: '2024-05-01', whole: WHOLE, options: [WHOLE_HOME, ESSENTIALS, CAPPED] });
    expect(asked[0]!.signal.aborted).toBe(true);
    await rest();
    expect(asked.map(({ from }) => from)).toEqual(['2024-06-01', '2024-05-01']);
    await then(() => asked[1]!.done(CAPPED.name));
    expect([...result.current.courses.keys()].sort()).toEqual([CAPPED.name, WHOLE_HOME.name].sort());
    await then(() => asked[0]!.end());
    expect(result.current.state).toBe('running');
  });

  test('one more is run alone; those that are known stay', async () => {
    const { result, rerender } = opened();
    await rest();
    await then(() => {
      asked[0]!.done(CAPPED.name);
      asked[0]!.done(ESSENTIALS.name);
      asked[0]!.end();
    });
    const another = scenarioOf({ share: 0.25, capW: Infinity, without: [] });
    rerender({ from: '2024-06-01', whole: WHOLE, options: [WHOLE_HOME, ESSENTIALS, CAPPED, another] });
    await rest();
    expect(asked[1]!.names).toEqual([another.name]);
    expect(result.current.courses.size).toBe(3);
  });

  test('can be cancelled, and begun again', async () => {
    const { result } = opened();
    await rest();
    await then(() => result.current.cancel());
    expect(asked[0]!.signal.aborted).toBe(true);
    expect(result.current.state).toBe('cancelled');
    await then(() => result.current.again());
    await rest();
    expect(asked).toHaveLength(2);
    expect(result.current.state).toBe('running');
  });

  test('that fail say so', async () => {
    const { result } = opened();
    await rest();
    await then(() => asked[0]!.fail());
    expect(result.current.state).toBe('failed');
  });
});
