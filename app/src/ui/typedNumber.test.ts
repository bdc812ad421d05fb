import { afterEach, describe, expect, test } from '@jest/globals';
import { DEFAULT_SETTINGS, settingsSchema, type Settings } from '@long-tally/core';
import fc from 'fast-check';
import { decimal, fieldText, showAs } from './format.js';
import { typedDecimals, typedNumber } from './typedNumber.js';

const EVERY: readonly Settings['numbers'][] = settingsSchema.shape.numbers.options;
const as = (numbers: Settings['numbers']) => showAs({ ...DEFAULT_SETTINGS, numbers });
afterEach(() => showAs(DEFAULT_SETTINGS));

describe('a number that is typed', () => {
  test.each(EVERY)('has a decimal point or a comma to a reader of %s', (numbers) => {
    as(numbers);
    for (const [text, value] of [
      ['12.5', 12.5],
      ['12,5', 12.5],
      ['0,125', 0.125],
      ['0.125', 0.125],
      [' -3,25 ', -3.25],
      ['\u22123', -3],
      ['12345.6', 12_345.6],
      ['12345,678', 12_345.678],
    ] as const)
      expect([text, typedNumber(text)]).toEqual([text, value]);
    for (const text of ['', ' ', 'abc', '1,2,3', '1.23.4', '12 34', '1,234 567', '1.2,3.4'])
      expect([text, typedNumber(text)]).toEqual([text, NaN]);
  });

  test.each(EVERY)('may have thousands where they can be nothing else, to a reader of %s', (numbers) => {
    as(numbers);
    for (const [text, value] of [
      ['1,234.5', 1234.5],
      ['1.234,5', 1234.5],
      ['12 345', 12_345],
      ['12\u202f345,6', 12_345.6],
      ['1,234,567', 1_234_567],
      ['1.234.567,89', 1_234_567.89],
      ['-1’234.5', -1234.5],
    ] as const)
      expect([text, typedNumber(text)]).toEqual([text, value]);
  });

  test('with one mark before three digits goes by the marks that the reader has chosen', () => {
    const read = (numbers: Settings['numbers']) => {
      as(numbers);
      return [typedNumber('12,345'), typedNumber('12.345')];
    };
    expect(read('1,234.5')).toEqual([12_345, 12.345]);
    expect(read('1.234,5')).toEqual([12.345, 12_345]);
    expect(read('1 234.5')).toEqual([12.345, 12.345]);
    expect(read('1 234,5')).toEqual([12.345, 12.345]);
  });

  test('is what the application writes, and what it puts into a field to be changed', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...EVERY),
        fc.double({ min: -1e8, max: 1e8, noNaN: true }),
        fc.integer({ min: 0, max: 4 }),
        (numbers, value, digits) => {
          as(numbers);
          const rounded = Number(value.toFixed(digits));
          expect(typedNumber(decimal(rounded, digits))).toBeCloseTo(rounded, digits + 1);
          expect(typedNumber(fieldText(rounded)) === rounded).toBe(true);
        },
      ),
      { numRuns: 500 },
    );
  });

  test('keeps the count of its decimals, by which a counter is known to step', () => {
    for (const [text, digits] of [
      ['12345', 0],
      ['12345.60', 2],
      ['12345,6', 1],
      ['12,345', 0],
      ['12,345.6', 1],
      ['1.23456789', 6],
      ['7.', 0],
      ['', 0],
    ] as const)
      expect([text, typedDecimals(text)]).toEqual([text, digits]);
    as('1.234,5');
    expect(typedDecimals('12,345')).toBe(3);
  });
});
