/** @jest-environment <rootDir>/jest.dom.mjs */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { RollDay } from '@long-tally/core';
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { createElement } from 'react';
import { Provider } from 'react-redux';
import { createMemoryRouter, RouterProvider } from 'react-router';
import type { Home } from '../db/database.js';
import type { Roll } from '../protocol.js';
import { SYSTEM } from '../db/testing.js';
import { newHome } from '../db/homes.js';
import { soon } from '../testing/soon.js';

const asked: { readonly from: string; readonly answer: (by: unknown) => void; readonly fail: () => void }[] =
  [];
jest.unstable_mockModule('../workers/client.js', () => ({
  askHome: (of: (home: object) => Promise<unknown>) =>
    of({
      report: (_at: unknown, from: string) =>
        new Promise((answer, refuse: (error: Error) => void) =>
          asked.push({ from, answer, fail: () => refuse(new Error('The log is gone.')) }),
        ),
    }),
}));
jest.unstable_mockModule('./WorkingPanel.js', () => ({
  WorkingPanel: ({ figureKey }: { readonly figureKey: string }) => `The working of ${figureKey}`,
}));
const { store } = await import('../store/store.js');
const { api } = await import('../store/api.js');
const { workingOpened } = await import('../store/selection.js');
const { useRangeReport } = await import('./useRangeReport.js');
const { useWorking } = await import('./useWorking.js');

const days = Array.from({ length: 60 }, (_, day) => ({
  date: new Date(Date.UTC(2024, 0, 1 + day)).toISOString().slice(0, 10),
  coverage: 1,
})) as unknown as RollDay[];

/** Something of a view, within what every view stands in. */
function shown(view: () => React.ReactNode): void {
  const router = createMemoryRouter([{ path: '*', element: createElement(view) }], {
    initialEntries: ['/?from=2024-01-01&to=2024-01-31'],
  });
  render(createElement(Provider, { store, children: createElement(RouterProvider, { router }) }));
}

beforeEach(() => {
  asked.length = 0;
  store.dispatch(api.util.resetApiState());
});
afterEach(cleanup);

describe('the report of a range', () => {
  function opened() {
    const home: Home = newHome(SYSTEM, 'mill');
    let reading: ReturnType<typeof useRangeReport> | undefined;
    shown(() => {
      reading = useRangeReport(home, { days } as unknown as Roll);
      return null;
    });
    return () => reading!;
  }

  test('is asked for as soon as a range is chosen; the last one stays until it is there', async () => {
    const reading = opened();
    await soon(() => asked[0]!.answer({ says: 'January' }));
    expect(reading().last).toMatchObject({ report: { says: 'January' }, range: { from: 0, to: 30 } });
    await soon(() => reading().select({ from: 31, to: 59 }));
    expect(asked.map(({ from }) => from)).toEqual(['2024-01-01', '2024-02-01']);
    expect(reading().range).toEqual({ from: 31, to: 59 });
    expect(reading().last).toMatchObject({ report: { says: 'January' }, range: { from: 0, to: 30 } });
    await soon(() => asked[1]!.answer({ says: 'February' }));
    expect(reading().last).toMatchObject({ report: { says: 'February' }, range: { from: 31, to: 59 } });
  });

  test('may be begun before it is chosen, and is not asked for twice', async () => {
    const reading = opened();
    await soon(() => asked[0]!.answer({ says: 'January' }));
    await soon(() => reading().prepare({ from: 31, to: 59 }));
    await soon(() => reading().select({ from: 31, to: 59 }));
    expect(asked).toHaveLength(2);
  });

  test('that cannot be made says why', async () => {
    const reading = opened();
    await soon(() => asked[0]!.fail());
    expect(reading().error).toBe('The log is gone.');
    expect(reading().last.report).toBeUndefined();
  });
});

describe('the working that is open', () => {
  const figure = {
    value: 1,
    low: 1,
    high: 1,
    unit: 'kWh',
    status: 'measured',
    reason: null,
    method: { id: 'x', formula: 'Σ', source: 'by hand' },
    basis: {},
    working: [],
    assumptions: [],
  };
  const report = { figures: { 'losses.idle': figure, 'account.load': figure } };

  function opened(area?: readonly string[]) {
    let working: ReturnType<typeof useWorking> | undefined;
    shown(() => {
      working = useWorking(report as unknown as Parameters<typeof useWorking>[0], 'losses.idle', area);
      return createElement('div', null, [
        createElement('button', { key: 'b', 'data-figure': 'account.load' }, 'Load'),
        createElement('div', { key: 'p' }, working.panel),
      ]);
    });
    return () => working!.workingKey;
  }

  test('is closed by Escape, and opened by w on the figure that has the focus, or on the first', () => {
    store.dispatch(workingOpened('losses.idle'));
    const key = opened();
    act(() => void fireEvent.keyDown(window, { key: 'Escape' }));
    expect(key()).toBeNull();
    expect(screen.queryByText(/^The working/)).toBeNull();
    act(() => void fireEvent.keyDown(window, { key: 'w' }));
    expect(key()).toBe('losses.idle');
    expect(screen.getByText('The working of losses.idle')).toBeTruthy();
    screen.getByRole('button', { name: 'Load' }).focus();
    act(() => void fireEvent.keyDown(window, { key: 'w' }));
    expect(key()).toBe('account.load');
  });

  test('of another view gives way to the first of this one', () => {
    store.dispatch(workingOpened('account.load'));
    expect(opened(['losses.'])()).toBe('losses.idle');
  });
});
