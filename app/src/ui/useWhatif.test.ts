/** @jest-environment <rootDir>/jest.dom.mjs */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { ScenarioFile } from '@long-tally/core';
import { act, cleanup, renderHook } from '@testing-library/react';
import { soon } from '../testing/soon.js';
import type { AskedOfModel } from './useWhatif.js';

type Answer = Record<string, unknown>;
/** What the worker was asked, in order, and how each question is answered. */
const asked: { readonly what: string; readonly answer: (by: Answer) => void; readonly fail: () => void }[] =
  [];
const ask = (what: string) =>
  new Promise((resolve, reject: (error: Error) => void) =>
    asked.push({ what, answer: resolve, fail: () => reject(new Error('gone')) }),
  );
jest.unstable_mockModule('../workers/client.js', () => ({
  askHome: (of: (home: object) => Promise<unknown>) =>
    of({
      whatifBase: (_at: unknown, from: string) => ask(`base from ${from}`),
      whatifScenario: (...[, , , { name }]: [unknown, unknown, unknown, ScenarioFile]) => ask(name),
      whatifPoint: (...[, , , { at }]: [unknown, unknown, unknown, { at: number[] }]) => ask(at.join(' ')),
    }),
}));
const { useWhatif } = await import('./useWhatif.js');

const scenario = (name: string): ScenarioFile => ({ schema: 'long-tally/scenario@1', name, change: {} });
const QUESTION: AskedOfModel = {
  at: { homeId: 'mill', revision: 1 },
  from: '2024-01-01',
  to: '2024-12-31',
  appliances: [],
  scenarios: [scenario('a'), scenario('b')],
  points: [{ at: [1], change: {}, tells: 'energies' }] as unknown as AskedOfModel['points'],
};
const opened = (question = QUESTION) =>
  renderHook((of: AskedOfModel) => useWhatif(of), { initialProps: question });
const questions = () => asked.map(({ what }) => what);
const answer = (k: number, by: Answer) => soon(() => asked[k]!.answer(by));

describe('the runs of a model', () => {
  beforeEach(() => void (asked.length = 0));
  afterEach(cleanup);

  test('come one after the other, each shown as it comes', async () => {
    const { result } = opened();
    expect(questions()).toEqual(['base from 2024-01-01']);
    expect(result.current).toMatchObject({ base: null, state: 'running', done: 0, of: 4 });
    await answer(0, { base: 'as it is' });
    expect(questions()).toEqual(['base from 2024-01-01', 'a']);
    expect(result.current.base).toEqual({ base: 'as it is' });
    await answer(1, { scenario: 'A' });
    await answer(2, { problem: 'no such array' });
    expect(result.current.scenarios).toEqual([{ scenario: 'A' }, { problem: 'no such array' }]);
    await answer(3, { point: 'one' });
    expect(result.current).toMatchObject({ points: [{ point: 'one' }], state: 'done', done: 4 });
  });

  test('stop with what is told why, where the home cannot be modelled', async () => {
    const { result } = opened();
    await answer(0, { problem: 'The load is not logged.' });
    expect(result.current).toMatchObject({ state: 'done', done: 1 });
    expect(questions()).toHaveLength(1);
  });

  test('are stopped, and go on where they were', async () => {
    const { result } = opened();
    await answer(0, { base: 1 });
    act(() => result.current.cancel());
    expect(result.current.state).toBe('cancelled');
    // What was under way when it was stopped is not kept, and nothing more is asked.
    await answer(1, { scenario: 'late' });
    expect(result.current.done).toBe(1);
    act(() => result.current.again());
    expect(questions().slice(2)).toEqual(['a']);
    await answer(2, { scenario: 'A' });
    expect(result.current).toMatchObject({ state: 'running', done: 2 });
  });

  test('say that they failed, and can be tried again', async () => {
    const { result } = opened();
    await soon(() => asked[0]!.fail());
    expect(result.current.state).toBe('failed');
    act(() => result.current.again());
    await answer(1, { base: 1 });
    expect(result.current).toMatchObject({ state: 'running', done: 1 });
  });

  test('ask for what is new alone when another scenario is chosen', async () => {
    const { result, rerender } = opened({ ...QUESTION, points: [] });
    await answer(0, { base: 1 });
    await answer(1, { scenario: 'A' });
    await answer(2, { scenario: 'B' });
    rerender({ ...QUESTION, points: [], scenarios: [scenario('b'), scenario('c')] });
    expect(result.current.scenarios).toEqual([{ scenario: 'B' }, null]);
    await soon(() => undefined);
    expect(questions().slice(3)).toEqual(['c']);
  });

  test('of another range begin anew, and answers of the one before are not shown', async () => {
    const { result, rerender } = opened();
    await answer(0, { base: 'before' });
    rerender({ ...QUESTION, from: '2024-06-01' });
    expect(result.current).toMatchObject({ base: null, done: 0 });
    await answer(1, { scenario: 'late' });
    expect(result.current.scenarios).toEqual([null, null]);
    expect(questions().at(-1)).toBe('base from 2024-06-01');
  });
});
