import { describe, expect, test } from '@jest/globals';
import { getTimes } from 'suncalc';
import { darkMonths, isSouthern } from './season.js';

/** Hours from sunrise to sunset in the middle of a month, from the library’s almanac. */
function dayHours(month: number, latitude: number): number {
  const { sunrise, sunset } = getTimes(new Date(Date.UTC(2023, month - 1, 15, 12)), latitude, 0);
  return (sunset!.getTime() - sunrise!.getTime()) / 3_600_000;
}

describe('the season of a home', () => {
  test('goes by its latitude, whatever its clocks do', () => {
    expect(isSouthern({ latitude: -36.8, timeZone: 'Europe/Lisbon' })).toBe(true);
    expect(isSouthern({ latitude: 38.7, timeZone: 'Pacific/Auckland' })).toBe(false);
  });

  // Which zones put their clocks forward in which half of the year: IANA time zone database.
  test.each([
    ['Pacific/Auckland', true],
    ['Australia/Adelaide', true],
    ['America/Santiago', true],
    ['Europe/Lisbon', false],
    ['Europe/Dublin', false],
    ['America/New_York', false],
    ['Africa/Johannesburg', null],
    ['Asia/Kolkata', null],
    ['UTC', null],
  ] as const)('is told by the clocks of %s where the latitude is not given', (timeZone, isSouth) => {
    expect(isSouthern({ timeZone })).toBe(isSouth);
    expect(darkMonths({ timeZone }) === null).toBe(isSouth === null);
  });

  test.each([-43.5, -12, 12, 51])(
    'has its dark months where the almanac has the shortest days: %d°',
    (latitude) => {
      const months = Array.from({ length: 12 }, (_, k) => k + 1);
      const shortest = [...months].sort((a, b) => dayHours(a, latitude) - dayHours(b, latitude)).slice(0, 4);
      expect([...darkMonths({ latitude, timeZone: 'UTC' })!].sort()).toEqual(shortest.sort());
    },
  );
});
