/** @jest-environment <rootDir>/jest.dom.mjs */
import { beforeEach, describe, expect, jest, test } from '@jest/globals';
import { DEFAULT_SETTINGS } from '@long-tally/core';
import { SYSTEM } from '../../db/testing.js';
import { showAs } from '../../ui/format.js';
import { draftOf, forgetDraft, keepDraft } from './draft.js';
import { formOf, type SystemForm } from './form.js';

const show = (temperature: 'C' | 'F') => showAs({ ...DEFAULT_SETTINGS, temperature });
const withHeating = (form: SystemForm, heating: string): SystemForm => ({
  ...form,
  degreeDays: { ...form.degreeDays, heating },
});

describe('what was typed into the form of a home and not saved', () => {
  beforeEach(() => {
    localStorage.clear();
    show('C');
  });
  const initial = formOf(SYSTEM);

  test('comes back to the same form, and to no other', () => {
    const typed = { ...initial, name: 'Mill Lane 2' };
    keepDraft('mill', initial, typed);
    expect(draftOf('mill', initial)).toEqual(typed);
    expect(draftOf('barn', initial)).toBeNull();
    expect(draftOf('mill', { ...initial, currency: 'NZD' })).toBeNull();
  });

  test('is forgotten when it is saved, and when it is typed back', () => {
    keepDraft('mill', initial, { ...initial, name: 'x' });
    keepDraft('barn', initial, { ...initial, name: 'y' });
    keepDraft('mill', initial, { ...initial });
    expect(draftOf('mill', initial)).toBeNull();
    forgetDraft('barn');
    expect(draftOf('barn', initial)).toBeNull();
  });

  test('keeps its temperatures where the reader takes another unit meanwhile', () => {
    show('F');
    keepDraft('mill', initial, withHeating(initial, '60'));
    expect(draftOf('mill', initial)!.degreeDays.heating).toBe('60');
    show('C');
    expect(draftOf('mill', initial)!.degreeDays.heating).toBe('15.56');
    const described = { ...SYSTEM, degreeDays: { heatingBaseC: 15.5, coolingBaseC: 22 } };
    keepDraft('mill', formOf(described), withHeating(formOf(described), '18'));
    show('F');
    // The form itself is filled in the other unit now; its draft is of the same home all the same.
    expect(draftOf('mill', formOf(described))!.degreeDays).toEqual({ heating: '64.4', cooling: '71.6' });
  });

  test('keeps what is no number as it was typed', () => {
    keepDraft('mill', initial, withHeating(initial, 'warm'));
    show('F');
    expect(draftOf('mill', initial)!.degreeDays.heating).toBe('warm');
  });

  test('that cannot be read is none, and a browser that keeps nothing loses nothing else', () => {
    localStorage.setItem('long-tally/system-form', '{"mill":{"of":5}}');
    expect(draftOf('mill', initial)).toBeNull();
    const refused = jest.spyOn(Storage.prototype, 'setItem').mockImplementation(() => {
      throw new DOMException('full', 'QuotaExceededError');
    });
    expect(() => keepDraft('mill', initial, { ...initial, name: 'x' })).not.toThrow();
    refused.mockRestore();
  });
});
