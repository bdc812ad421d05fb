import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { zoneOf } from '../time/zone.js';
import type { System } from './schema.js';
import { appliesOn, ratesOfDay, SLOTS_A_DAY, tariffAt, tariffsInOrder, type Tariff } from './tariffs.js';

const dayOf = (date: string) => Date.parse(`${date}T00:00:00Z`) / 86_400_000;
const rates = (list: Tariff['import'], date: string, more: Partial<Tariff> = {}) =>
  ratesOfDay({ from: '2023-01-01', import: list, ...more }, 'import', dayOf(date));
/** Slot of a time of day. */
const at = (hour: number, minute = 0) => hour * 12 + minute / 5;

describe('rates of a day', () => {
  test('later entries override earlier ones where they apply, over midnight too', () => {
    const list: Tariff['import'] = [
      { rate: 0.34 },
      { rate: 0.19, start: '23:00', end: '07:00' },
      { rate: 0.25, days: ['sat', 'sun'] },
      { rate: 0.5, days: ['mon'], start: '17:30', end: '20:00' },
    ];
    // 2024-01-01 is a Monday.
    const monday = rates(list, '2024-01-01');
    expect([monday[0], monday[at(6, 55)], monday[at(7)], monday[at(22, 55)], monday[at(23)]]).toEqual([
      0.19, 0.19, 0.34, 0.34, 0.19,
    ]);
    expect([monday[at(17, 25)], monday[at(17, 30)], monday[at(19, 55)], monday[at(20)]]).toEqual([
      0.34, 0.5, 0.5, 0.34,
    ]);
    // The weekend's rate comes after the night's, so it holds all day long.
    expect(new Set(rates(list, '2024-01-06'))).toEqual(new Set([0.25]));
  });

  test('months and announced days have rates of their own; blocks are a matter of the bill', () => {
    const list: Tariff['import'] = [
      { rate: 0.2 },
      { rate: 0.3, months: [12, 1] },
      { rate: 0.9, dayClass: 'dear' },
      { rate: 5, aboveKWh: 300 },
    ];
    const dear = { dayClasses: { dear: ['2024-01-15'] } };
    expect(new Set(rates(list, '2024-06-01', dear))).toEqual(new Set([0.2]));
    expect(new Set(rates(list, '2024-01-14', dear))).toEqual(new Set([0.3]));
    expect(new Set(rates(list, '2024-01-15', dear))).toEqual(new Set([0.9]));
    expect(appliesOn({ dayClass: 'dear' }, { from: '2023-01-01' }, dayOf('2024-01-15'))).toBe(false);
  });

  test('are unknown where no entry applies', () => {
    const list: Tariff['import'] = [{ rate: 0.2, days: ['tue'], start: '00:00', end: '24:00' }];
    expect(rates(list, '2024-01-02').every((rate) => rate === 0.2)).toBe(true);
    expect(rates(list, '2024-01-03').every((rate) => Number.isNaN(rate))).toBe(true);
  });

  test('a window and its rest fill the day between them (property)', () => {
    const clock = fc
      .tuple(fc.integer({ min: 0, max: 23 }), fc.constantFrom('00', '05', '30'))
      .map(([hour, minute]) => `${String(hour).padStart(2, '0')}:${minute}`);
    fc.assert(
      fc.property(clock, clock, (start, end) => {
        fc.pre(start !== end);
        const inside = rates([{ rate: 1, start, end }], '2024-01-01');
        const outside = rates([{ rate: 1, start: end, end: start }], '2024-01-01');
        expect(inside).toHaveLength(SLOTS_A_DAY);
        expect([...inside].map(Number.isNaN)).toEqual([...outside].map((rate) => !Number.isNaN(rate)));
      }),
    );
  });
});

describe('the tariff of an instant', () => {
  const system: Pick<System, 'tariffs'> = {
    tariffs: [
      { from: '2024-01-01', import: [{ rate: 0.3 }] },
      { from: '2023-01-01', import: [{ rate: 0.2 }] },
    ],
  };
  const rateIn = (zone: string, text: string) =>
    tariffAt(tariffsInOrder(system, zoneOf(zone)), Date.parse(text))!.import![0]!.rate;

  test('is the last one begun, before all of them the first', () => {
    expect(rateIn('UTC', '2022-05-01T00:00:00Z')).toBe(0.2);
    expect(rateIn('UTC', '2023-12-31T23:59:00Z')).toBe(0.2);
    expect(rateIn('UTC', '2024-01-01T00:00:00Z')).toBe(0.3);
    // At midnight where the home is: 13 hours before that of UTC in an Auckland summer.
    expect(rateIn('Pacific/Auckland', '2023-12-31T10:59:00Z')).toBe(0.2);
    expect(rateIn('Pacific/Auckland', '2023-12-31T11:00:00Z')).toBe(0.3);
    expect(tariffAt([], 0)).toBeUndefined();
  });
});
