import { describe, expect, test } from '@jest/globals';
import { reportOf, systemOf, TEN_KWH, type Row } from '../../testing/logs.js';

const START = '2024-01-01T00:00:00Z';
const home = systemOf(TEN_KWH);

describe('how long a home would last', () => {
  const battery = { ...TEN_KWH, cutOff: 0.1, maxChargeKW: 4 };
  /** Days of a steady load without sun, the grid carrying it and the battery full but for a dip that is filled again. */
  const steady = (days: number, loadW: number): Row[] =>
    Array.from({ length: days * 24 }, () => ({
      load_w: loadW,
      solar_w: 0,
      grid_w: loadW,
      battery_w: 0,
      soc_pct: 100,
    }));

  test('a steady load without sun lasts what the store holds above the cut-off', async () => {
    const system = systemOf(battery);
    const { figures } = await reportOf(system, steady(40, 470), START, 3600);
    // 10 kWh × 0.95 × 0.9 above the cut-off, against 470 W and the 30 W that are usual where nothing is measured.
    const expected = (10_000 * 0.95 * 0.9) / 500;
    expect(figures['outage.runtime.now']!.value).toBeCloseTo(expected, 6);
    expect(figures['outage.replay.p50']!.value).toBe(Math.floor(expected));
    expect(figures['outage.survive.12h']!.value).toBe(1);
    // A start that the log cuts off just there is all that is left.
    expect(figures['outage.survive.24h']!.value).toBeLessThan(0.002);
    // Twelve hours take 6 kWh: with the cut-off that is 73 % of full.
    expect(figures['outage.reserve.12h90']!.value).toBeCloseTo(0.1 + 6000 / 9500, 9);
    expect(figures['outage.replay.p50']!.assumptions.join(' ')).toMatch(/Capacity as described/);
    expect(figures['outage.replay.p50']!.basis['censored']).toBeGreaterThan(0);
  });

  test('a load above the inverter’s limit ends it at once; a home that lasts beyond what is followed says so', async () => {
    const [first] = systemOf(battery).configurations!;
    const system = { ...home, configurations: [{ ...first!, inverter: { batteryOnlyKW: 1 } }] };
    const over = await reportOf(system, steady(8, 1500), START, 3600);
    expect(over.figures['outage.replay.p90']!.value).toBe(0);
    expect(over.findings.find(({ code }) => code === 'battery-only-limit')!.message).toMatch(
      /came to 1\.5 kW at .*, more than the 1\.0 kW/,
    );
    expect(over.figures['outage.reserve.12h90']!.reason).toMatch(/even a full battery does not last 12 h/);
    const large = systemOf({ ...battery, moduleKWh: 20 });
    const frugal = await reportOf(large, steady(30, 0), START, 3600);
    expect(frugal.figures['outage.replay.p10']!.reason).toMatch(/last as long as the log, or the 14 days/);
  });

  test('a cut-off that is not described is unknown, never the reserve: the interval allows for it', async () => {
    const system = systemOf({ ...TEN_KWH, reserve: 0.4, maxChargeKW: 4 });
    const { figures } = await reportOf(system, steady(8, 470), START, 3600);
    const runtime = figures['outage.runtime.now']!;
    // 10 kWh × 0.95 down to between 0 and 10 %.
    expect(runtime.value).toBeCloseTo((9500 * 0.95) / 500, 6);
    expect(runtime.low! < (9500 * 0.9) / 500 && runtime.high! > 9500 / 500).toBe(true);
    expect(runtime.assumptions.join(' ')).toMatch(/cut-off is not described .* The reserve is kept only/);
  });

  test('thirty-six hours give no reserve and no chance, and say what would', async () => {
    const { figures } = await reportOf(systemOf(battery), steady(1.5, 470), START, 3600);
    for (const key of ['reserve.12h90', 'survive.12h', 'replay.p50'])
      expect(figures[`outage.${key}`]!.reason).toMatch(/^36 hours .* A week gives a first figure/);
    expect(figures['outage.runtime.now']!.value).toBeGreaterThan(0);
  });

  test('without load, charge or capacity, or with a step that fits no hour, it says what is missing', async () => {
    const reasonOf = async (system: typeof home, rows: readonly Row[], step: number) =>
      (await reportOf(system, rows, START, step)).figures['outage.replay.p50']!.reason;
    expect(await reasonOf({ ...home, configurations: [] }, steady(2, 100), 3600)).toMatch(
      /capacity is not described/,
    );
    expect(await reasonOf(home, [{ load_w: 1 }, { load_w: 2 }], 3600)).toMatch(/no state of charge/);
    expect(await reasonOf(home, steady(2, 100), 7 * 60)).toMatch(/does not fit into an hour/);
  });
});
