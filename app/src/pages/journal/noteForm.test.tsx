/** @jest-environment <rootDir>/jest.dom.mjs */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';

import { DEFAULT_SETTINGS, type JournalNote } from '@long-tally/core';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { showAs } from '../../ui/format.js';
import { fill, press, standsIn } from '../../testing/formFields.js';

jest.unstable_mockModule('../../ui/useSettings.js', () => ({ useSettings: () => DEFAULT_SETTINGS }));
const { NoteForm } = await import('./NoteForm.js');

const written: JournalNote[] = [];
let left = 0;
const opened = (edited: Parameters<typeof NoteForm>[0]['edited'] = null) =>
  render(
    <NoteForm
      timeZone="Europe/Lisbon"
      edited={edited}
      onCancel={() => {
        left++;
      }}
      onSave={(note) => {
        written.push(note);
        return Promise.resolve(true);
      }}
    />,
  );
const HOUR_MS = 3_600_000;

describe('a note that is typed', () => {
  beforeEach(() => {
    showAs(DEFAULT_SETTINGS);
    written.length = 0;
    left = 0;
  });
  afterEach(cleanup);

  test('holds from its time at the site, for a day unless said otherwise', async () => {
    opened();
    fill('From', '1 Jul 2024, 00:00');
    fill('In your words', ' guests ');
    await press('Write the note');
    // Lisbon has its clocks an hour ahead in July.
    const fromMs = Date.UTC(2024, 5, 30, 23);
    expect(written).toEqual([
      { fromMs, toMs: fromMs + 24 * HOUR_MS, kind: 'other', text: 'guests', leaveOut: false },
    ]);
    expect([standsIn('In your words'), standsIn('From')]).toEqual(['', '1 Jul 2024, 00:00']);
  });

  test('leaves its stretch out of the figures only where that is ticked', async () => {
    opened();
    fill('From', '2024-07-01 06:00');
    fill('Lasts, h', '1,5');
    fireEvent.click(screen.getByRole('checkbox'));
    await press('Write the note');
    expect(written[0]).toMatchObject({ leaveOut: true });
    expect(written[0]!.toMs - written[0]!.fromMs).toBe(1.5 * HOUR_MS);
    // The next one is not left out by mistake.
    await press('Write the note');
    expect(written[1]).toMatchObject({ leaveOut: false });
  });

  test.each([
    ['', '24', /^Choose the date and time from which it holds/],
    ['some day', '24', /^Choose the date and time/],
    ['1 Jul 2024, 00:00', '0', /^Write how many hours it lasted/],
    ['1 Jul 2024, 00:00', '-3', /^Write how many hours/],
    ['1 Jul 2024, 00:00', 'long', /^Write how many hours/],
    ['1 Jul 2024, 00:00', '99999', /^Write how many hours/],
  ] as const)('is refused from “%s” for “%s” hours', async (from, hours, says) => {
    opened();
    fill('From', from);
    fill('Lasts, h', hours);
    await press('Write the note');
    expect(screen.getByRole('alert').textContent).toMatch(says);
    expect(written).toEqual([]);
  });

  test('that is changed keeps what is left alone, and can be left as it was', async () => {
    showAs({ ...DEFAULT_SETTINGS, numbers: '1.234,5' });
    const fromMs = Date.UTC(2024, 0, 5, 12);
    const note: JournalNote = {
      fromMs,
      toMs: fromMs + 0.25 * HOUR_MS,
      kind: 'fault',
      text: 'x',
      leaveOut: true,
    };
    opened({ ...note, id: 4, homeId: 'mill' });
    expect(standsIn('Lasts, h')).toBe('0,25');
    await press('Leave it as it was');
    expect([left, written]).toEqual([1, []]);
    await press('Write the change');
    expect(written).toEqual([note]);
  });
});
