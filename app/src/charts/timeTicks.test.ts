import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { timeTicks } from './timeTicks.js';

const HOUR = 3_600_000;
const texts = (from: string, to: string, zone: string, most: number) =>
  timeTicks(Date.parse(from), Date.parse(to), zone, most).map(({ text }) => text);

describe('marks on an axis of time', () => {
  test('are round hours of the site’s clock, over both changes of the clock too', () => {
    expect(texts('2024-05-04T18:39:00+12:00', '2024-05-05T02:00:00+12:00', 'Pacific/Auckland', 12)).toEqual([
      '19:00',
      '20:00',
      '21:00',
      '22:00',
      '23:00',
      '00:00',
      '01:00',
      '02:00',
    ]);
    // IANA zones: on 31 March 2024 London has no 01:00 to 02:00.
    const spring = timeTicks(Date.UTC(2024, 2, 31), Date.UTC(2024, 2, 31, 23), 'Europe/London', 12);
    expect(spring.map(({ text }) => text).slice(0, 3)).toEqual(['00:00', '02:00', '04:00']);
    expect(spring[1]!.ms - spring[0]!.ms).toBe(HOUR);
    expect(spring[2]!.ms - spring[1]!.ms).toBe(2 * HOUR);
  });
  test('are days of a month, months of a year, years of many, never twice the same', () => {
    expect(texts('2024-09-01T00:00:00Z', '2024-10-01T00:00:00Z', 'UTC', 6)).toEqual([
      '1 Sept',
      '8 Sept',
      '15 Sept',
      '22 Sept',
      '29 Sept',
    ]);
    expect(texts('2023-04-01T00:00:00Z', '2024-10-01T00:00:00Z', 'UTC', 6)).toEqual([
      'Apr 2023',
      'Jul 2023',
      'Oct 2023',
      'Jan 2024',
      'Apr 2024',
      'Jul 2024',
      'Oct 2024',
    ]);
    expect(texts('2014-01-01T00:00:00Z', '2031-01-01T00:00:00Z', 'UTC', 8)).toContain('2020');
  });
  test('stand in order within the range and bear different texts, whatever the range', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: Date.UTC(2015, 0), max: Date.UTC(2030, 0) }),
        fc.double({ min: Math.log(30), max: Math.log(15 * 365 * 86_400), noNaN: true }),
        fc.constantFrom('UTC', 'Pacific/Auckland', 'Asia/Kathmandu', 'America/St_Johns'),
        fc.integer({ min: 4, max: 12 }),
        (fromMs, logS, zone, most) => {
          const toMs = fromMs + 1000 * Math.exp(logS);
          const ticks = timeTicks(fromMs, toMs, zone, most);
          expect(ticks.length).toBeLessThan(2.5 * most + 2);
          ticks.forEach(({ ms }, i) => {
            // Beyond days the offset of the range's beginning holds for all of it.
            expect(ms).toBeGreaterThanOrEqual(fromMs);
            expect(ms).toBeLessThanOrEqual(toMs);
            if (i > 0) expect(ms).toBeGreaterThan(ticks[i - 1]!.ms);
          });
          // An hour that the clock shows twice is written twice.
          const isClock = toMs - fromMs <= 72 * HOUR;
          if (!isClock) expect(new Set(ticks.map(({ text }) => text)).size).toBe(ticks.length);
        },
      ),
    );
  });
});
