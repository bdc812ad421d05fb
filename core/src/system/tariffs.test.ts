import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { HALF_HOURS_A_WEEK, tariffAt, weekOf } from './tariffs.js';
import type { System } from './schema.js';

const DAY = 48;

describe('rates by half hour of the week', () => {
  test('later entries override earlier ones where they apply, over midnight too', () => {
    const week = weekOf([
      { rate: 0.34 },
      { rate: 0.19, start: '23:00', end: '07:00' },
      { rate: 0.25, days: ['sat', 'sun'] },
      { rate: 0.5, days: ['mon'], start: '17:30', end: '20:00' },
    ]);
    expect(week).toHaveLength(HALF_HOURS_A_WEEK);
    expect([week[0], week[13], week[14], week[45], week[46]]).toEqual([0.19, 0.19, 0.34, 0.34, 0.19]);
    expect([week[34], week[35], week[39], week[40]]).toEqual([0.34, 0.5, 0.5, 0.34]);
    // The weekend's rate comes after the night's, so it holds all day long.
    expect(new Set(week.slice(5 * DAY))).toEqual(new Set([0.25]));
  });

  test('are unknown where no entry applies', () => {
    const week = weekOf([{ rate: 0.2, days: ['tue'], start: '00:00', end: '24:00' }]);
    expect(week.filter((rate) => rate === 0.2)).toHaveLength(DAY);
    expect(week.filter((rate) => Number.isNaN(rate))).toHaveLength(6 * DAY);
    expect(weekOf([]).every((rate) => Number.isNaN(rate))).toBe(true);
  });

  test('a window and its rest fill the day between them (property)', () => {
    const clock = fc
      .tuple(fc.integer({ min: 0, max: 23 }), fc.constantFrom('00', '30'))
      .map(([hour, minute]) => `${String(hour).padStart(2, '0')}:${minute}`);
    fc.assert(
      fc.property(clock, clock, (start, end) => {
        fc.pre(start !== end);
        const inside = weekOf([{ rate: 1, start, end }]);
        const outside = weekOf([{ rate: 1, start: end, end: start }]);
        inside.forEach((rate, half) => expect(Number.isNaN(rate)).toBe(!Number.isNaN(outside[half]!)));
      }),
    );
  });
});

describe('the tariff of an instant', () => {
  const system = {
    timeZone: 'UTC',
    tariffs: [
      { from: '2023-01-01', import: [{ rate: 0.2 }] },
      { from: '2024-01-01', import: [{ rate: 0.3 }] },
    ],
  } as unknown as System;
  const rateAt = (text: string) => tariffAt(system, Date.parse(text))!.import![0]!.rate;

  test('is the last one begun, before all of them the first', () => {
    expect(rateAt('2022-05-01T00:00:00Z')).toBe(0.2);
    expect(rateAt('2023-12-31T23:59:00Z')).toBe(0.2);
    expect(rateAt('2024-01-01T00:00:00Z')).toBe(0.3);
    // At midnight where the home is: 13 hours before that of UTC in an Auckland summer.
    const auckland = { ...system, timeZone: 'Pacific/Auckland' };
    const rateIn = (text: string) => tariffAt(auckland, Date.parse(text))!.import![0]!.rate;
    expect([rateIn('2023-12-31T10:59:00Z'), rateIn('2023-12-31T11:00:00Z')]).toEqual([0.2, 0.3]);
    expect(tariffAt({ timeZone: 'UTC' }, 0)).toBeUndefined();
  });
});
