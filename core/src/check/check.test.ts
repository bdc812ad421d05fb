import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { mergeSources } from '../import/merge/mergeSources.js';
import { prepare } from '../passes/prepare.js';
import { analyse } from '../report/report.js';
import type { SourceLog } from '../model/log.js';
import type { Quantity } from '../model/quantity.js';
import { CORPUS_HOME, series, type Interval } from '../testing/shape.js';
import { logOf, type Row } from '../testing/logs.js';
import { correctionSchema, correctionText } from '../model/correction.js';
import { corrected } from './applyCorrections.js';

// Simulations that test a method against a known fault: an invented home, spoilt in one way, must be told and mended.
const FROM = Date.UTC(2024, 1, 20);
const iso = new Date(FROM).toISOString();
const row = ({ solar, load, grid, battery, soc }: Interval): Row => ({
  solar_w: solar,
  load_w: load,
  grid_w: grid,
  battery_w: battery,
  soc_pct: soc,
});

async function spoilt(spoil: (row: Row, i: number, interval: Interval) => Row, days = 14, stepMinutes = 15) {
  const list = series(FROM, days, stepMinutes);
  const source = await logOf(
    list.map((interval, i) => spoil(row(interval), i, interval)),
    iso,
    stepMinutes * 60,
    'home.csv',
  );
  const sound = await logOf(list.map(row), iso, stepMinutes * 60, 'home.csv');
  return { source, sound };
}

/** Codes of the findings that propose something, without and with what they propose. */
async function toldAndMended(spoil: Parameters<typeof spoilt>[0], code: string, days?: number) {
  const { source, sound } = await spoilt(spoil, days);
  const { findings } = prepare(CORPUS_HOME, [source]);
  const found = findings.find((finding) => finding.code === code);
  expect([findings.map((finding) => finding.code), found !== undefined]).toEqual([expect.anything(), true]);
  const { proposal } = found!;
  const again = prepare(CORPUS_HOME, [source], [proposal!]);
  expect(again.findings.map((finding) => finding.code)).not.toContain(code);
  const value = (logs: SourceLog[], key: string, corrections = [proposal!]) =>
    analyse(CORPUS_HOME, logs, undefined, corrections).figures[key]!.value;
  return {
    found: found!,
    mended: (key: string) => value([source], key),
    true: (key: string) => value([sound], key, []),
  };
}

describe('a sound log', () => {
  test('gives no cause for a correction, whatever its seed', async () => {
    for (const seed of [1, 2, 3, 4, 5]) {
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

  test.each(CASES)(
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

describe('two sources of the same quantity', () => {
  const list = series(FROM, 10, 5);
  test('whose clocks differ: the lag is found by cross-correlation, and mended', async () => {
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

describe('corrections are layers', () => {
  const quantities = ['solar', 'load', 'grid', 'battery'] as const;
  test('turning a sign twice, or moving a clock and back, gives back the log', async () => {
    const source = await logOf(series(FROM, 2, 15).map(row), iso, 900);
    fc.assert(
      fc.property(
        fc.constantFrom<Quantity>(...quantities),
        fc.integer({ min: -8, max: 8 }),
        (quantity, hours) => {
          const turn = { kind: 'scale', source: null, quantity, factor: -1 } as const;
          const shift = (byMs: number) =>
            ({ kind: 'shift', source: 'log.csv', byMs, stretches: null }) as const;
          const back = corrected(source, [turn, shift(hours * 3_600_000), turn, shift(-hours * 3_600_000)]);
          expect(back.startMs).toBe(source.startMs);
          for (const [name, { values }] of source.columns)
            expect([...back.columns.get(name)!.values].map((value) => value || 0)).toEqual(
              [...values].map((value) => value || 0),
            );
        },
      ),
    );
  });

  test('leave the source as it came, and say what they do', async () => {
    const source = await logOf(series(FROM, 1, 15).map(row), iso, 900);
    const before = [...source.columns.get('load')!.values];
    const blank = {
      kind: 'blank',
      source: null,
      quantity: null,
      stretches: [[FROM, FROM + 3_600_000]],
    } as const;
    const parsed = correctionSchema.parse(blank);
    const { log } = mergeSources([corrected(source, [parsed])], 'UTC', []);
    expect([...log.channels.get('load')!.values.subarray(0, 5)]).toEqual([NaN, NaN, NaN, NaN, before[4]]);
    expect([...source.columns.get('load')!.values]).toEqual(before);
    expect(correctionText(parsed)).toBe('Everything is taken as missing in 1 stretch.');
    expect(correctionText({ kind: 'scale', source: 'a.csv', quantity: 'grid', factor: -1 })).toBe(
      'The grid power of a.csv has its sign reversed.',
    );
    expect(
      [
        { kind: 'lead', source: 'a.csv', quantity: 'batteryDc' } as const,
        { kind: 'keep', source: null, quantity: 'load:boiler' } as const,
        { kind: 'shift', source: 'a.csv', byMs: 3_600_000, stretches: null } as const,
        { kind: 'exchange', source: 'a.csv', quantities: ['load', 'solar:east roof'] } as const,
        { kind: 'complement', source: null, quantity: 'soc' } as const,
        { kind: 'scale', source: null, quantity: null, factor: 1000 } as const,
        { kind: 'scale', source: null, quantity: 'batteryTemp', factor: 0.1 } as const,
      ].map((one) => correctionText(correctionSchema.parse(one))),
    ).toEqual([
      'a.csv leads the battery power on the DC side.',
      'Values of the load of boiler are used as they are, however high.',
      'The clock of a.csv is moved by 60 min.',
      'The columns load and solar power of east roof of a.csv are exchanged.',
      'The state of charge is taken as 100 % minus its value.',
      'Every power is multiplied by 1000.',
      'The battery temperature is multiplied by 0.1 in its unit.',
    ]);
  });
});

describe('a meter with a floor', () => {
  const rows = (floor: number) =>
    Array.from({ length: 400 }, (_, i) => {
      const watts = Math.round(60 * Math.sin(i / 7));
      return { battery_w: Math.abs(watts) < floor ? 0 : watts, soc_pct: 50 };
    });
  const floorOf = async (floor: number) => prepare(CORPUS_HOME, [await logOf(rows(floor), iso, 300)]);

  test('is found by what it never reads, told, and counted as a doubt; one without is not', async () => {
    const home = await floorOf(15);
    expect(home.floorW).toBeGreaterThanOrEqual(15);
    expect(home.floorW).toBeLessThan(18);
    expect(home.findings.find(({ code }) => code === 'meter-floor')!.message).toMatch(
      /between 0 and 1[5-7] W/,
    );
    expect((await floorOf(0)).floorW).toBe(0);
    expect((await floorOf(0)).findings.map(({ code }) => code)).not.toContain('meter-floor');
  });
});
