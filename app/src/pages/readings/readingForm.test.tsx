/** @jest-environment <rootDir>/jest.dom.mjs */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';

import { DEFAULT_SETTINGS, type Reading } from '@long-tally/core';
import { cleanup, render, screen } from '@testing-library/react';
import { showAs } from '../../ui/format.js';
import { fill, press, standsIn } from '../../testing/formFields.js';

jest.unstable_mockModule('../../ui/useSettings.js', () => ({ useSettings: () => DEFAULT_SETTINGS }));
const { ReadingForm } = await import('./ReadingForm.js');

const ZONE = 'Pacific/Auckland';
const written: Reading[] = [];
let isWritten = true;
const opened = (edited: Parameters<typeof ReadingForm>[0]['edited'] = null) =>
  render(
    <ReadingForm
      timeZone={ZONE}
      edited={edited}
      onCancel={() => undefined}
      onSave={(reading) => {
        written.push(reading);
        return Promise.resolve(isWritten);
      }}
    />,
  );
const send = () => press(/^Write/);
const refusal = () => screen.getByRole('alert').textContent;

describe('a reading that is typed', () => {
  beforeEach(() => {
    showAs(DEFAULT_SETTINGS);
    written.length = 0;
    isWritten = true;
  });
  afterEach(cleanup);

  test('is kept as it was read: at the site’s time, with as many decimals as the counter has', async () => {
    opened();
    fill('Read at', '14 Sep 2024, 18:30');
    fill('import counter, kWh', '23,090.10');
    fill('state of charge, %', '98');
    fill('battery, °C', '21,5');
    fill('Note', ' after the storm ');
    await send();
    expect(written).toEqual([
      {
        atMs: Date.UTC(2024, 8, 14, 6, 30),
        counters: { import: 23_090.1 },
        decimals: { import: 2 },
        socPct: 98,
        batteryC: 21.5,
        note: 'after the storm',
      },
    ]);
  });

  test('goes, and leaves its time for the next; what could not be written is put back', async () => {
    opened();
    fill('Read at', '14 Sep 2024, 18:30');
    fill('solar counter, kWh', '100');
    await send();
    expect([standsIn('Read at'), standsIn('solar counter, kWh')]).toEqual(['14 Sep 2024, 18:30', '']);
    isWritten = false;
    fill('solar counter, kWh', '101.5');
    await send();
    expect(standsIn('solar counter, kWh')).toBe('101.5');
  });

  test('of another counter says whose it is, and in which unit', async () => {
    opened();
    fill('Read at', '14 Sep 2024, 18:30');
    fill('it shows', '28487');
    await send();
    expect(refusal()).toMatch(/which load the other counter belongs to, and its unit/);
    fill('load with a counter of its own', 'car');
    fill('its unit', 'km');
    await send();
    expect(written[0]).toMatchObject({ use: { part: 'car', unit: 'km', shown: 28_487, decimals: 0 } });
  });

  test.each([
    [{}, /^Choose the date and time/],
    [{ 'Read at': 'yesterday' }, /^Choose the date and time/],
    [{ 'Read at': '14 Sep 2024, 18:30' }, /^Write what at least one counter/],
    [{ 'Read at': '14 Sep 2024, 18:30', Note: 'only this' }, /^Write what at least one counter/],
    [
      { 'Read at': '14 Sep 2024, 18:30', 'export counter, kWh': '12 kWh' },
      /"12 kWh" is not a reading of the export counter: write kWh, for example 12,345\.6\./,
    ],
    [{ 'Read at': '14 Sep 2024, 18:30', 'load counter, kWh': '-1' }, /is not a reading of the load counter/],
    [{ 'Read at': '14 Sep 2024, 18:30', 'state of charge, %': '101' }, /"101" is not a state of charge/],
    [{ 'Read at': '14 Sep 2024, 18:30', 'battery, °C': '300' }, /write °C, for example 18\./],
    [{ 'Read at': '14 Sep 2024, 18:30', 'it shows': 'many' }, /"many" is not a counter reading/],
  ] as const)('is refused in words where it cannot be one: %j', async (typed, says) => {
    opened();
    for (const [label, text] of Object.entries(typed)) fill(label, text);
    await send();
    expect(refusal()).toMatch(says);
    expect(written).toEqual([]);
  });

  test.each(['1,234.5', '1.234,5', '1 234,5'] as const)(
    'that is corrected by a reader of %s is the same where nothing is changed',
    async (numbers) => {
      showAs({ ...DEFAULT_SETTINGS, numbers, temperature: 'F' });
      const reading: Reading = {
        atMs: Date.UTC(2024, 8, 14, 6, 30),
        counters: { import: 12.345, solar: 1234.5 },
        decimals: { import: 3, solar: 1 },
        socPct: 55.125,
        batteryC: 20,
        use: { part: 'car', unit: 'km', shown: 1.125, decimals: 3 },
        note: 'all of it',
      };
      opened({ ...reading, id: 1, homeId: 'mill' });
      await press('Write the correction');
      expect(written).toEqual([reading]);
    },
  );
});
