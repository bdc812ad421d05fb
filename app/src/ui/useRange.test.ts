/** @jest-environment <rootDir>/jest.dom.mjs */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { RollDay } from '@long-tally/core';
import { act, cleanup, render } from '@testing-library/react';
import { createElement } from 'react';
import { createMemoryRouter, RouterProvider } from 'react-router';
import { neighbour, rangeOf, rangeTitle, useRange } from './useRange.js';

const days = Array.from({ length: 91 }, (_, day) => ({
  date: new Date(Date.UTC(2024, 0, 1 + day)).toISOString().slice(0, 10),
  // The last two days are hardly known.
  coverage: day < 89 ? 1 : 0.2,
})) as unknown as RollDay[];

/** A view that shows a range, in an address. */
function opened(search: string) {
  let shown: ReturnType<typeof useRange> | undefined;
  const View = () => {
    shown = useRange(days);
    return null;
  };
  const router = createMemoryRouter(
    [
      { path: '/days', element: createElement(View) },
      { path: '/other', element: null },
    ],
    { initialEntries: [`/days${search}`] },
  );
  window.history.replaceState(null, '', `/days${search}`);
  render(createElement(RouterProvider, { router }));
  return {
    router,
    range: () => shown![0],
    select: (from: number, to: number) => act(() => shown![1]({ from, to })),
    wait: (ms: number) => act(() => jest.advanceTimersByTime(ms)),
  };
}

describe('the range of a view', () => {
  beforeEach(() => void jest.useFakeTimers());
  afterEach(() => {
    cleanup();
    jest.useRealTimers();
  });

  test('is that of the address', () => {
    expect(opened('?from=2024-01-10&to=2024-01-12').range()).toEqual({ from: 9, to: 11 });
  });

  test('is the last month that is known without one, or where the address makes no sense', () => {
    for (const search of ['', '?from=yesterday&to=today', '?from=2031-01-01&to=2031-02-01'])
      expect(opened(search).range()).toEqual({ from: 60, to: 90 });
  });

  test('holds at once when it is chosen; the address follows, then the router', () => {
    const { router, range, select, wait } = opened('?from=2024-01-10&to=2024-01-12');
    select(0, 4);
    expect(range()).toEqual({ from: 0, to: 4 });
    expect(window.location.search).toBe('?from=2024-01-10&to=2024-01-12');
    wait(70);
    expect(window.location.search).toBe('?from=2024-01-01&to=2024-01-05');
    expect(router.state.location.search).toBe('?from=2024-01-10&to=2024-01-12');
    wait(250);
    expect(router.state.location.search).toBe('?from=2024-01-01&to=2024-01-05');
    expect(range()).toEqual({ from: 0, to: 4 });
  });

  test('of many choices in a row tells the router of the last alone', () => {
    const { router, select, wait } = opened('');
    for (let to = 1; to < 6; to++) {
      select(0, to);
      wait(50);
    }
    expect(router.state.location.search).toBe('');
    wait(300);
    expect(router.state.location.search).toBe('?from=2024-01-01&to=2024-01-06');
  });

  test('keeps what else stands in the address', () => {
    const { router, select, wait } = opened('?show=temperature');
    select(3, 5);
    wait(300);
    expect(router.state.location.search).toBe('?show=temperature&from=2024-01-04&to=2024-01-06');
  });

  test('is the router’s again as soon as it says something else', async () => {
    const { router, range, select, wait } = opened('?from=2024-01-10&to=2024-01-12');
    select(0, 4);
    wait(300);
    await act(() => router.navigate('/days?from=2024-02-01&to=2024-02-02'));
    expect(range()).toEqual({ from: 31, to: 32 });
  });

  test('does not call back a reader who went to another view meanwhile', async () => {
    const { router, select, wait } = opened('?from=2024-01-10&to=2024-01-12');
    select(0, 4);
    await act(() => router.navigate('/other'));
    wait(300);
    expect(router.state.location.pathname).toBe('/other');
  });
});

describe('a range by its dates', () => {
  test('is held to the roll, in either order', () => {
    expect(rangeOf(days, '2024-01-05', '2023-12-01')).toEqual({ from: 0, to: 4 });
    expect(rangeOf(days, '2024-03-29', '2025-01-01')).toEqual({ from: 88, to: 90 });
  });

  test('opens on everything where a view asks for it', () => {
    expect(rangeOf(days, null, null, 'all')).toEqual({ from: 0, to: 90 });
  });

  test('has a month for a neighbour where it is one, else as many days', () => {
    expect(neighbour(days, { from: 31, to: 59 }, -1)).toEqual({ from: 0, to: 30 });
    expect(neighbour(days, { from: 10, to: 12 }, 1)).toEqual({ from: 13, to: 15 });
    expect(neighbour(days, { from: 0, to: 3 }, -1)).toEqual({ from: 0, to: 3 });
    expect(neighbour(days, { from: 86, to: 88 }, 1)).toEqual({ from: 89, to: 90 });
  });

  test('is called by what it is', () => {
    expect(rangeTitle(days, { from: 31, to: 59 })).toBe('February 2024');
    expect(rangeTitle(days, { from: 0, to: 90 })).toBe('2024');
    expect(rangeTitle(days, { from: 1, to: 1 })).toBe('Tuesday, 2 January 2024');
    expect(rangeTitle(days, { from: 0, to: 1 })).toBe('1 January 2024 – 2 January 2024');
  });
});
