/** @jest-environment <rootDir>/jest.dom.mjs */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { DEFAULT_SETTINGS } from '@long-tally/core';
import { act, cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { createElement, useState } from 'react';
import { Provider } from 'react-redux';
import { createMemoryRouter, RouterProvider } from 'react-router';
import { db } from '../db/database.js';
import { newHome } from '../db/homes.js';
import { SYSTEM } from '../db/testing.js';
import { soon } from '../testing/soon.js';

jest.unstable_mockModule('../workers/client.js', () => ({ askHome: () => Promise.resolve(null) }));
const { store } = await import('../store/store.js');
const { settingsChanged } = await import('../store/preferences.js');
const { CopyButton } = await import('./CopyButton.js');
const { Fold } = await import('./Fold.js');
const { TimeField } = await import('./TimeField.js');
const { offerUndo } = await import('./undo.js');
const { UndoLine } = await import('./UndoLine.js');

afterEach(cleanup);

describe('a field for a date', () => {
  let value = '';
  const Typed = ({ kind, begun }: { readonly kind: 'date' | 'time'; readonly begun: string }) => {
    const [own, setOwn] = useState(begun);
    value = own;
    return createElement(TimeField, { text: 'begins on', kind, value: own, onChange: setOwn });
  };
  const opened = (kind: 'date' | 'time', begun = '') => {
    render(createElement(Provider, { store, children: createElement(Typed, { kind, begun }) }));
    return screen.getByLabelText<HTMLInputElement>('begins on');
  };
  const type = (field: HTMLInputElement, text: string) =>
    act(() => void fireEvent.change(field, { target: { value: text } }));
  beforeEach(() => void act(() => store.dispatch(settingsChanged(DEFAULT_SETTINGS))));

  test.each([
    ['14 Sep 2024', '2024-09-14'],
    ['14 september 2024', '2024-09-14'],
    ['14.9.2024', '2024-09-14'],
    ['Sep 14, 2024', '2024-09-14'],
    ['2024-9-14', '2024-09-14'],
  ])('reads %s', (text, iso) => {
    type(opened('date'), text);
    expect(value).toBe(iso);
  });

  test.each(['9/10/2024', '31 Feb 2024', '14 Sep 24', 'tomorrow'])('takes %s for no date', (text) => {
    const field = opened('date');
    type(field, text);
    expect(value).toBe(text);
    // While it is typed nothing is called wrong.
    expect(field.getAttribute('aria-invalid')).toBeNull();
    act(() => void fireEvent.blur(field));
    expect(field.getAttribute('aria-invalid')).toBe('true');
    expect(field.value).toBe(text);
  });

  test('shows it in the reader’s order when it is left, and stays as typed until then', () => {
    const field = opened('time');
    type(field, '14.9.2024 6:30 pm');
    expect(field.value).toBe('14.9.2024 6:30 pm');
    act(() => void fireEvent.blur(field));
    expect(value).toBe('2024-09-14T18:30');
    expect(field.value).toBe('14 Sep 2024, 18:30');
    act(() => void store.dispatch(settingsChanged({ dates: 'Sep 14, 2024' })));
    expect(field.value).toBe('Sep 14, 2024, 18:30');
  });

  test('is chosen on a calendar, and keeps its time', async () => {
    const field = opened('time', '2024-09-14T18:30');
    await soon(() => fireEvent.click(screen.getByRole('button', { name: 'Choose on a calendar' })));
    const day = screen.getByRole('button', { name: /September 20th, 2024/ });
    await soon(() => fireEvent.click(day));
    expect(value).toBe('2024-09-20T18:30');
    expect(field.value).toBe('20 Sep 2024, 18:30');
    expect(screen.queryByRole('dialog', { name: 'Calendar' })).toBeNull();
  });
});

describe('a section that opens', () => {
  const fold = (more: object = {}) =>
    createElement(Fold, {
      title: 'Accuracy',
      holds: 'as usual',
      children: createElement('input', { 'aria-label': 'load' }),
      ...more,
    });
  const heading = () => screen.getByRole('button', { name: /^Accuracy/ });

  test('says what it holds while it is closed, and keeps what is typed in it', () => {
    render(fold());
    expect(heading().textContent).toBe('Accuracy as usual');
    fireEvent.click(heading());
    fireEvent.change(screen.getByLabelText('load'), { target: { value: '2' } });
    fireEvent.click(heading());
    fireEvent.click(heading());
    expect(screen.getByLabelText<HTMLInputElement>('load').value).toBe('2');
    expect(heading().textContent).toBe('Accuracy');
  });

  test('is open where something in it is to be mended', () => {
    const { rerender } = render(fold());
    expect(screen.queryByRole('textbox')).toBeNull();
    rerender(fold({ mustOpen: true }));
    expect(screen.getByRole('textbox')).toBeTruthy();
  });
});

describe('a button that copies', () => {
  const opened = (writeText: (text: string) => Promise<void>) => {
    Object.defineProperty(navigator, 'clipboard', { configurable: true, value: { writeText } });
    render(createElement(CopyButton, { says: 'copy', textOf: () => 'Import 12 kWh (11 – 13)' }));
    return screen.getByRole('button');
  };

  test('puts the text into the clipboard and says so until it is left', async () => {
    const writeText = jest.fn(() => Promise.resolve());
    const button = opened(writeText);
    await soon(() => fireEvent.click(button));
    expect(writeText.mock.calls).toEqual([['Import 12 kWh (11 – 13)']]);
    expect(button.textContent).toBe('copied');
    fireEvent.blur(button);
    expect(button.textContent).toBe('copy');
  });

  test('says that the browser did not allow it', async () => {
    const button = opened(() => Promise.reject(new Error('denied')));
    await soon(() => fireEvent.click(button));
    expect(button.textContent).toBe('the browser does not allow it');
  });
});

describe('the line that takes a change back', () => {
  const line = (homeId: string) => {
    const router = createMemoryRouter(
      [{ path: '/h/:homeId', element: createElement(UndoLine, { homeId }) }],
      { initialEntries: [`/h/${homeId}`] },
    );
    return createElement(RouterProvider, { router });
  };
  const offer = (undo: () => Promise<unknown>) => act(() => offerUndo({ says: 'Note removed.', undo }));

  beforeEach(async () => {
    await db.delete();
    await db.open();
    await db.homes.add(newHome(SYSTEM, 'mill'));
  });

  test('stands there until the change is undone, and that is written down', async () => {
    render(line('mill'));
    expect(screen.queryByRole('status')).toBeNull();
    const undo = jest.fn(() => Promise.resolve());
    offer(undo);
    expect(screen.getByRole('status').textContent).toBe('Note removed. Undo');
    await soon(() => fireEvent.click(screen.getByRole('button', { name: 'Undo' })));
    await waitFor(() => expect(screen.queryByRole('status')).toBeNull());
    expect(undo).toHaveBeenCalledTimes(1);
    const home = await db.homes.get('mill');
    expect(home).toMatchObject({ changes: [{ says: 'Undone: Note removed.' }] });
  });

  test('stays where it could not be undone, with what went wrong', async () => {
    render(line('mill'));
    offer(() => Promise.reject(new Error('The disk is full.')));
    await soon(() => fireEvent.click(screen.getByRole('button', { name: 'Undo' })));
    expect((await screen.findByRole('alert')).textContent).toContain('The disk is full.');
    expect(screen.getByRole('status').textContent).toContain('Note removed.');
  });

  test('is gone with its home', () => {
    const { unmount } = render(line('mill'));
    offer(() => Promise.resolve());
    unmount();
    render(line('barn'));
    expect(screen.queryByRole('status')).toBeNull();
  });
});
