/** @jest-environment <rootDir>/jest.dom.mjs */
import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import { configureStore } from '@reduxjs/toolkit';

/** What the worker was asked; each question is answered by its own name unless something else is set. */
const asked: [what: string, ...given: unknown[]][] = [];
let answers: (what: string) => unknown = (what) => ({ what });
const home = new Proxy(
  {},
  {
    get:
      (_home, what: string) =>
      (...given: unknown[]) => {
        asked.push([what, ...given]);
        return Promise.resolve().then(() => answers(what));
      },
  },
);
jest.unstable_mockModule('../workers/client.js', () => ({
  askHome: (of: (worker: object) => Promise<unknown>) => of(home),
}));
const { api, atOf } = await import('./api.js');

const newStore = () =>
  configureStore({
    reducer: { [api.reducerPath]: api.reducer },
    middleware: (defaults) => defaults({ serializableCheck: false }).concat(api.middleware),
  });
const AT = { homeId: 'mill', revision: 7 };
const RANGE = { at: AT, from: '2024-01-01', to: '2024-01-31' };

describe('the questions of the interface', () => {
  beforeEach(() => {
    asked.length = 0;
    answers = (what) => ({ what });
  });

  const { endpoints } = api;
  test.each([
    [endpoints.overview.initiate('mill'), ['overview', 'mill']],
    [endpoints.report.initiate(RANGE), ['report', AT, '2024-01-01', '2024-01-31']],
    [endpoints.losses.initiate(RANGE), ['losses', AT, '2024-01-01', '2024-01-31']],
    [endpoints.wear.initiate(RANGE), ['wear', AT, '2024-01-01', '2024-01-31']],
    [endpoints.money.initiate(RANGE), ['money', AT, '2024-01-01', '2024-01-31']],
    [endpoints.outages.initiate(RANGE), ['outages', AT, '2024-01-01', '2024-01-31']],
    [endpoints.parts.initiate(RANGE), ['parts', AT, '2024-01-01', '2024-01-31']],
    [endpoints.surplus.initiate(RANGE), ['surplus', AT, '2024-01-01', '2024-01-31']],
    [endpoints.statement.initiate(RANGE), ['statement', AT, '2024-01-01', '2024-01-31']],
    [
      endpoints.reserve.initiate({ ...RANGE, hours: 12, chance: 0.9 }),
      ['reserve', AT, '2024-01-01', '2024-01-31', 12, 0.9],
    ],
    [
      endpoints.settings.initiate({ ...RANGE, hours: 6, chance: 0.8 }),
      ['settings', AT, '2024-01-01', '2024-01-31', 6, 0.8],
    ],
    [
      endpoints.storm.initiate({ ...RANGE, moment: '2024-01-20T18:00' }),
      ['storm', AT, '2024-01-01', '2024-01-31', '2024-01-20T18:00'],
    ],
    [
      endpoints.reconciliation.initiate({ ...RANGE, stated: 0.98 }),
      ['reconciliation', AT, '2024-01-01', '2024-01-31', 0.98],
    ],
    [endpoints.outage.initiate({ at: AT, fromMs: 5 }), ['outage', AT, 5]],
    [endpoints.stop.initiate({ at: AT, atMs: 6 }), ['stop', AT, 6]],
    [endpoints.day.initiate({ at: AT, date: '2024-01-05' }), ['day', AT, '2024-01-05']],
    [endpoints.headlines.initiate(AT), ['headlines', 'mill']],
    [endpoints.checks.initiate(AT), ['checks', AT]],
    [endpoints.trialStretches.initiate(AT), ['trialStretches', AT]],
    [endpoints.trialWorth.initiate(AT), ['trialWorth', AT]],
    [endpoints.trialResults.initiate({ at: AT, files: [] }), ['trialResults', AT, []]],
  ] as const)('go to the worker as they are asked: %#', async (question, call) => {
    const { data } = await newStore().dispatch(question as ReturnType<typeof endpoints.report.initiate>);
    expect(asked).toEqual([call]);
    expect(data).toEqual({ what: call[0] });
  });

  test('are asked once for a revision of a home, and again for the next', async () => {
    const { dispatch } = newStore();
    await dispatch(endpoints.report.initiate(RANGE));
    await dispatch(endpoints.report.initiate({ ...RANGE }));
    expect(asked).toHaveLength(1);
    await dispatch(endpoints.report.initiate({ ...RANGE, at: { ...AT, revision: 8 } }));
    expect(asked).toHaveLength(2);
  });

  test('that fail say why, and stay to be asked again', async () => {
    answers = () => {
      throw new Error('The home is not stored any more.');
    };
    const { dispatch } = newStore();
    const { error, data } = await dispatch(endpoints.report.initiate(RANGE));
    expect(error).toEqual({ message: 'The home is not stored any more.' });
    expect(data).toBeUndefined();
    answers = () => ({ days: 31 });
    const again = await dispatch(endpoints.report.initiate(RANGE, { forceRefetch: true }));
    expect(again.data).toEqual({ days: 31 });
  });

  test('are answered with what nobody can write to', async () => {
    const { data } = await newStore().dispatch(endpoints.report.initiate(RANGE));
    expect(Object.isFrozen(data)).toBe(true);
  });

  test('are of a home as its overview showed it', () => {
    const shown = { id: 'mill', revision: 3, addedAt: 0, savedAt: null, savedRevision: null };
    expect(atOf(shown as unknown as Parameters<typeof atOf>[0])).toEqual({ homeId: 'mill', revision: 3 });
  });
});
