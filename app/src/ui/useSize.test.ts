/** @jest-environment <rootDir>/jest.dom.mjs */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { act, cleanup, render, renderHook, waitFor } from '@testing-library/react';
import { createElement } from 'react';
import { useAfterPaint } from './useAfterPaint.js';
import { usePrinting } from './usePrinting.js';
import { useWidth } from './useSize.js';

afterEach(cleanup);

describe('the width of an element', () => {
  let tell: (width: number) => void = () => undefined;
  const left = jest.fn();
  const before = globalThis.ResizeObserver;
  beforeEach(() => {
    left.mockClear();
    globalThis.ResizeObserver = class {
      constructor(changed: ResizeObserverCallback) {
        tell = (width) => changed([{ contentRect: { width } } as ResizeObserverEntry], this);
      }
      observe = () => undefined;
      unobserve = () => undefined;
      disconnect = left;
    };
  });
  afterEach(() => {
    globalThis.ResizeObserver = before;
  });

  const Measured = () => {
    const [ref, width] = useWidth<HTMLDivElement>();
    return createElement('div', { ref }, String(width));
  };

  test('is followed as it changes, and let go with its view', () => {
    const { container, unmount } = render(createElement(Measured));
    expect(container.textContent).toBe('0');
    act(() => tell(812));
    expect(container.textContent).toBe('812');
    unmount();
    expect(left).toHaveBeenCalledTimes(1);
  });

  test('is no wider than paper while it is printed, and as it was after that', () => {
    const { container } = render(createElement(Measured));
    act(() => tell(1100));
    act(() => void window.dispatchEvent(new Event('beforeprint')));
    expect(container.textContent).toBe('640');
    act(() => void window.dispatchEvent(new Event('afterprint')));
    expect(container.textContent).toBe('1100');
    act(() => tell(390));
    act(() => void window.dispatchEvent(new Event('beforeprint')));
    expect(container.textContent).toBe('390');
  });
});

test('a page is being printed from before it is laid out until it is done', () => {
  const heard = jest.spyOn(window, 'addEventListener');
  const left = jest.spyOn(window, 'removeEventListener');
  const ofPrint = (spy: typeof heard | typeof left) =>
    spy.mock.calls.filter(([type]) => type.endsWith('print')).map(([type, listener]) => [type, listener]);
  const { result, unmount } = renderHook(() => usePrinting());
  expect(result.current).toBe(false);
  act(() => void window.dispatchEvent(new Event('beforeprint')));
  expect(result.current).toBe(true);
  unmount();
  // What listened is let go.
  expect(ofPrint(heard)).toHaveLength(2);
  expect(ofPrint(left)).toEqual(ofPrint(heard));
});

describe('what follows a frame later', () => {
  test('keeps what was until the page has been painted with what is new', async () => {
    const { result, rerender } = renderHook(({ of }) => useAfterPaint(of), { initialProps: { of: 'a' } });
    expect(result.current).toBe('a');
    rerender({ of: 'b' });
    expect(result.current).toBe('a');
    await waitFor(() => expect(result.current).toBe('b'));
  });

  test('begins with something else where it is told what', async () => {
    const { result } = renderHook(() => useAfterPaint(true, false));
    expect(result.current).toBe(false);
    await waitFor(() => expect(result.current).toBe(true));
  });

  test('of several in a row takes the last', async () => {
    const seen: string[] = [];
    const { rerender } = renderHook(
      ({ of }) => {
        const later = useAfterPaint(of);
        if (seen.at(-1) !== later) seen.push(later);
      },
      { initialProps: { of: 'a' } },
    );
    rerender({ of: 'b' });
    rerender({ of: 'c' });
    await waitFor(() => expect(seen).toEqual(['a', 'c']));
  });
});
