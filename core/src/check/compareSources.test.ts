import { describe, expect, test } from '@jest/globals';
import { prepare } from '../passes/prepare.js';
import { analyse } from '../report/report.js';
import { CORPUS_HOME, series } from '../testing/shape.js';
import { logOf } from '../testing/logs.js';
import { FROM, iso, row } from '../testing/spoiltHome.js';
import { longTest } from '../testing/long.js';

describe('two sources of the same quantity', () => {
  const list = series(FROM, 10, 5);
  longTest('whose clocks differ: the lag is found by cross-correlation, and mended', async () => {
    const a = await logOf(list.map(row), iso, 300, 'a.csv');
    for (const minutes of [-90, 35, 120]) {
      const b = await logOf(
        list.map(({ solar }) => ({ solar_w: solar })),
        new Date(FROM + minutes * 60_000).toISOString(),
        300,
        'b.csv',
      );
      const { findings, comparisons } = prepare(CORPUS_HOME, [b, a]);
      expect(comparisons[0]).toMatchObject({ quantity: 'solar', a: 'a.csv', lagMs: minutes * 60_000 });
      const lead = { kind: 'lead', source: 'b.csv', quantity: 'solar' } as const;
      expect(prepare(CORPUS_HOME, [b, a], [lead]).comparisons[0]).toMatchObject({
        a: 'b.csv',
        lagMs: -minutes * 60_000,
      });
      const { proposal } = findings.find(({ code }) => code === 'clocks-differ')!;
      expect(prepare(CORPUS_HOME, [a, b], [proposal!]).findings.map(({ code }) => code)).not.toContain(
        'clocks-differ',
      );
    }
  });

  test('whose sums differ: told with both sums, and the other may lead', async () => {
    const inverter = await logOf(
      list.map(({ grid }) => ({ grid_w: grid })),
      iso,
      300,
      'inverter.csv',
    );
    const meter = await logOf(
      list.map(({ grid }) => ({ grid_w: Math.round(grid * 1.1) })),
      iso,
      300,
      'meter.csv',
    );
    const { findings, comparisons } = prepare(CORPUS_HOME, [inverter, meter]);
    expect(comparisons[0]!.ratio).toBeCloseTo(1.1, 2);
    const { proposal } = findings.find(({ code }) => code === 'sums-differ')!;
    expect(proposal).toEqual({ kind: 'lead', source: 'meter.csv', quantity: 'grid' });
    const value = (corrections: (typeof proposal)[]) =>
      analyse(CORPUS_HOME, [inverter, meter], undefined, corrections as never).figures['account.export']!
        .value!;
    expect(value([proposal]) / value([])).toBeCloseTo(1.1, 2);
  });

  test('tell the days on which they differ and what choosing either does to self-sufficiency', async () => {
    const rows = (extra: (hour: number) => number) =>
      Array.from({ length: 72 }, (_, h) => ({ load_w: 1000, grid_w: 400 + extra(h) }));
    const a = await logOf(
      rows(() => 0),
      iso,
      3600,
      'a.csv',
    );
    // On the second day the other meter counts 100 W more, on the third 5 W.
    const b = await logOf(
      rows((h) => (h >= 24 && h < 48 ? 100 : h >= 48 ? 5 : 0)).map(({ grid_w }) => ({ grid_w })),
      iso,
      3600,
      'b.csv',
    );
    const { comparisons } = prepare({ ...CORPUS_HOME, timeZone: 'UTC', configurations: [] }, [b, a]);
    const grid = comparisons.find(({ quantity }) => quantity === 'grid')!;
    expect([grid.a, grid.b]).toEqual(['a.csv', 'b.csv']);
    expect(grid.daysApart).toBeLessThanOrEqual(2);
    expect(grid.daysApart).toBeGreaterThan(0);
    expect(grid.selfSufficiency![0]).toBeCloseTo(0.6, 9);
    expect(grid.selfSufficiency![1]).toBeCloseTo(1 - (400 + (100 + 5) / 3) / 1000, 9);
  });
});
