import { describe, expect, test } from '@jest/globals';
import { reportOf, systemOf, TEN_KWH, valueOf, type Row } from '../../testing/logs.js';

const START = '2024-06-01T06:00:00Z';

interface Simulated {
  readonly rows: Row[];
  readonly discharge: number;
}

/** A battery of known efficiency, cycled daily between full and part empty with a taper and a hold (simulation, known truth). */
function simulate(days: number, oneWay: number, depth: number, stepSeconds = 300): Simulated {
  const rows: Row[] = [];
  let stored = 10_000 * (1 - depth);
  let discharge = 0;
  const hours = stepSeconds / 3600;
  for (let i = 0; i < (days * 86_400) / stepSeconds; i++) {
    const hour = (i * hours) % 24;
    const soc = stored / 10_000;
    let battery = 0;
    if (hour < 9) {
      const taper = soc > 0.97 ? Math.max(0.02, (1 - soc) / 0.03) : 1;
      battery = -Math.min(2000 * taper, (10_000 - stored) / oneWay / hours);
    } else if (hour >= 11 && stored > 10_000 * (1 - depth)) {
      battery = Math.min(700, ((stored - 10_000 * (1 - depth)) * oneWay) / hours);
    }
    rows.push({
      battery_w: battery,
      soc_pct: 100 * soc,
      load_w: Math.max(0, battery),
      solar_w: Math.max(0, -battery),
      grid_w: 0,
    });
    stored += battery < 0 ? -battery * oneWay * hours : (-battery / oneWay) * hours;
    discharge += Math.max(0, battery) * hours;
  }
  return { rows, discharge };
}

describe('round trip', () => {
  test.each([
    [0.9, 0.5],
    [0.95, 0.8],
    [0.98, 0.3],
  ])('recovers a one-way efficiency of %d at depth %d by both methods', async (oneWay, depth) => {
    const { rows } = simulate(20, oneWay, depth);
    const figures = await reportOf(systemOf(TEN_KWH), rows, START, 300);
    for (const key of ['losses.roundTrip.fullToFull', 'losses.roundTrip.counter']) {
      const figure = figures.figures[key]!;
      expect([key, Math.abs(figure.value! - oneWay ** 2) < 0.004]).toEqual([key, true]);
      expect([key, figure.low! <= oneWay ** 2 && oneWay ** 2 <= figure.high!]).toEqual([key, true]);
      expect(figure.basis['side']).toBe('AC to AC');
    }
    expect(figures.figures['losses.roundTrip.fullToFull']!.basis['windows']).toBe(19);
  });

  test('is named by the side on which the battery is measured', async () => {
    const rows = simulate(5, 0.95, 0.5).rows.map(({ battery_w, ...rest }): Row => ({
      ...rest,
      battery_dc_w: battery_w!,
    }));
    const figure = (await reportOf(systemOf(TEN_KWH), rows, START, 300)).figures[
      'losses.roundTrip.fullToFull'
    ]!;
    expect(figure.basis['side']).toBe('DC to DC');
    expect(figure.assumptions.join(' ')).toMatch(/Measured at the battery/);
  });

  test('a display of 100 % while still charging hard, or a night that begins at 99 %, is not full', async () => {
    const rows = simulate(6, 0.95, 0.5).rows.map((row): Row => ({
      ...row,
      soc_pct: row.battery_w === 0 ? 98 : row.soc_pct!,
    }));
    const hard = rows.map((row): Row =>
      row.soc_pct! > 90 && row.battery_w! < 0 ? { ...row, soc_pct: 100, battery_w: -2000 } : row,
    );
    const figure = (await reportOf(systemOf(TEN_KWH), hard, START, 300)).figures[
      'losses.roundTrip.fullToFull'
    ]!;
    expect([figure.value, figure.status]).toEqual([null, 'insufficient']);
    expect(figure.reason).toMatch(/no whole window between two true full charges/);
  });

  test('a window with a gap in battery power is left out', async () => {
    const { rows } = simulate(10, 0.95, 0.5);
    for (let i = 1100; i < 1140; i++) rows[i] = { soc_pct: 50 };
    const figure = (await reportOf(systemOf(TEN_KWH), rows, START, 300)).figures[
      'losses.roundTrip.fullToFull'
    ]!;
    expect(figure.basis['windows']).toBe(8);
    expect(Math.abs(figure.value! - 0.9025)).toBeLessThan(0.004);
  });

  test('a day alone gives no figure: the store changes too much', async () => {
    const figures = await reportOf(systemOf(TEN_KWH), simulate(1, 0.95, 0.5).rows.slice(0, 140), START, 300);
    const figure = figures.figures['losses.roundTrip.counter']!;
    expect(figure.status).toBe('insufficient');
    expect(figure.reason).toMatch(/The store changes by \d+ % of the energy charged; at most 10 %/);
  });

  test('throughput is what was discharged', async () => {
    const { rows, discharge } = simulate(8, 0.93, 0.6);
    expect(valueOf(await reportOf(systemOf(TEN_KWH), rows, START, 300), 'wear.throughput')).toBeCloseTo(
      discharge / 1000,
      6,
    );
  });
});
