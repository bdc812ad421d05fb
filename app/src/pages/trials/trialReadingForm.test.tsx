/** @jest-environment <rootDir>/jest.dom.mjs */
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';

import { DEFAULT_SETTINGS, type TrialFile } from '@long-tally/core';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { showAs } from '../../ui/format.js';
import { chooseOption, fill, press, standsIn } from '../../testing/formFields.js';
import { PROTOCOLS } from './protocols.js';

jest.unstable_mockModule('../../ui/useSettings.js', () => ({ useSettings: () => DEFAULT_SETTINGS }));
const { TrialReadingForm } = await import('./TrialReadingForm.js');

type Typed = TrialFile['readings'][number];
const written: Typed[] = [];
const DRAWDOWN = PROTOCOLS.find(({ kind }) => kind === 'drawdown')!.fields;
const NOW = Date.UTC(2024, 8, 14, 6, 30);
const opened = (fields = DRAWDOWN, mostW: number | null = 6000) =>
  render(
    <TrialReadingForm
      fields={fields}
      timeZone="Pacific/Auckland"
      mostW={mostW}
      onSave={(reading) => {
        written.push(reading);
        return Promise.resolve(true);
      }}
    />,
  );
const send = () => press('Write down');
const refusal = () => screen.getByRole('alert').textContent;

describe('a reading of a trial', () => {
  beforeEach(() => {
    showAs(DEFAULT_SETTINGS);
    written.length = 0;
    jest.spyOn(Date, 'now').mockReturnValue(NOW);
  });
  afterEach(() => {
    cleanup();
    jest.restoreAllMocks();
  });

  test('has the time filled in, and is kept in the units of a trial file', async () => {
    opened();
    expect(standsIn('Read at')).toMatch(/^14 Sep 2024, 18:30/);
    fill('charge, %', '87.5');
    fill('discharge counter, kWh', '1,234.5');
    fill('load, W', '1500');
    fill('battery, °C', '22');
    fireEvent.click(screen.getByRole('checkbox'));
    await send();
    expect(written).toEqual([
      {
        at: '2024-09-14T06:30:00Z',
        ...{ soc: 0.875, dischargeKWh: 1234.5, loadW: 1500, batteryC: 22, isTapered: true },
      },
    ]);
    expect(standsIn('charge, %')).toBe('');
  });

  test('asks for what its protocol needs, and nothing else', () => {
    for (const { fields } of PROTOCOLS) {
      const { unmount } = opened(fields);
      expect(screen.queryByLabelText('charge, %') !== null).toBe(fields.includes('soc'));
      expect(screen.queryByLabelText('leg 2, W') !== null).toBe(fields.includes('legs'));
      expect(screen.queryByLabelText('frequency, Hz') !== null).toBe(fields.includes('hz'));
      expect(screen.queryByLabelText('Switched on') !== null).toBe(fields.includes('appliance'));
      unmount();
    }
  });

  test('of a power that may have been meant in kW is asked about once, then kept as it is', async () => {
    opened();
    fill('load, W', '1.5');
    await send();
    expect(refusal()).toBe('1.5 W is very little: is it kW? Write watts, 1500, or press again to keep it.');
    expect(written).toEqual([]);
    await send();
    expect(written).toMatchObject([{ loadW: 1.5 }]);
  });

  test('of a power far beyond the home is asked about, where the home is described', async () => {
    opened();
    fill('load, W', '30000');
    await send();
    expect(refusal()).toMatch(/^30000 W is far beyond what the home is described to give/);
    // Another one is asked about anew.
    fill('load, W', '31000');
    await send();
    expect(written).toEqual([]);
    cleanup();
    opened(DRAWDOWN, null);
    fill('load, W', '30000');
    await send();
    expect(written).toMatchObject([{ loadW: 30_000 }]);
  });

  test('that lies ahead is asked about; a clock some minutes wrong is not', async () => {
    opened();
    fill('Read at', '14 Sep 2024, 18:34');
    fill('charge, %', '50');
    await send();
    expect(written).toHaveLength(1);
    fill('Read at', '15 Sep 2024, 18:30');
    fill('charge, %', '50');
    await send();
    expect(refusal()).toMatch(/^This time lies ahead/);
  });

  test.each([
    ['charge, %', '120', '"120" cannot be the charge, %: write a number from 0 to 100.'],
    ['battery, °C', '500', '"500" cannot be the battery, °C: write a number from -60 to 120.'],
    ['solar, W', 'none', '"none" cannot be the solar, W: write a number from 0 to 1000000.'],
    ['Read at', '', 'Choose the date and time of the reading.'],
    ['Note', '', 'Write at least one reading, an event or a note.'],
  ])('is refused in words: %s “%s”', async (label, text, says) => {
    opened();
    fill(label, text);
    await send();
    expect([refusal(), written]).toEqual([says, []]);
  });

  test('may be an event alone, or the powers of both legs', async () => {
    opened(['legs', 'event', 'appliance']);
    await chooseOption('What came', 'tripped');
    fill('Switched on', 'oven');
    await send();
    fill('leg 1, W', '1200');
    fill('leg 2, W', '300');
    await send();
    expect(written).toMatchObject([{ event: 'trip', appliance: 'oven' }, { legW: [1200, 300] }]);
    fill('leg 1, W', 'much');
    await send();
    expect(refusal()).toMatch(/power of each leg in W/);
  });
});
