import { describe, expect, test } from '@jest/globals';
import { analyse } from '../../report/report.js';
import type { System } from '../../system/schema.js';
import { logOf, read, systemOf, TEN_KWH, type Row } from '../../testing/logs.js';

const homeOf = (tariff: Partial<NonNullable<System['tariffs']>[number]>): System => ({
  ...systemOf(TEN_KWH),
  currency: 'EUR',
  tariffs: [{ from: '2023-01-01', ...tariff }],
});
const NIGHT = {
  import: [{ rate: 0.3 }, { rate: 0.1, start: '00:00', end: '05:00' }],
  export: [{ rate: 0.05 }],
};
const STATEMENT = `month,import_kwh,export_kwh,load_kwh
2024-01,400,50,500
2024-02,350,90,480
2024-03,250,200,450
2024-04,150,300,400
`;
const figuresOf = async (
  system: System,
  text: string,
  rows?: readonly Row[],
  start = '2023-11-01T00:00:00Z',
) => {
  const { log } = await read(text, 'statement.csv', undefined, system);
  const course = rows ? [await logOf(rows, start, 3600)] : [];
  return analyse(system, [log, ...course]).figures;
};

describe('totals without a course, by hand', () => {
  test('at one rate the hours do not matter: 1150 kWh at 0.30, 640 sold at 0.05, standing 0.50 a day', async () => {
    const figures = await figuresOf(
      homeOf({ standingPerDay: 0.5, import: [{ rate: 0.3 }], export: [{ rate: 0.05 }] }),
      STATEMENT,
    );
    expect(figures['money.importCost']!.value).toBeCloseTo(345, 6);
    expect(figures['money.exportIncome']!.value).toBeCloseTo(32, 6);
    expect(figures['money.bill']!.value).toBeCloseTo(313, 6);
    expect(figures['money.standing']!.value).toBeCloseTo(121 * 0.5, 6);
    expect(figures['money.withoutSystem']!.value).toBeCloseTo(1830 * 0.3, 6);
    expect(figures['money.saving']!.value).toBeCloseTo(549 - 313, 6);
    const { low, high, status } = figures['money.importCost']!;
    expect([status, (high! - low!) / 2]).toEqual(['estimated', expect.closeTo(0.02 * 345, 6)]);
  });

  test('windows by even hours, five of twenty-four at 0.10; the bounds are all in one window', async () => {
    const { 'money.importCost': cost, 'money.pricePerImportedKWh': price } = await figuresOf(
      homeOf(NIGHT),
      STATEMENT,
    );
    expect(cost!.value).toBeCloseTo(1150 * ((5 * 0.1 + 19 * 0.3) / 24), 6);
    expect(price!.low).toBeCloseTo(0.1, 9);
    expect(price!.high).toBeCloseTo(0.3, 9);
  });

  test('a home whose log shows that it buys by night alone has its totals priced so', async () => {
    // Two weeks of a log: 2 kW from midnight to five, nothing else.
    const rows = Array.from({ length: 14 * 24 }, (_, i): Row => ({
      grid_w: i % 24 < 5 ? 2000 : 0,
      load_w: 400,
      soc_pct: 50,
      battery_w: 0,
    }));
    const { 'money.importCost': cost } = await figuresOf(homeOf(NIGHT), STATEMENT, rows);
    // 1150 kWh of totals and 140 of the course.
    expect(cost!.value).toBeGreaterThan(114);
    expect(cost!.value).toBeLessThan(130);
    expect(cost!.high! - cost!.low!).toBeLessThan(0.3 * 1150 * 0.2 + 20);
    expect(cost!.assumptions.join()).toMatch(/as the home usually buys/);
  });

  test('blocks of the billing month, net metering and a demand charge', async () => {
    const blocks = await figuresOf(
      homeOf({ import: [{ rate: 0.2 }, { rate: 0.4, aboveKWh: 300 }], export: [] }),
      STATEMENT,
    );
    // January 300 at 0.2 and 100 at 0.4, February 300 and 50, March and April below.
    expect(blocks['money.importCost']!.value).toBeCloseTo(60 + 40 + 60 + 20 + 50 + 30, 6);
    const net = await figuresOf(homeOf({ exportScheme: 'net', import: [{ rate: 0.2 }] }), STATEMENT);
    // Credited 50, 90, 200 and 150 of the 300 in April.
    expect(net['money.bill']!.value).toBeCloseTo(0.2 * (350 + 260 + 50 + 0), 6);
    const demand = await figuresOf(
      homeOf({ import: [{ rate: 0.2 }], demand: [{ ratePerKW: 4, windowMinutes: 30 }] }),
      STATEMENT,
    );
    expect(demand['money.bill']!.value).toBeNull();
    expect(demand['money.bill']!.reason).toMatch(/highest demand, which totals do not tell/);
  });

  test('what needs a course says so, and a home without a tariff has no money', async () => {
    const figures = await figuresOf(homeOf(NIGHT), STATEMENT);
    expect(figures['money.saving.solarStored']!.reason).toMatch(/known as totals only/);
    expect((await figuresOf(systemOf(TEN_KWH), STATEMENT))['money.bill']!.reason).toMatch(
      /No tariff is described/,
    );
  });
});
