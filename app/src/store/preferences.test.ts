/** @jest-environment <rootDir>/jest.dom.mjs */
import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import { DEFAULT_SETTINGS } from '@long-tally/core';
import {
  homeOpened,
  loadPreferences,
  looksClosed,
  looksOffered,
  preferencesReducer as reduced,
  savePreferences,
  searchChosen,
  settingsChanged,
  settingsFound,
  settingsOf,
  summarySeen,
  type Preferences,
} from './preferences.js';

const KEY = 'long-tally/preferences';
const begun = () => reduced(undefined, { type: 'begin' });

describe('preferences', () => {
  beforeEach(() => localStorage.clear());

  test('come back as they were kept', () => {
    let kept = begun();
    for (const change of [
      settingsChanged({ theme: 'dark' }),
      homeOpened('mill'),
      searchChosen('view days'),
      looksOffered({ homeId: 'mill', looks: [{ says: 'why June', path: 'days' }] }),
      summarySeen({ homeId: 'mill', revision: 2, atMs: 5, figures: { 'account.load': 12.5 } }),
    ])
      kept = reduced(kept, change);
    savePreferences(kept);
    expect(loadPreferences()).toEqual(kept);
  });

  test.each(['', 'no JSON', '[]', '{"lastHomeId":5}', '{"settings":{"theme":"pink"},"lastHomeId":null}'])(
    'that cannot be read are set aside: %s',
    (text) => {
      localStorage.setItem(KEY, text);
      expect(loadPreferences()).toEqual(begun());
    },
  );

  test('of the time when there was only a theme keep it', () => {
    localStorage.setItem(KEY, '{"theme":"dark","lastHomeId":"mill"}');
    expect(loadPreferences()).toMatchObject({
      settings: { ...DEFAULT_SETTINGS, theme: 'dark' },
      lastHomeId: 'mill',
    });
  });

  test('hold for this visit where the browser keeps nothing', () => {
    const refused = jest.spyOn(Storage.prototype, 'setItem').mockImplementation(() => {
      throw new DOMException('full', 'QuotaExceededError');
    });
    expect(() => savePreferences(begun())).not.toThrow();
    expect(refused).toHaveBeenCalled();
    refused.mockRestore();
  });

  test('hold against those of a book, which hold where there are none', () => {
    const ofBook = { ...DEFAULT_SETTINGS, textSize: 'largest' as const };
    expect(settingsOf(reduced(begun(), settingsFound(ofBook)))).toEqual(ofBook);
    const own = reduced(begun(), settingsChanged({ theme: 'dark' }));
    expect(settingsOf(reduced(own, settingsFound(ofBook)))).toEqual({ ...DEFAULT_SETTINGS, theme: 'dark' });
    expect(settingsOf(begun())).toEqual(DEFAULT_SETTINGS);
  });

  test('remember the six latest of the search, each once', () => {
    const after = ['a', 'b', 'c', 'd', 'e', 'f', 'g', 'b'].reduce(
      (state, one) => reduced(state, searchChosen(one)),
      begun(),
    );
    expect(after.recent).toEqual(['b', 'g', 'f', 'e', 'd', 'c']);
  });

  test('close what is worth a look for good, and offer nothing where there is nothing', () => {
    const offered = reduced(begun(), looksOffered({ homeId: 'mill', looks: [{ says: 'x', path: 'y' }] }));
    expect(reduced(offered, looksClosed('mill')).looks).toEqual({});
    expect(reduced(begun(), looksOffered({ homeId: 'mill', looks: [] })).looks).toEqual({});
  });

  test('remember what a summary said when its home was as it is, not when it was opened last', () => {
    const seen = (state: Preferences, revision: number, atMs: number) =>
      reduced(state, summarySeen({ homeId: 'mill', revision, atMs, figures: {} }));
    const twice = seen(seen(begun(), 1, 100), 1, 200);
    expect(twice.seen['mill']).toEqual({ revision: 1, atMs: 100, figures: {} });
    expect(seen(twice, 2, 300).seen['mill']!.atMs).toBe(300);
  });
});
