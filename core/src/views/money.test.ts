import { describe, expect, test } from '@jest/globals';
import { prepare } from '../passes/prepare.js';
import type { System } from '../system/schema.js';
import { HAND_HOME, hourlyLog, rangeOf } from '../testing/handHome.js';
import { moneyView } from './money.js';

/** 60 days by the hour: 2 kWh are bought in each of four evening hours, 1 kWh is sold at noon. */
const log = hourlyLog(60, (hour) => {
  const clock = hour % 24;
  const [solar, load] = [clock === 12 ? 1500 : 0, clock >= 18 && clock < 22 ? 2000 : clock === 12 ? 500 : 0];
  return { solar, load, grid: load - solar, battery: 0, soc: 0.2 };
});
const viewOf = (system: System) => moneyView(prepare(system, [log]), rangeOf(log));
const NIGHT: System = {
  ...HAND_HOME,
  tariffs: [
    {
      from: '2023-01-01',
      standingPerDay: 0.5,
      import: [{ rate: 0.4 }, { rate: 0.1, start: '20:00', end: '06:00' }],
      export: [{ rate: 0.05 }],
      billingDay: 1,
    },
  ],
};

describe('what the Money view shows', () => {
  test('has a bill a month that add up to the range, each with its standing charge apart', () => {
    const { bills, figures } = viewOf(NIGHT);
    expect(bills.map(({ days }) => days)).toEqual([31, 29]);
    // A day: two hours at 0.4, two at 0.1, of 2 kWh each; 1 kWh sold at 0.05; 0.5 for the day.
    const day = 2 * 2 * 0.4 + 2 * 2 * 0.1 - 0.05;
    for (const { days, bill, standing, importKWh, exportKWh, withoutSystem } of bills) {
      expect(standing).toBeCloseTo(0.5 * days, 9);
      expect([importKWh / days, exportKWh / days]).toEqual([expect.closeTo(8, 9), expect.closeTo(1, 9)]);
      expect(bill).toBeCloseTo(days * day, 6);
      // Without sun the half kilowatt-hour of noon would have been bought as well.
      expect(withoutSystem).toBeCloseTo(days * (day + 0.05 + 0.5 * 0.4), 6);
    }
    expect(bills.reduce((sum, { bill }) => sum + bill, 0)).toBeCloseTo(60 * day, 6);
    expect(figures['money.bill']!.value).not.toBeNull();
  });

  test('knows for every hour of the day what was bought and sold in it, and at what price', () => {
    const { hours } = viewOf(NIGHT);
    expect(hours).toHaveLength(24);
    hours.forEach(({ rate, boughtKWh, soldKWh }, hour) => {
      expect(rate).toBeCloseTo(hour >= 20 || hour < 6 ? 0.1 : 0.4, 9);
      expect(boughtKWh).toBeCloseTo(hour >= 18 && hour < 22 ? 120 : 0, 9);
      expect(soldKWh).toBeCloseTo(hour === 12 ? 60 : 0, 9);
    });
  });

  test('puts the hours where the home has them, not at Greenwich', () => {
    const { hours } = viewOf({ ...NIGHT, timeZone: 'Asia/Tokyo' });
    // Noon of the log is nine in the evening there.
    expect(hours.map(({ soldKWh }) => soldKWh > 0).indexOf(true)).toBe(21);
  });

  test('allows for what an hour hides of a home without a battery, on the side where its prices put it', () => {
    // Sun and load take turns by the quarter of an hour; the battery carries one into the other.
    const turns = hourlyLog(30, (hour) => {
      const [solar, load] = hour % 2 === 0 ? [2000, 0] : [0, 2000];
      return { solar, load, grid: 0, battery: load - solar, soc: 0.5 };
    });
    const figureOf = (sold: number) => {
      const tariffs = [{ from: '2023-01-01', import: [{ rate: 0.3 }], export: [{ rate: sold }] }];
      const system = {
        ...HAND_HOME,
        tariffs,
        accuracy: { solar: 0, load: 0, grid: 0, battery: 0, offsetW: 0 },
      };
      return moneyView(prepare(system, [turns]), rangeOf(turns)).figures['money.withoutBattery']!;
    };
    const [usual, dear] = [figureOf(0.1), figureOf(0.5)];
    // 720 kWh are bought and 720 sold: joined by fours all of it would meet, and seven tenths of that may be hidden already.
    expect(usual.value).toBeCloseTo(720 * 0.2, 6);
    expect(usual.high! - usual.value!).toBeCloseTo((720 * 0.2) / (4 ** 0.64 - 1), 6);
    expect(usual.low).toBeCloseTo(usual.value!, 6);
    expect(dear.value! - dear.low!).toBeCloseTo((720 * 0.2) / (4 ** 0.64 - 1), 6);
    expect(dear.high).toBeCloseTo(dear.value!, 6);
  });

  test('is without bills where nothing is priced, and still sets the range beside others', () => {
    const { bills, hours, payback, figures, like } = viewOf({ ...HAND_HOME, tariffs: [] });
    expect([bills, hours, payback]).toEqual([[], [], null]);
    expect(figures['money.bill']!.reason).toMatch(/tariff/);
    expect(like).toBeDefined();
  });
});
