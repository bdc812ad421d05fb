import { describe, expect, test } from '@jest/globals';
import { prepare } from '../passes/prepare.js';
import { analyse } from '../report/report.js';
import { CORPUS_HOME, series } from '../testing/shape.js';
import { logOf, type Row } from '../testing/logs.js';
import { corrected } from './applyCorrections.js';
import { isLong } from '../testing/long.js';
import { FROM, iso, row, spoilt, toldAndMended } from '../testing/spoiltHome.js';

describe('a sound log', () => {
  test('gives no cause for a correction, whatever its seed', async () => {
    for (const seed of isLong ? [1, 2, 3, 4, 5] : [1, 2]) {
      const source = await logOf(series(FROM, 20, 15, seed).map(row), iso, 900);
      const { findings } = prepare(CORPUS_HOME, [source]);
      expect(
        findings.filter(({ proposal }) => proposal).map(({ code, message }) => `${code} ${message}`),
      ).toEqual([]);
    }
  });
});

describe('a log that contradicts itself or its home', () => {
  type Change = (row: Required<Row>) => Partial<Required<Row>>;
  const powers =
    (by: number): Change =>
    (r) => ({
      solar_w: r.solar_w * by,
      load_w: r.load_w * by,
      grid_w: r.grid_w * by,
      battery_w: r.battery_w * by,
    });
  const BARE = { schema: 'long-tally/system@1', name: 'Bare', timeZone: 'Europe/Lisbon' } as const;
  const CASES: readonly (readonly [string, Change, object])[] = [
    ['all powers in kilowatts', powers(0.001), { kind: 'scale', quantity: null, factor: 1000 }],
    ['all powers a thousandfold', powers(1000), { kind: 'scale', quantity: null, factor: 0.001 }],
    ['all signs turned', powers(-1), { kind: 'scale', quantity: null, factor: -1 }],
    [
      'solar written negative',
      (r) => ({ solar_w: -r.solar_w }),
      { kind: 'scale', quantity: 'solar', factor: -1 },
    ],
    [
      'a battery tenfold',
      (r) => ({ battery_w: r.battery_w * 10 }),
      { kind: 'scale', quantity: 'battery', factor: 0.1 },
    ],
    [
      'a load a thousandth',
      (r) => ({ load_w: r.load_w / 1000 }),
      { kind: 'scale', quantity: 'load', factor: 1000 },
    ],
    [
      'a charge from 0 to 1',
      (r) => ({ soc_pct: r.soc_pct / 100 }),
      { kind: 'scale', quantity: 'soc', factor: 100 },
    ],
    ['a depth of discharge', (r) => ({ soc_pct: 100 - r.soc_pct }), { kind: 'complement', quantity: 'soc' }],
    [
      'load and grid exchanged',
      (r) => ({ load_w: r.grid_w, grid_w: r.load_w }),
      { kind: 'exchange', quantities: ['grid', 'load'] },
    ],
    [
      'solar and load exchanged',
      (r) => ({ solar_w: r.load_w, load_w: r.solar_w }),
      { kind: 'exchange', quantities: ['solar', 'load'] },
    ],
  ];

  test.each(isLong ? CASES : CASES.filter((_, i) => i % 3 === 0))(
    'by %s is told with its energy and what mends it, described or not',
    async (_name, change, proposal) => {
      const keys = [
        'account.solar',
        'account.load',
        'account.import',
        'account.export',
        'account.charge',
        'account.discharge',
        'wear.soc.mean',
      ];
      for (const system of [CORPUS_HOME, BARE]) {
        const { source, sound } = await spoilt((r) => ({ ...r, ...change(r as Required<Row>) }));
        const { findings } = prepare(system, [source]);
        const found = findings.filter((finding) => /^It seems that /.test(finding.message));
        expect(found.map((finding) => finding.proposal)).toEqual([
          expect.objectContaining({ ...proposal, source: 'home.csv' }),
        ]);
        expect([found[0]!.severity, found[0]!.kWh! > 1]).toEqual(['error', true]);
        const corrections = found.map((finding) => finding.proposal!);
        expect(
          prepare(system, [source], corrections).findings.filter(({ message }) => /^It seems/.test(message)),
        ).toEqual([]);
        const [mended, real] = [analyse(system, [source], undefined, corrections), analyse(system, [sound])];
        for (const key of keys) expect(mended.figures[key]!.value).toBeCloseTo(real.figures[key]!.value!, 6);
      }
    },
  );

  test('in one month of several is told of that month alone', async () => {
    const list = series(FROM, 30, 30);
    const month = (from: number, to: number, name: string, by: number) =>
      logOf(
        list
          .slice(from, to)
          .map(row)
          .map((r) => ({ ...r, ...powers(by)(r as Required<Row>) })),
        new Date(FROM + from * 1_800_000).toISOString(),
        1800,
        name,
      );
    const { findings } = prepare(CORPUS_HOME, [
      await month(0, 480, 'a.csv', 1),
      await month(480, 960, 'b.csv', 0.001),
      await month(960, 1440, 'c.csv', 1),
    ]);
    const found = findings.filter(({ code }) => code === 'unit-mistaken');
    expect(found.map(({ source, proposal }) => [source, proposal])).toEqual([
      ['b.csv', { kind: 'scale', source: 'b.csv', quantity: null, factor: 1000 }],
    ]);
  });

  test('in a way that no usual slip explains is told without a correction', async () => {
    const { source } = await spoilt((r, i) => ({ ...r, battery_w: 0, load_w: r.load_w! + 40 * (i % 9) }));
    const { findings } = prepare(CORPUS_HOME, [source]);
    const found = findings.find(({ code }) => code === 'implausible');
    expect([found?.severity, found?.proposal]).toEqual(['warning', undefined]);
    expect(found!.message).toMatch(/no usual slip explains it: .*the state of charge differs/);
  });

  test('over a night in which the battery only gives is none', async () => {
    const night = Array.from({ length: 40 }, () => ({ battery_w: 500, load_w: 500 }));
    const { findings } = prepare(BARE, [await logOf(night, iso, 900)]);
    expect(findings.filter(({ code }) => /sign|unit|implausible/.test(code))).toEqual([]);
  });
});

describe('a fault is told with what mends it', () => {
  test('a grid whose sign is turned', async () => {
    const result = await toldAndMended((r) => ({ ...r, grid_w: -r.grid_w! }), 'sign-turned');
    expect(result.found.proposal).toMatchObject({ kind: 'scale', quantity: 'grid', factor: -1 });
    expect(result.mended('account.import')).toBeCloseTo(result.true('account.import')!, 6);
  });

  test('a battery whose sign is turned, by the state of charge alone where the account cannot be closed', async () => {
    const result = await toldAndMended(
      ({ battery_w, soc_pct }) => ({ battery_w: -battery_w!, soc_pct: soc_pct! }),
      'sign-turned',
    );
    expect(result.found.message).toMatch(
      /battery has its sign the other way round: the state of charge differs from the battery’s energy by \d+ %, and then by/,
    );
    expect(result.mended('account.charge')).toBeCloseTo(result.true('account.charge')!, 6);
  });

  test('a load in kilowatts', async () => {
    const result = await toldAndMended((r) => ({ ...r, load_w: r.load_w! / 1000 }), 'unit-mistaken');
    expect(result.found.proposal).toMatchObject({ kind: 'scale', quantity: 'load', factor: 1000 });
    expect(result.mended('account.load')).toBeCloseTo(result.true('account.load')!, 3);
  });

  test('spikes, but not kettles', async () => {
    const at = new Set([100, 500, 901]);
    const result = await toldAndMended((r, i) => (at.has(i) ? { ...r, load_w: 65_535 } : r), 'spikes');
    expect(result.found.message).toMatch(
      /^3 values of the load jump far beyond everything around them, first to 65\.5 kW/,
    );
    expect(result.found.kWh).toBeCloseTo((3 * 65.535) / 4, 6);
    expect(Math.abs(result.mended('account.load')! / result.true('account.load')! - 1)).toBeLessThan(0.01);
  });

  test('a load that stands still for a day, and a state of charge that does while the battery works', async () => {
    const load = await toldAndMended(
      (r, i) => (i > 300 && i < 390 ? { ...r, load_w: 432 } : r),
      'stuck-values',
    );
    expect(load.found.message).toMatch(/The load stands still once, longest at 432 W for 22 h 15/);
    const soc = await toldAndMended(
      (r, i) => (i > 300 && i < 420 ? { ...r, soc_pct: 47 } : r),
      'stuck-values',
    );
    expect(soc.found.message).toMatch(/The state of charge stands still/);
  });

  test('solar at night', async () => {
    const result = await toldAndMended(
      (r, _i, { ms }) => (new Date(ms).getUTCHours() === 1 ? { ...r, solar_w: 700 } : r),
      'solar-at-night',
    );
    expect(result.found.kWh).toBeCloseTo(14 * 0.7, 6);
  });

  test('a clock three hours late', async () => {
    const list = series(FROM, 14, 15);
    const late = await logOf(list.map(row), new Date(FROM + 3 * 3_600_000).toISOString(), 900, 'late.csv');
    const { findings } = prepare(CORPUS_HOME, [late]);
    const shift = findings.find(({ code }) => code === 'clock-shift')!;
    expect(shift.proposal).toEqual({
      kind: 'shift',
      source: 'late.csv',
      byMs: -3 * 3_600_000,
      stretches: null,
    });
    expect(corrected(late, [shift.proposal!]).startMs).toBe(FROM);
  });

  test('a clock that stays on winter time', async () => {
    // Ten weeks over the last Sunday of March, when clocks in Lisbon are put forward.
    const list = series(FROM, 80, 30);
    const summer = Date.UTC(2024, 2, 31, 1);
    const slow = await logOf(
      list.filter(({ ms }) => ms < summer || ms >= summer + 3_600_000).map(row),
      iso,
      1800,
      'slow.csv',
    );
    const { findings } = prepare(CORPUS_HOME, [slow]);
    const found = findings.find(({ code }) => code === 'daylight-saving')!;
    expect(found.message).toMatch(/earlier than in winter time: the logger's clock stays on winter time/);
    expect(found.proposal).toMatchObject({ kind: 'shift', byMs: 3_600_000 });
    expect(prepare(CORPUS_HOME, [slow], [found.proposal!]).findings.map(({ code }) => code)).not.toContain(
      'daylight-saving',
    );
  });
});
