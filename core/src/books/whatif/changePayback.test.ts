import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { changePayback } from './changePayback.js';

test('a price over the saving a year is its payback, held by the saving’s interval', () => {
  // By hand: 200 saved in 365.25 days (160 to 250), 4000 paid: 20 years, 16 to 25.
  const told = changePayback(4000, { value: -200, low: -250, high: -160 }, 365.25, 365.25, 'EUR');
  expect(told.savedPerYear).toEqual({ value: 200, low: 160, high: 250 });
  expect(told.years).toEqual({ value: 20, low: 16, high: 25 });
  expect(told.says).toMatch(
    /^It costs 4,000 EUR and saves 200 EUR a year \(160 to 250\): paid back in 20\.0 years, 16\.0 at best, 25\.0 at worst/,
  );
});

test('what was not logged is taken to save as the rest did', () => {
  const told = changePayback(1000, { value: -50, low: -50, high: -50 }, 365.25, 182.625, 'EUR');
  expect([told.savedPerYear!.value, told.years!.value]).toEqual([100, 10]);
});

test('two years of the log save twice as much in the same time', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 1, max: 1e4, noNaN: true }),
      fc.double({ min: 400, max: 2000, noNaN: true }),
      (saved, days) => {
        const of = (years: number) =>
          changePayback(
            1000,
            { value: -saved * years, low: -saved * years, high: -saved * years },
            days * years,
            days * years,
            '',
          ).years!.value;
        expect(of(2)).toBeCloseTo(of(1), 6);
      },
    ),
  );
});

test('what is never paid back, may never be, or is not known is said', () => {
  expect(changePayback(900, { value: 50, low: 40, high: 60 }, 366, 366, 'EUR')).toMatchObject({
    years: null,
    says: expect.stringMatching(/saves nothing.*higher by 50 EUR a year \(40 to 60\)/),
  });
  const perhaps = changePayback(900, { value: -30, low: -80, high: 20 }, 365.25, 365.25, 'EUR');
  expect(perhaps.years).toMatchObject({ value: 30, high: null });
  expect(perhaps.says).toContain('at worst never');
  expect(changePayback(900, null, 366, 366, 'EUR').says).toContain('needs a load in the log and a tariff');
  expect(changePayback(900, { value: -30, low: -40, high: -20 }, 90, 90, 'EUR')).toMatchObject({
    savedPerYear: null,
    says: expect.stringMatching(/90 days do not tell/),
  });
});
