import { afterEach, describe, expect, test } from '@jest/globals';
import { DEFAULT_SETTINGS, settingsSchema, type Settings } from '@long-tally/core';
import fc from 'fast-check';
import {
  celsiusOf,
  dateText,
  decimal,
  degreesTyped,
  localDateText,
  showAs,
  temperatureText,
  workingText,
  valueText,
} from './format.js';
import { shownLocal, typedLocal } from './localTime.js';

const as = (settings: Partial<Settings>) => showAs({ ...DEFAULT_SETTINGS, ...settings });
afterEach(() => showAs(DEFAULT_SETTINGS));

describe('texts as the reader has chosen', () => {
  test('numbers have the marks of thousands and decimals that are chosen', () => {
    const written = settingsSchema.shape.numbers.options.map((numbers) => {
      as({ numbers });
      return decimal(-1234567.5, 1);
    });
    expect(written).toEqual([
      '\u22121,234,567.5',
      '\u22121\u202f234\u202f567.5',
      '\u22121.234.567,5',
      '\u22121\u202f234\u202f567,5',
    ]);
  });

  test('dates have their order, in words and in fields, and are read in any of them', () => {
    const written = settingsSchema.shape.dates.options.map((dates) => {
      as({ dates });
      const field = shownLocal('2024-09-04T18:05', 'time');
      expect(typedLocal(field, 'time')).toBe('2024-09-04T18:05');
      expect(typedLocal(shownLocal('2024-09-04', 'date'), 'date')).toBe('2024-09-04');
      return [dateText('2024-09-04', 'plain'), dateText('2024-09-04', 'long'), field];
    });
    expect(written).toEqual([
      ['4 September 2024', 'Wednesday, 4 September 2024', '4 Sep 2024, 18:05'],
      ['September 4, 2024', 'Wednesday, September 4, 2024', 'Sep 4, 2024, 18:05'],
      ['2024-09-04', 'Wed 2024-09-04', '2024-09-04, 18:05'],
    ]);
    expect(localDateText(Date.parse('2024-09-04T20:00:00Z'), 'Pacific/Auckland')).toBe('2024-09-05');
  });

  test('temperatures are told in Celsius or Fahrenheit', () => {
    expect(temperatureText(21.5, 1)).toBe('21.5\u00a0°C');
    as({ temperature: 'F' });
    // The fixed points of the scale: ice at 32, boiling water at 212, and −40 the same on both.
    expect([0, 100, -40].map((celsius) => temperatureText(celsius, 0))).toEqual([
      '32\u00a0°F',
      '212\u00a0°F',
      '\u221240\u00a0°F',
    ]);
  });

  test('a temperature that is typed back as it stands is the same, in either measure', () => {
    for (const temperature of ['C', 'F'] as const) {
      as({ temperature });
      expect(degreesTyped(undefined)).toBe('');
      expect(celsiusOf(NaN)).toBeNaN();
      fc.assert(
        fc.property(fc.integer({ min: -6000, max: 12_000 }), (hundredths) => {
          const celsius = hundredths / 100;
          expect(celsiusOf(Number(degreesTyped(celsius)))).toBeCloseTo(celsius, 2);
        }),
      );
    }
    expect(celsiusOf(212)).toBe(100);
    // A round number stays round: it was typed so.
    expect(degreesTyped(celsiusOf(65))).toBe('65');
  });

  test('energies have the decimals that are chosen, other figures their own', () => {
    expect([valueText(12.345, 'kWh'), valueText(2345.6, 'kWh')]).toEqual(['12.3', '2,346']);
    as({ energyDigits: '2' });
    expect([valueText(12.345, 'kWh'), valueText(2345.6, 'kWh'), valueText(0.5, 'share')]).toEqual([
      '12.35',
      '2,345.60',
      '50.0',
    ]);
  });
});

describe('a line of a working', () => {
  const line = { label: 'meter', value: 0.0125, unit: 'share', role: 'uncertainty' } as const;
  test('shows a part of the interval with the sides that it widens', () => {
    expect(workingText(line)).toBe('±1.25');
    expect(workingText({ ...line, side: 'above' })).toBe('+1.25');
    expect(workingText({ ...line, side: 'below' })).toBe('\u22121.25');
    expect(workingText({ ...line, value: 12.5, unit: 'kWh', side: 'above' })).toBe('+12.5');
    expect(workingText({ ...line, value: 0.85, role: 'result' })).toBe('85.0');
  });
});
