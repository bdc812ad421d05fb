import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { monthMoves } from './monthMoves.js';
import { STILL } from './runDoubts.js';
import type { MonthValues } from './scenarioCourses.js';

const monthOf = (month: number, days: number, bought: number, load = 10): MonthValues => ({
  ...{ month, days, load, import: bought, export: 2, unserved: NaN, survive24: NaN },
  ...{ selfSufficiency: 1 - bought / load, importH: 0, exportH: 0 },
});
const MOVE = { half: 100, below: -40, above: 10 };

describe('how far the months of a run may move', () => {
  test('is dealt out by what each has of it, by hand', () => {
    const months = [monthOf(0, 30, 8), monthOf(6, 20, 0), monthOf(11, 10, 6)];
    const move = monthMoves(
      months,
      'import',
      () => MOVE,
      (one) => one.import,
    );
    // 240 of 300 kWh were bought in January: 80 of the 100 kWh in 30 days.
    expect(move(months[0]!).half).toBeCloseTo(80 / 30, 12);
    expect(move(months[0]!).below).toBeCloseTo(-32 / 30, 12);
    expect(move(months[2]!).above).toBeCloseTo(2 / 10, 12);
    expect(move(months[1]!).half).toBe(0);
  });

  test('comes to what the whole range moves by, for energies and for shares of the load', () => {
    const month = fc.record({
      days: fc.double({ min: 0.5, max: 31, noNaN: true }),
      load: fc.double({ min: 1, max: 60, noNaN: true }),
      amount: fc.double({ min: -20, max: 20, noNaN: true }),
    });
    fc.assert(
      fc.property(fc.array(month, { minLength: 1, maxLength: 12 }), fc.boolean(), (drawn, isShare) => {
        const months = drawn.map(({ days, load }, k) => monthOf(k, days, 1, load));
        const amountOf = ({ month: k }: MonthValues) => drawn[k]!.amount;
        fc.pre(drawn.some(({ amount }) => Math.abs(amount) > 1e-3));
        const key = isShare ? 'selfSufficiency' : 'import';
        const move = monthMoves(months, key, () => MOVE, amountOf);
        const size = (one: MonthValues) => one.days * (isShare ? one.load : 1);
        const whole = months.reduce((sum, one) => sum + size(one) * move(one).half, 0);
        const of = isShare ? months.reduce((sum, one) => sum + size(one), 0) : 1;
        expect(whole / of).toBeCloseTo(MOVE.half, 6);
        for (const one of months) expect(move(one).below).toBeLessThanOrEqual(0);
      }),
    );
  });

  test('is asked of the figure of the range that a month’s is a part of, and nothing of the others', () => {
    const months = [monthOf(0, 31, 8)];
    const asked: string[] = [];
    const rangeMove = (key: string) => {
      asked.push(key);
      return MOVE;
    };
    for (const key of ['import', 'export', 'selfSufficiency', 'unserved', 'survive24'] as const)
      monthMoves(months, key, rangeMove, (one) => one[key])(months[0]!);
    expect(asked).toEqual(['account.import', 'account.export', 'account.selfSufficiency.grid']);
    expect(monthMoves(months, 'survive24', rangeMove, () => 1)(months[0]!)).toEqual(STILL);
  });

  test('is nothing where nothing is changed, and of a home whose amounts are not known', () => {
    const months = [monthOf(0, 31, 8), monthOf(1, 28, 7)];
    expect(
      monthMoves(
        months,
        'import',
        () => MOVE,
        () => 0,
      )(months[0]!).half,
    ).toBe(0);
    expect(
      monthMoves(
        months,
        'import',
        () => MOVE,
        () => NaN,
      )(months[0]!).half,
    ).toBe(0);
  });
});
