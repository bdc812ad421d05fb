import { describe, expect, test } from '@jest/globals';
import { quantileSorted } from 'simple-statistics';
import { bootstrapRatio } from '../../statistics/bootstrapRatio.js';
import { quantile } from '../../statistics/quantile.js';
import { seededRandom } from '../../statistics/random.js';
import type { System } from '../../system/schema.js';
import { addSums, noSums } from '../../passes/sums.js';
import { reportOf, systemOf, TEN_KWH, testData, valueOf, type Row } from '../../testing/logs.js';

const START = '2024-01-01T00:00:00Z';

describe('facts of the trade (common practice, no published source)', () => {
  test('one battery day: 20 kWh from 100 to 60 % in 16 h is 8 kWh, mean 500 W, 0.4 cycles', async () => {
    const rows = Array.from({ length: 17 }, (_, h) => ({
      load_w: 500,
      solar_w: 0,
      grid_w: 0,
      battery_w: h < 16 ? 500 : 0,
      soc_pct: 100 - 2.5 * h,
    }));
    const figures = await reportOf(
      systemOf({ ...TEN_KWH, moduleKWh: 20 }),
      rows,
      '2024-01-01T16:00:00Z',
      3600,
    );
    expect(valueOf(figures, 'wear.throughput')).toBeCloseTo(8, 9);
    expect(figures.figures['account.discharge']!.working[0]!.value * 17).toBeCloseTo(500 * 16, 6);
    expect(valueOf(figures, 'wear.efc.nameplate')).toBeCloseTo(0.4, 9);
    expect(valueOf(figures, 'wear.depth.mean')).toBeCloseTo(0.4, 9);
    expect(valueOf(figures, 'wear.depth.max')).toBeCloseTo(0.4, 9);
    expect(valueOf(figures, 'account.storeChange')).toBeCloseTo(-8, 9);
  });

  test('drawdown: 6 units of 13.5 kWh from 100 to 40 % gave 44.9 kWh of 48.6: 92.4 %, short by far less than a unit', async () => {
    const rows = Array.from({ length: 11 }, (_, h) => ({
      load_w: 4490,
      solar_w: 0,
      grid_w: 0,
      battery_w: h < 10 ? 4490 : 0,
      soc_pct: 100 - 6 * h,
    }));
    const figures = await reportOf(systemOf({ ...TEN_KWH, modules: 6, moduleKWh: 13.5 }), rows, START, 3600);
    const delivered = valueOf(figures, 'wear.throughput');
    const expected = -valueOf(figures, 'account.storeChange');
    expect(delivered).toBeCloseTo(44.9, 9);
    expect(expected).toBeCloseTo(48.6, 9);
    expect(expected - delivered).toBeCloseTo(3.7, 9);
    expect(Math.round((1000 * delivered) / expected) / 10).toBe(92.4);
    expect((expected - delivered) / expected).toBeLessThan(0.167);
    expect(valueOf(figures, 'account.charge')).toBe(0);
  });
});

describe('equivalent full cycles', () => {
  test('are counted by each configuration’s own capacity and added, and the figure says so', async () => {
    const base = systemOf(TEN_KWH);
    const system: System = {
      ...base,
      configurations: [
        {
          from: '2024-01-01T00:00:00Z',
          name: 'one module',
          battery: { ...TEN_KWH, usableShare: 0.9 },
          warranty: { capacityKWh: 9.5 },
        },
        {
          from: '2024-01-02T12:00:00Z',
          name: 'two modules',
          battery: { ...TEN_KWH, modules: 2, usableShare: 0.9 },
          grid: 'none',
          warranty: { capacityKWh: 19 },
          warrantyOffGrid: { capacityKWh: 16 },
        },
      ],
    };
    const rows = Array.from({ length: 72 }, () => ({
      load_w: 1000,
      solar_w: 0,
      grid_w: 0,
      battery_w: 1000,
      soc_pct: 50,
    }));
    const figures = await reportOf(system, rows, START, 3600);
    expect(valueOf(figures, 'wear.efc.nameplate')).toBeCloseTo(36 / 10 + 36 / 20, 9);
    expect(valueOf(figures, 'wear.efc.usable')).toBeCloseTo(36 / 9 + 36 / 18, 9);
    // The terms for use without a grid lead where there is none.
    expect(valueOf(figures, 'wear.efc.warranty')).toBeCloseTo(36 / 9.5 + 36 / 16, 9);
    expect(valueOf(figures, 'wear.efc.both')).toBeCloseTo((36 / 10 + 36 / 20) / 2, 9);
    expect(figures.figures['wear.efc.nameplate']!.basis['configurations']).toEqual([
      'one module',
      'two modules',
    ]);
    // No figure crosses the change unmarked.
    for (const { basis } of Object.values(figures.figures)) {
      expect(basis['configurations']).toEqual(['one module', 'two modules']);
    }
    expect(figures.findings.map(({ code }) => code)).toContain('configuration-change');
    expect(figures.days.map(({ date }) => date)).toEqual(['2024-01-01', '2024-01-02', '2024-01-03']);
  });

  test('a jump of SOC at a change of configuration is no change in store', async () => {
    const system: System = {
      ...systemOf(TEN_KWH),
      configurations: [
        { from: '2024-01-01T00:00:00Z', battery: TEN_KWH },
        { from: '2024-01-01T12:00:00Z', battery: { ...TEN_KWH, modules: 2 } },
      ],
    };
    const rows = Array.from({ length: 24 }, (_, h) => ({
      load_w: 0,
      solar_w: 0,
      grid_w: 0,
      battery_w: 0,
      soc_pct: h < 12 ? 80 : 40,
    }));
    const figures = await reportOf(system, rows, START, 3600);
    expect(valueOf(figures, 'account.storeChange')).toBeCloseTo(0, 12);
    expect(valueOf(figures, 'account.losses')).toBeCloseTo(0, 12);
    expect(figures.figures['wear.depth.max']!.value).not.toBe(0.4);
  });
});

describe('statistics', () => {
  test('quantiles are those of numpy (quantiles.json) and of simple-statistics at the ends', () => {
    const { cases } = testData('quantiles.json') as {
      cases: readonly { values: number[]; quantiles: [number, number][] }[];
    };
    for (const { values, quantiles } of cases) {
      const sorted = Float64Array.from(values);
      for (const [p, expected] of quantiles) expect(quantile(sorted, p)).toBeCloseTo(expected, 12);
      expect(quantile(sorted, 0)).toBe(quantileSorted(values, 0));
      expect(quantile(sorted, 1)).toBe(quantileSorted(values, 1));
    }
  });

  test('the bootstrap interval of a ratio holds the truth about as often as it says (simulation, known truth)', () => {
    const random = seededRandom(42);
    let held = 0;
    const runs = 150;
    for (let r = 0; r < runs; r++) {
      const charge = Float64Array.from({ length: 60 }, () => 4 + 6 * random());
      const discharge = charge.map((wh) => wh * (0.85 + 0.08 * (random() + random() - 1)));
      const [low, high] = bootstrapRatio(discharge, charge);
      if (low <= 0.85 && 0.85 <= high) held++;
    }
    expect(held / runs).toBeGreaterThan(0.9);
    expect(held / runs).toBeLessThan(0.99);
  });
});

test('the deepest cycle of a winter is one slow slide, small recoveries and all (ASTM E1049-85, by hand)', async () => {
  // 100, 80, 90, 50, 60, 20, 40 %: the pairs 80–90 and 50–60 close as cycles of their own, 100 to 20 remains.
  const soc_pct = [100, 80, 90, 50, 60, 20, 40];
  const figures = await reportOf(
    systemOf(TEN_KWH),
    soc_pct.map((soc) => ({ soc_pct: soc, battery_w: 0 })),
    START,
    3600,
  );
  expect(valueOf(figures, 'wear.depth.max')).toBeCloseTo(0.8, 12);
});

test('a night belongs to the day on which it begins, and time above all is mean SOC', async () => {
  const rows: Row[] = Array.from({ length: 72 }, (_, h) => ({
    soc_pct: [80, 20][Math.floor((h + 12) / 12) % 2]!,
    battery_w: 0,
  }));
  const figures = await reportOf(systemOf(TEN_KWH), rows, START, 3600);
  expect(valueOf(figures, 'wear.soc.mean')).toBeCloseTo(0.5, 12);
  expect(figures.figures['wear.depth.mean']!.basis['nights']).toBeGreaterThanOrEqual(3);
});

test('adding up leaves no sum out', () => {
  const one = noSums();
  const keys = Object.keys(one) as (keyof typeof one)[];
  keys.forEach((key, k) => (one[key] = k + 1));
  const total = noSums();
  addSums(total, one);
  addSums(total, one);
  const missed = keys.filter((key, k) => total[key] !== (Number.isNaN(noSums()[key]) ? k + 1 : 2 * (k + 1)));
  expect(missed).toEqual([]);
});
