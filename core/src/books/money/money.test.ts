import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { analyse } from '../../report/report.js';
import type { System } from '../../system/schema.js';
import { logOf, systemOf, TEN_KWH, type Row } from '../../testing/logs.js';
import { parseSystem } from '../../system/parse.js';

type Tariff = NonNullable<System['tariffs']>[number];

const homeOf = (
  tariff: Partial<Tariff> | readonly Partial<Tariff>[],
  timeZone = 'UTC',
  more: Partial<System> = {},
): System => ({
  ...systemOf(TEN_KWH),
  timeZone,
  currency: 'EUR',
  tariffs: (Array.isArray(tariff) ? tariff : [tariff]).map((one: Partial<Tariff>) => ({
    from: '2023-01-01',
    ...one,
  })),
  ...more,
});
/** Hours of a home that buys and sells what a rule says, W. */
const hours = (count: number, gridW: (hour: number) => number): Row[] =>
  Array.from({ length: count }, (_, i) => ({
    grid_w: gridW(i),
    load_w: Math.max(0, gridW(i)),
    solar_w: Math.max(0, -gridW(i)),
    battery_w: 0,
    soc_pct: 50,
  }));
const figuresOf = async (system: System, rows: readonly Row[], start = '2024-01-01T00:00:00Z', step = 3600) =>
  analyse(system, [await logOf(rows, start, step)]).figures;
const value = (figures: Awaited<ReturnType<typeof figuresOf>>, key: string) =>
  figures[`money.${key}`]!.value!;

describe('bills, by hand', () => {
  test('741 and 267 kWh at 0.15 are 111.15 and 40.05; 343 kWh at 0.35 are 120.05 (common practice, no published source)', async () => {
    for (const [kWh, rate, bill] of [
      [741, 0.15, 111.15],
      [267, 0.15, 40.05],
      [343, 0.35, 120.05],
    ] as const) {
      const figures = await figuresOf(
        homeOf({ import: [{ rate }] }),
        hours(100, () => kWh * 10),
      );
      expect(value(figures, 'bill')).toBeCloseTo(bill, 9);
      expect(value(figures, 'withoutSystem')).toBeCloseTo(bill, 9);
      expect(value(figures, 'pricePerImportedKWh')).toBeCloseTo(rate, 12);
    }
  });

  test('windows follow the local clock over both changes, in Auckland and by half an hour on Lord Howe', async () => {
    // Night from 23:00 to 07:00 at 0.1, else 0.3; 1 kW all along.
    const tariff = { import: [{ rate: 0.3 }, { rate: 0.1, start: '23:00', end: '07:00' }] };
    for (const [zone, start, day, night] of [
      // A day of 25 h: the night has nine hours. One of 23 h: seven.
      ['Pacific/Auckland', '2024-04-06T11:00:00Z', 16, 9],
      ['Pacific/Auckland', '2024-09-28T12:00:00Z', 16, 7],
      ['Australia/Lord_Howe', '2024-04-06T13:00:00Z', 16, 8.5],
      ['Australia/Lord_Howe', '2024-10-05T13:30:00Z', 16, 7.5],
    ] as const) {
      const figures = await figuresOf(
        homeOf(tariff, zone),
        hours(2 * (day + night), () => 1000),
        start,
        1800,
      );
      expect(value(figures, 'bill')).toBeCloseTo(0.3 * day + 0.1 * night, 9);
    }
  });

  test('weekdays, months, dear days, dated rises and tax; the standing charge is kept apart', async () => {
    const week = { import: [{ rate: 0.2 }, { rate: 0.1, days: ['sat', 'sun'] as ('sat' | 'sun')[] }] };
    // 2024-01-01 is a Monday.
    expect(
      value(
        await figuresOf(
          homeOf(week),
          hours(168, () => 1000),
        ),
        'bill',
      ),
    ).toBeCloseTo(24 * (5 * 0.2 + 2 * 0.1), 9);
    const winter = { import: [{ rate: 0.2 }, { rate: 0.4, months: [1] }] };
    expect(
      value(
        await figuresOf(
          homeOf(winter),
          hours(48, () => 1000),
          '2024-01-31T00:00:00Z',
        ),
        'bill',
      ),
    ).toBeCloseTo(24 * 0.6, 9);
    const dear = {
      import: [{ rate: 0.2 }, { rate: 0.7, dayClass: 'dear' }],
      dayClasses: { dear: ['2024-01-02'] },
    };
    expect(
      value(
        await figuresOf(
          homeOf(dear),
          hours(72, () => 1000),
        ),
        'bill',
      ),
    ).toBeCloseTo(24 * 1.1, 9);
    const dated = [{ import: [{ rate: 0.2 }] }, { from: '2024-01-02', import: [{ rate: 0.3 }] }];
    expect(
      value(
        await figuresOf(
          homeOf(dated),
          hours(48, () => 1000),
        ),
        'bill',
      ),
    ).toBeCloseTo(24 * 0.5, 9);
    const taxed = await figuresOf(
      homeOf({ import: [{ rate: 0.2 }], export: [{ rate: 0.1 }], standingPerDay: 1, taxShare: 0.15 }),
      hours(48, (h) => (h < 24 ? 1000 : -500)),
    );
    expect(value(taxed, 'bill')).toBeCloseTo(1.15 * (24 * 0.2 - 12 * 0.1), 9);
    expect(value(taxed, 'standing')).toBeCloseTo(2.3, 9);
  });

  test('blocks count within the billing month, demand is its highest clock-aligned window', async () => {
    const blocks = { import: [{ rate: 0.2 }, { rate: 0.5, aboveKWh: 30 }] };
    // 48 kWh in January, of which 18 lie above the block's edge; February begins anew.
    const figures = await figuresOf(
      homeOf(blocks),
      hours(72, () => 1000),
      '2024-01-30T00:00:00Z',
    );
    expect(value(figures, 'bill')).toBeCloseTo(30 * 0.2 + 18 * 0.5 + 24 * 0.2, 9);
    const demand = {
      import: [{ rate: 0 }],
      demand: [{ ratePerKW: 4, windowMinutes: 30, start: '07:00', end: '21:00' }],
    };
    // 6 kW for a quarter of an hour at 08:45 and 09:00: no aligned half hour holds both.
    const quarters = await figuresOf(
      homeOf(demand),
      hours(96, (q) => (q === 35 || q === 36 ? 6000 : 0)),
      '2024-01-01T00:00:00Z',
      900,
    );
    expect(value(quarters, 'bill')).toBeCloseTo(4 * 3, 9);
  });

  test('net metering credits kWh, carries them on and settles them once a year', async () => {
    const net: Partial<Tariff> = {
      import: [{ rate: 0.3 }],
      exportScheme: 'net',
      settleMonth: 2,
      settleRate: 0.05,
    };
    // January: 24 kWh bought, 48 sold. February: 24 bought. 24 of credit are used in each; nothing is left.
    const days = hours(31 * 24 + 29 * 24, (h) =>
      h < 24 ? 1000 : h < 48 ? -2000 : h >= 31 * 24 && h < 32 * 24 ? 1000 : 0,
    );
    const figures = await figuresOf(homeOf(net), days);
    expect(value(figures, 'bill')).toBeCloseTo(0, 9);
    // Sold 72: of January's credit 48 are left, February uses 24, and 24 are settled at 0.05.
    const more = hours(60 * 24, (h) =>
      h < 24 ? 1000 : h < 48 ? -3000 : h >= 31 * 24 && h < 32 * 24 ? 1000 : 0,
    );
    expect(value(await figuresOf(homeOf(net), more), 'bill')).toBeCloseTo(-24 * 0.05, 9);
    expect(value(await figuresOf(homeOf({ ...net, exportScheme: 'none' }), days), 'bill')).toBeCloseTo(
      48 * 0.3,
      9,
    );
  });

  test('prices in the log lead over the tariff, negative ones too; an hour without a price is told, never zero', async () => {
    const rows = hours(24, () => 1000).map((row, i) => ({ ...row, import_rate: i < 12 ? -0.1 : 0.5 }));
    expect(
      value(await figuresOf(homeOf({ import: [{ rate: 9 }] }), rows as unknown as Row[]), 'bill'),
    ).toBeCloseTo(12 * 0.4, 9);
    const half = await figuresOf(
      homeOf({ import: [{ rate: 0.3, start: '06:00', end: '12:00' }] }),
      hours(48, () => 1000),
    );
    expect(half['money.bill']!.reason).toMatch(
      /36 of 48 kWh .* have no price, first at 2024-01-01 00:00\. Add an import rate/,
    );
  });
});

describe('the saving', () => {
  test('its parts add up to the last cent, over random homes and tariffs', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(
          fc.record({
            solar: fc.integer({ min: 0, max: 60 }),
            load: fc.integer({ min: 0, max: 40 }),
            battery: fc.integer({ min: -30, max: 30 }),
          }),
          { minLength: 30, maxLength: 80 },
        ),
        fc.integer({ min: 1, max: 50 }),
        fc.integer({ min: 0, max: 30 }),
        fc.constantFrom(0, 0.2),
        async (list, day, sell, taxShare) => {
          const rows: Row[] = list.map(({ solar, load, battery }) => ({
            solar_w: solar * 100,
            load_w: load * 100,
            battery_w: battery * 100,
            grid_w: (load - solar - battery) * 100,
            soc_pct: 50,
          }));
          const figures = await figuresOf(
            homeOf({
              import: [{ rate: day / 100 }, { rate: 0.1, start: '22:00', end: '06:00' }],
              export: [{ rate: sell / 100 }],
              taxShare,
            }),
            rows,
          );
          const parts = ['solarDirect', 'solarStored', 'shifted', 'export', 'other'].reduce(
            (sum, part) => sum + value(figures, `saving.${part}`),
            0,
          );
          expect(parts).toBeCloseTo(value(figures, 'saving'), 9);
          expect(value(figures, 'saving')).toBeCloseTo(
            value(figures, 'withoutSystem') - value(figures, 'bill'),
            9,
          );
          // Flows that close leave nothing over.
          expect(value(figures, 'saving.other')).toBeCloseTo(0, 9);
        },
      ),
      { numRuns: 40 },
    );
  });

  test('grid energy shifted from the night gains the difference of the rates less the losses', async () => {
    // 5 kWh charged at 0.1 by night, 4 kWh used at 0.4 by day.
    const rows: Row[] = Array.from({ length: 24 * 30 }, (_, i) => {
      const hour = i % 24;
      const battery = hour < 5 ? -1000 : hour >= 10 && hour < 14 ? 1000 : 0;
      return { solar_w: 0, load_w: 1000, battery_w: battery, grid_w: 1000 - battery, soc_pct: 50 };
    });
    const figures = await figuresOf(
      homeOf({ import: [{ rate: 0.4 }, { rate: 0.1, start: '22:00', end: '06:00' }] }),
      rows,
    );
    expect(value(figures, 'saving.shifted')).toBeCloseTo(30 * (4 * 0.4 - 5 * 0.1), 6);
    expect(value(figures, 'saving')).toBeCloseTo(30 * 1.1, 6);
  });

  test('without the battery solar alone serves the load and the rest is sold', async () => {
    const rows: Row[] = Array.from({ length: 48 }, (_, i) => {
      const sun = i % 24 >= 10 && i % 24 < 14 ? 3000 : 0;
      const battery = sun > 0 ? -2000 : i % 24 >= 18 && i % 24 < 22 ? 2000 : 0;
      return {
        solar_w: sun,
        load_w: sun > 0 ? 1000 : battery > 0 ? 2000 : 500,
        battery_w: battery,
        grid_w: sun > 0 ? 0 : battery > 0 ? 0 : 500,
        soc_pct: 50,
      };
    });
    const figures = await figuresOf(homeOf({ import: [{ rate: 0.3 }], export: [{ rate: 0.05 }] }), rows);
    expect(value(figures, 'withoutBattery')).toBeCloseTo(2 * ((8 + 8) * 0.3 - 8 * 0.05), 9);
    expect(value(figures, 'bill')).toBeCloseTo(2 * 8 * 0.3, 9);
  });
});

describe('payback', () => {
  const priced = (price: object, more: Partial<System> = {}): System => {
    const home = homeOf({ import: [{ rate: 0.3 }] }, 'UTC', more);
    return { ...home, configurations: [{ ...home.configurations![0]!, price }] } as System;
  };

  test('10 000 paid and 1 380 a year are 7.2 years (common practice, no published source)', async () => {
    // A year in which the load of 4 600 kWh at 0.30 is all served: 1 380 saved.
    const watts = (4600 * 1000) / (365.25 * 24);
    const rows: Row[] = Array.from({ length: 366 * 24 }, () => ({
      solar_w: watts,
      load_w: watts,
      grid_w: 0,
      battery_w: 0,
      soc_pct: 50,
    }));
    const figures = await figuresOf(priced({ paid: 11_000, incentives: 1000 }), rows, '2024-01-01T00:00:00Z');
    expect(value(figures, 'savingPerYear')).toBeCloseTo(1380, 6);
    expect(value(figures, 'payback')).toBeCloseTo(10_000 / 1380, 6);
    expect(value(figures, 'payback').toFixed(1)).toBe('7.2');
  });

  test('less than a year is told as its season’s, with a wide interval; without a price it says what is missing', async () => {
    const figures = await figuresOf(
      homeOf({ import: [{ rate: 0.3 }] }),
      hours(24 * 40, () => 500),
    );
    expect(figures['money.savingPerYear']!.assumptions.join(' ')).toMatch(
      /less than a year speaks for its season/,
    );
    expect(figures['money.payback']!.reason).toMatch(/cost is not described/);
  });
});

test('a tariff that is wrong is told with its key', () => {
  const file = (tariff: object) =>
    JSON.stringify({
      schema: 'long-tally/system@1',
      name: 'x',
      timeZone: 'UTC',
      tariffs: [{ from: '2024-01-01', ...tariff }],
    });
  expect(() => parseSystem(file({ import: [{ rate: 0.3, dayClass: 'dear' }] }), 's.json')).toThrow(
    /dayClass.*list the days of this class/is,
  );
  expect(() => parseSystem(file({ import: [{ rate: 0.3, months: [13] }] }), 's.json')).toThrow(/months\[0\]/);
  expect(() => parseSystem(file({ settleMonth: 0 }), 's.json')).toThrow(/settleMonth/);
});
