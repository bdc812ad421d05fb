/** @jest-environment <rootDir>/jest.dom.mjs */
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { act, cleanup, fireEvent, render, renderHook, screen } from '@testing-library/react';
import { createElement } from 'react';
import { createMemoryRouter, RouterProvider } from 'react-router';
import { db, type Home } from '../db/database.js';
import { newHome } from '../db/homes.js';
import { SYSTEM } from '../db/testing.js';
import { offerUndo, useOffered } from './undo.js';
import { useEntry } from './useEntry.js';
import { useMore } from './useMore.js';
import { useWrite, type Write } from './useWrite.js';

beforeEach(async () => {
  await db.delete();
  await db.open();
  await db.homes.add(newHome(SYSTEM, 'mill'));
});
afterEach(cleanup);

/** A view of a home that writes. */
function opened() {
  let writing: Write | undefined;
  const View = () => {
    writing = useWrite();
    return writing.failure;
  };
  const router = createMemoryRouter([{ path: '/h/:homeId', element: createElement(View) }], {
    initialEntries: ['/h/mill'],
  });
  render(createElement(RouterProvider, { router }));
  return async (...change: Parameters<Write['write']>) => {
    let written: boolean | undefined;
    await act(async () => void (written = await writing!.write(...change)));
    return written;
  };
}

describe('a write', () => {
  test('offers to be taken back, and stands in the list of changes', async () => {
    const { result } = renderHook(() => useOffered());
    const undo = { says: 'Note removed', undo: () => Promise.resolve() };
    expect(await opened()(() => Promise.resolve(), undo)).toBe(true);
    expect(result.current).toBe(undo);
    const { changes } = (await db.homes.get('mill')) as Home & { changes: unknown };
    expect(changes).toEqual([expect.objectContaining({ says: 'Note removed' })]);
  });

  test('that cannot be taken back takes the place of what was offered', async () => {
    const { result } = renderHook(() => useOffered());
    act(() => offerUndo({ says: 'before', undo: () => Promise.resolve() }));
    await opened()(() => Promise.resolve());
    expect(result.current).toBeNull();
  });

  test('that fails says so until it is read, and keeps what was offered', async () => {
    const offered = { says: 'before', undo: () => Promise.resolve() };
    const { result } = renderHook(() => useOffered());
    act(() => offerUndo(offered));
    const write = opened();
    expect(await write(() => Promise.reject(new Error('The disk is full.')))).toBe(false);
    expect(screen.getByRole('alert').textContent).toContain('The disk is full.');
    expect(result.current).toBe(offered);
    fireEvent.click(screen.getByRole('button', { name: 'I have read it' }));
    expect(screen.queryByRole('alert')).toBeNull();
  });

  test('that succeeds takes an older failure away', async () => {
    const write = opened();
    await write(() => Promise.reject(new Error('no')));
    await write(() => Promise.resolve());
    expect(screen.queryByRole('alert')).toBeNull();
  });
});

describe('the entry of a form', () => {
  const begun = () =>
    renderHook(() =>
      useEntry(
        () => ({ name: '', unit: 'kWh' }),
        ({ unit }) => ({ name: '', unit }),
      ),
    );

  test('is cleared as it is sent, so that the next can be typed while it is written', async () => {
    const { result } = begun();
    act(() => result.current.change({ name: 'first' }));
    let finish: (written: boolean) => void = () => undefined;
    let sent: Promise<boolean> | undefined;
    act(() => void (sent = result.current.send(() => new Promise((resolve) => (finish = resolve)))));
    expect(result.current.typed).toEqual({ name: '', unit: 'kWh' });
    act(() => result.current.change({ name: 'second' }));
    await act(async () => {
      finish(true);
      await sent;
    });
    expect(result.current.typed.name).toBe('second');
  });

  test('is put back where it could not be written', async () => {
    const { result } = begun();
    act(() => result.current.change({ name: 'first', unit: 'km' }));
    await act(async () => {
      await result.current.send(() => Promise.resolve(false));
    });
    expect(result.current.typed).toEqual({ name: 'first', unit: 'km' });
  });
});

describe('a long list', () => {
  const items = Array.from({ length: 25 }, (_, i) => i);
  const List = ({ of }: { readonly of: string }) => {
    const { items: shown, more } = useMore(items, 10, 'day', of);
    return createElement('div', null, `${shown.length} shown. `, more);
  };

  test('is shown by parts, and another one begins at its first', () => {
    const { container, rerender } = render(createElement(List, { of: 'January' }));
    expect(container.textContent).toContain('10 of 25 days. Show 10 more');
    fireEvent.click(screen.getByRole('button', { name: 'Show 10 more' }));
    expect(container.textContent).toContain('20 of 25 days. Show 5 more');
    fireEvent.click(screen.getByRole('button', { name: 'Show 5 more' }));
    expect(container.textContent).toBe('25 shown. ');
    rerender(createElement(List, { of: 'February' }));
    expect(container.textContent).toContain('10 of 25 days.');
  });
});
