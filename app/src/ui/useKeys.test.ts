/** @jest-environment <rootDir>/jest.dom.mjs */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { DayRange, RollDay } from '@long-tally/core';
import { act, cleanup, fireEvent, renderHook } from '@testing-library/react';
import { useKeys, type KeyMap } from './useKeys.js';
import { useRangeKeys } from './useRangeKeys.js';

afterEach(() => {
  cleanup();
  document.body.innerHTML = '';
});

const press = (key: string, init: object = {}, target: Element | Window = window) =>
  fireEvent.keyDown(target, { key, ...init });

describe('keys of the page', () => {
  const done: string[] = [];
  const does = (...keys: string[]): KeyMap =>
    Object.fromEntries(keys.map((key) => [key, () => done.push(key)]));
  beforeEach(() => {
    done.length = 0;
    jest.useFakeTimers();
  });
  afterEach(() => {
    jest.useRealTimers();
  });

  test('do what they are for, and are not passed on to the browser', () => {
    renderHook(() => useKeys(does('m')));
    // False where what it would do otherwise is held back.
    expect(press('m')).toBe(false);
    expect(press('q')).toBe(true);
    expect(done).toEqual(['m']);
  });

  test('come in pairs after a leader, which takes what follows it even where there is no such pair', () => {
    renderHook(() => useKeys(does('g d', 'd', 'm')));
    press('g');
    press('d');
    press('d');
    press('g');
    press('m');
    expect(done).toEqual(['g d', 'd']);
  });

  test('of a pair come soon after each other', () => {
    renderHook(() => useKeys(does('g d', 'd')));
    press('g');
    jest.advanceTimersByTime(1300);
    press('d');
    expect(done).toEqual(['d']);
  });

  test('are the browser’s with control, alt and command', () => {
    renderHook(() => useKeys(does('m')));
    for (const held of ['ctrlKey', 'altKey', 'metaKey']) press('m', { [held]: true });
    expect(done).toEqual([]);
  });

  test.each([
    ['a field', '<input>'],
    ['a note', '<textarea></textarea>'],
    ['a list that is open', '<ul role="listbox"><li tabindex="0" id="t"></li></ul>'],
    ['a menu', '<ul role="menu"><li tabindex="0" id="t"></li></ul>'],
    ['a calendar', '<div class="calendar"><button id="t"></button></div>'],
    ['what has opened a list', '<button aria-expanded="true"></button>'],
  ])('are left to %s', (_what, html) => {
    document.body.innerHTML = html;
    renderHook(() => useKeys(does('m')));
    press('m', {}, document.querySelector('#t') ?? document.body.firstElementChild!);
    expect(done).toEqual([]);
  });

  test('rest while a dialog is open', () => {
    renderHook(() => useKeys(does('m')));
    document.body.innerHTML = '<div role="dialog"></div>';
    press('m');
    document.body.innerHTML = '';
    press('m');
    expect(done).toEqual(['m']);
  });

  test('do what they do now, and nothing once the view is left', () => {
    const { rerender, unmount } = renderHook(({ to }) => useKeys({ m: () => done.push(to) }), {
      initialProps: { to: 'before' },
    });
    rerender({ to: 'now' });
    press('m');
    unmount();
    press('m');
    expect(done).toEqual(['now']);
  });
});

describe('keys of a range', () => {
  const dates = Array.from({ length: 90 }, (_, day) =>
    new Date(Date.UTC(2024, 0, 1 + day)).toISOString().slice(0, 10),
  );
  const days = dates.map((date) => ({ date })) as unknown as RollDay[];

  test.each([
    ['m', { from: 31, to: 59 }],
    ['y', { from: 0, to: 89 }],
    ['a', { from: 0, to: 89 }],
    ['[', { from: 25, to: 34 }],
    [']', { from: 45, to: 54 }],
  ])('%s chooses from ten days of February', (key, chosen) => {
    const select = jest.fn<(range: DayRange) => void>();
    renderHook(() => useRangeKeys(days, { from: 35, to: 44 }, select));
    act(() => void press(key));
    expect(select.mock.calls).toEqual([[chosen]]);
  });

  test('a month goes to the next month, of its own length', () => {
    const select = jest.fn<(range: DayRange) => void>();
    renderHook(() => useRangeKeys(days, { from: 0, to: 30 }, select));
    press(']');
    press('[');
    // Before the first month there is none.
    expect(select.mock.calls).toEqual([[{ from: 31, to: 59 }], [{ from: 0, to: 30 }]]);
  });
});
