import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { byMeter, contactsOf, GRAINS, periodsOf } from './periods.js';
import type { DayNote, RollDay } from './roll.js';

const DAY_MS = 86_400_000;
const DAY: Omit<RollDay, 'date' | 'fromMs' | 'toMs'> = {
  ...{
    solar: 3,
    load: 2,
    import: 1,
    export: 0.5,
    charge: 1,
    discharge: 0.5,
    closing: 0.1,
    holdsOwnDraw: false,
  },
  ...{ inflow: 4, coverage: 1, gridFree: false, notes: [], weather: null, longer: [] },
};
/** Days from a date on, each with what is said of it. */
const rollFrom = (
  first: string,
  count: number,
  at: (day: number) => Partial<RollDay> = () => ({}),
): RollDay[] =>
  Array.from({ length: count }, (_, i) => {
    const fromMs = Date.parse(first) + i * DAY_MS;
    return {
      ...DAY,
      date: new Date(fromMs).toISOString().slice(0, 10),
      fromMs,
      toMs: fromMs + DAY_MS,
      ...at(i),
    };
  });

describe('the periods of a range', () => {
  test('are days, months and years, the first and the last cut by the range', () => {
    const days = rollFrom('2023-12-30', 40);
    const range = { from: 1, to: 33 };
    const keys = (grain: (typeof GRAINS)[number]) => periodsOf(days, range, grain).map(({ key }) => key);
    expect(keys('month')).toEqual(['2023-12', '2024-01', '2024-02']);
    expect(keys('year')).toEqual(['2023', '2024']);
    expect(keys('day')).toHaveLength(33);
    const [december, january] = periodsOf(days, range, 'month');
    expect([december!.sum.load, january!.sum.load]).toEqual([2, 62]);
  });

  test('stand beside the same days of the year before, where the roll has all of them', () => {
    const days = rollFrom('2023-01-10', 400, (i) => ({ load: i < 365 ? 2 : 5 }));
    const at = (date: string) => days.findIndex((day) => day.date === date);
    const [january, february] = periodsOf(days, { from: at('2024-01-05'), to: at('2024-02-10') }, 'month');
    // The roll begins on the 10th, so the January before is not all there.
    expect(january!.before).toBeNull();
    expect([february!.sum.load, february!.before!.load]).toEqual([50, 20]);
  });

  test('have the 28th of February beside the 29th', () => {
    const days = rollFrom('2023-02-01', 420, (i) => ({ load: i }));
    const at = (date: string) => days.findIndex((day) => day.date === date);
    const [leap] = periodsOf(days, { from: at('2024-02-29'), to: at('2024-02-29') }, 'day');
    expect(leap!.before!.load).toBe(at('2023-02-28'));
    const [month] = periodsOf(days, { from: at('2024-02-01'), to: at('2024-02-29') }, 'month');
    expect(month!.before).toMatchObject({ solar: 28 * 3 });
  });

  test('hold every day of the range once, and add up to it', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 500 }),
        fc.integer({ min: 0, max: 499 }),
        fc.integer({ min: 0, max: 499 }),
        fc.constantFrom(...GRAINS),
        (count, a, b, grain) => {
          const days = rollFrom('2022-11-17', count, (i) => ({ load: (i * 37) % 11 }));
          const [from, to] = [Math.min(a, b) % count, Math.max(a, b) % count].sort((x, y) => x - y) as [
            number,
            number,
          ];
          const periods = periodsOf(days, { from, to }, grain);
          expect(periods[0]!.from).toBe(from);
          expect(periods.at(-1)!.to).toBe(to);
          periods.slice(1).forEach((period, k) => expect(period.from).toBe(periods[k]!.to + 1));
          const load = periods.reduce((sum, period) => sum + period.sum.load!, 0);
          expect(load).toBe(days.slice(from, to + 1).reduce((sum, day) => sum + day.load!, 0));
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('self-sufficiency by the meter', () => {
  const of = (load: number | null, bought: number | null) =>
    byMeter({
      ...periodsOf(rollFrom('2024-01-01', 1), { from: 0, to: 0 }, 'day')[0]!.sum,
      load,
      import: bought,
    });
  test('is the share of the load that was not bought, and nothing where either is unknown', () => {
    expect(of(10, 2.5)).toBe(0.75);
    expect(of(10, 0)).toBe(1);
    // What charges the battery from the grid may be more than the load.
    expect(of(10, 12)).toBeCloseTo(-0.2, 12);
    expect([of(null, 2), of(10, null), of(0, 1)]).toEqual([null, null, null]);
  });
});

describe('days that touched the grid', () => {
  const note = (kind: DayNote['kind']) => ({ kind }) as DayNote;
  test('come newest first, each with every cause that its notes name', () => {
    const days = rollFrom('2024-06-01', 6, (i) => ({
      gridFree: [false, true, false, null, false, false][i]!,
      notes: [[note('configuration')], [], [note('cold'), note('battery-empty')], [], [note('journal')], []][
        i
      ]!,
    }));
    expect(contactsOf(days, { from: 0, to: 4 })).toEqual([
      { index: 4, causes: ['journal'] },
      { index: 2, causes: ['battery-empty', 'cold'] },
      // A change of configuration explains nothing by itself.
      { index: 0, causes: ['none'] },
    ]);
  });
});
