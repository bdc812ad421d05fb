import { afterEach, describe, expect, test } from '@jest/globals';
import { DEFAULT_SETTINGS, settingsSchema, type Settings } from '@long-tally/core';
import fc from 'fast-check';
import { showAs, valueText } from './format.js';
import { localized } from './localized.js';

const as = (settings: Partial<Settings>) => showAs({ ...DEFAULT_SETTINGS, ...settings });
afterEach(() => showAs(DEFAULT_SETTINGS));

/** The thin space between thousands. */
const THIN = '\u202f';

describe('sentences of the computation, as their reader writes', () => {
  test.each([
    ['7.5 % of what came in (1266 to 3051 kWh)', '7,5 % of what came in (1.266 to 3.051 kWh)'],
    ['counts 1988.0 kWh of import; × 1.028 in all', 'counts 1.988,0 kWh of import; × 1,028 in all'],
    ['grid meter, ±5.5 W zero for 13316 h', 'grid meter, ±5,5 W zero for 13.316 h'],
    ['discharge in 1263 windows', 'discharge in 1.263 windows'],
    ['rose about 2024-05-14: 171.5 kWh, or 0.5: so', 'rose about 14 May 2024: 171,5 kWh, or 0,5: so'],
  ])('%s', (canonical, written) => {
    as({ numbers: '1.234,5' });
    expect(localized(canonical)).toBe(written);
  });

  test.each([
    'R. Luthander et al., Applied Energy 142 (2015).',
    'EU Regulation 2023/1542, Annex VII; IEC 61724-1; IEC 62933-2-1; ASTM E1049-85, 5.4.4; JCGM 100:2008',
    'doi 10.1016/j.apenergy.2014.12.028, in 2015 or 2016',
    'IEEE Std 1366 (from memory).',
    'meter-1.5.csv and export 2.5.xlsx, version 1.2.3',
    'from 08:30 to 17:45',
    'The equipment reported “E 12.5 at 3.5 V” twice.',
    'log-2024-05-14.csv',
  ])('what is no quantity stays: %s', (text) => {
    as({ numbers: '1.234,5', dates: 'Sep 14, 2024', temperature: 'F' });
    expect(localized(text)).toBe(text);
  });

  test('days stand in the reader’s order, with their time', () => {
    const text = 'The load came to 7.3 kW at 2024-09-04 19:35, not before 2024-13-30.';
    expect(localized(text)).toBe(
      'The load came to 7.3 kW at 4 September 2024, 19:35, not before 2024-13-30.',
    );
    as({ dates: 'Sep 14, 2024' });
    expect(localized(text)).toBe(
      'The load came to 7.3 kW at September 4, 2024, 19:35, not before 2024-13-30.',
    );
    as({ dates: '2024-09-14' });
    expect(localized(text)).toBe(text.replace('04 19', '04, 19'));
  });

  test('temperatures are in the reader’s degrees, both ends of a range too', () => {
    as({ temperature: 'F' });
    expect(localized('charged below 0 °C')).toBe('charged below 32 °F');
    expect(localized('outside 10 to 35 °C, where')).toBe('outside 50 to 95 °F, where');
    expect(localized('between -5.5 and 20 °C.')).toBe('between 22.1 and 68 °F.');
    expect(localized('a sensor that is off by 0.5 K')).toBe('a sensor that is off by 0.5 K');
    expect(valueText(15.5, '°C')).toBe('59.9');
    as({});
    expect(localized('between 10 and 35 °C')).toBe('between 10 and 35 °C');
  });

  test('the number that is written is the number that was meant, whatever its marks', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1e7, noNaN: true }),
        fc.integer({ min: 1, max: 4 }),
        fc.constantFrom(...settingsSchema.shape.numbers.options),
        (value, digits, numbers) => {
          as({ numbers });
          const canonical = value.toFixed(digits);
          const [thousands, point] = numbers.endsWith(',5')
            ? [numbers.startsWith('1.') ? '.' : THIN, ',']
            : [numbers.startsWith('1,') ? ',' : THIN, '.'];
          const written = /^about (.*) kWh$/.exec(localized(`about ${canonical} kWh`))![1]!;
          expect(written.replaceAll(thousands, '').replace(point, '.')).toBe(canonical);
          expect(
            written
              .split(point)[0]!
              .split(thousands)
              .slice(1)
              .every((three) => three.length === 3),
          ).toBe(true);
        },
      ),
    );
  });

  test('a text without a number stays as it is', () => {
    fc.assert(
      fc.property(
        fc.string().filter((text) => !/\d/.test(text)),
        (text) => expect(localized(text)).toBe(text),
      ),
    );
  });
});
