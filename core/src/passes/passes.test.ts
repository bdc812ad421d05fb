import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { findGaps, gapsIn } from '../check/gaps.js';
import { mergeSources } from '../import/merge/mergeSources.js';
import { rollOf } from '../views/roll.js';
import { prepare, rangeDataOf } from './prepare.js';
import { cellAt, type Log } from '../model/log.js';
import { configurationsOf } from '../system/configuration.js';
import { logOf, systemOf, TEN_KWH, type Row } from '../testing/logs.js';
import { busColumns } from './busColumns.js';
import { dayEntries, dayEntriesPass, stressWithin } from './dayEntries.js';
import { MARK, STRIP_SLOTS, stripsOf } from './dayStrips.js';
import type { Sums } from './sums.js';
import { runs } from '../testing/long.js';

const START = '2024-01-01T00:00:00Z';
const system = systemOf(TEN_KWH);

async function merged(rows: readonly Row[], stepSeconds: number, zone = 'UTC', start = START): Promise<Log> {
  return mergeSources([await logOf(rows, start, stepSeconds)], zone, []).log;
}

/** The sums of a day as one would write them down, cell by cell, without a thought for speed. */
function plainly(log: Log): Partial<Sums> {
  const at = (quantity: 'solar' | 'load' | 'grid' | 'battery' | 'soc', i: number) =>
    log.channels.get(quantity)?.values[i] ?? NaN;
  const hours = log.stepMs / 3_600_000;
  const sums: Record<string, number> = {};
  const add = (key: string, value: number) => (sums[key] = (sums[key] ?? 0) + value);
  for (let i = 0; i < log.count; i++) {
    const [s, l, g, b] = [at('solar', i), at('load', i), at('grid', i), at('battery', i)];
    if (!Number.isNaN(s)) add('solarWh', s * hours);
    if (!Number.isNaN(l)) add('loadWh', l * hours);
    if (!Number.isNaN(g)) add('importWh', Math.max(0, g) * hours);
    if (!Number.isNaN(g)) add('exportWh', Math.max(0, -g) * hours);
    if (!Number.isNaN(b)) add('chargeWh', Math.max(0, -b) * hours);
    if (!Number.isNaN(b)) add('dischargeWh', Math.max(0, b) * hours);
    if (!Number.isNaN(l + g)) add('importMeter', Math.max(0, g) * hours);
    const change = i + 1 < log.count ? at('soc', i + 1) - at('soc', i) : NaN;
    if (!Number.isNaN(b + change)) add('socChangeCell', change);
    if (!Number.isNaN(b + change)) add('dischargeCell', Math.max(0, b) * hours);
    if (!Number.isNaN(s + l + g + change)) add('socChangeStore', change);
    if (!Number.isNaN(s + l + g + change)) add('exportStore', Math.max(0, -g) * hours);
    if (Number.isNaN(s + l + g + b)) continue;
    const direct = Math.min(Math.max(0, s), Math.max(0, l));
    const spare = Math.max(0, s) - direct;
    const stored = Math.min(spare, Math.max(0, -b));
    const served = Math.min(Math.max(0, b), Math.max(0, l) - direct);
    add('busS', hours * 3600);
    add('solarToLoadBus', direct * hours);
    add('dischargeToLoadBus', served * hours);
    // The store sells what it gives beyond the load, the sun what else the meter counts, though no more than it makes.
    const ofStore = Math.min(Math.max(0, b) - served, Math.max(0, -g));
    add('dischargeToExportBus', ofStore * hours);
    add('solarToExportBus', Math.min(Math.max(0, -g) - ofStore, Math.max(0, s)) * hours);
    add('gridChargedBus', Math.min(Math.max(0, -b) - stored, Math.max(0, g)) * hours);
    if (g > 0 && g < 60 && direct + served > Math.max(0, l) / 2) add('trickleBus', g * hours);
  }
  return sums;
}

describe('the sums of a day', () => {
  const watts = (low: number, high: number) =>
    fc.option(fc.integer({ min: low, max: high }), { freq: 8, nil: undefined });
  const row = fc.record({
    solar_w: watts(-5, 5000),
    load_w: watts(0, 5000),
    grid_w: watts(-4000, 4000),
    battery_w: watts(-5000, 5000),
    soc_pct: watts(0, 100),
  });

  test('are those of the plain arithmetic, whatever is missing', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(row, { minLength: 4, maxLength: 90 }), async (list) => {
        const rows = [{ solar_w: 0, load_w: 1, grid_w: 1, battery_w: 0, soc_pct: 50 }, ...list] as Row[];
        const log = await merged(rows, 900);
        const [entry] = dayEntries(log, busColumns(log, configurationsOf(system)), configurationsOf(system));
        const expected = Object.entries(plainly(log)).map(([key, sum]) => [key, expect.closeTo(sum, 6)]);
        expect(entry!.sums).toMatchObject(Object.fromEntries(expected) as Sums);
      }),
      runs(50, 150),
    );
  });

  test('a day crossed by a change of configuration has an entry for each part', async () => {
    const two = configurationsOf({
      ...system,
      configurations: [
        { from: '2023-01-01T00:00:00Z', battery: TEN_KWH },
        { from: '2024-01-02T06:00:00Z', battery: { ...TEN_KWH, modules: 2 } },
      ],
    });
    const log = await merged(
      Array.from({ length: 72 }, () => ({ load_w: 100 })),
      3600,
    );
    const entries = dayEntries(log, busColumns(log, configurationsOf(system)), two);
    expect(
      entries.map(({ day, configuration, sums }) => [day.date, configuration.index, sums.loadWh]),
    ).toEqual([
      ['2024-01-01', 0, 2400],
      ['2024-01-02', 0, 600],
      ['2024-01-02', 1, 1800],
      ['2024-01-03', 1, 2400],
    ]);
  });

  test('the first and last day are clipped to a range; cells are found by their start', async () => {
    const log = await merged(
      Array.from({ length: 48 }, () => ({ load_w: 100 })),
      3600,
    );
    const from = Date.parse('2024-01-01T18:30:00Z');
    const to = Date.parse('2024-01-02T06:00:00Z');
    const entries = dayEntries(log, busColumns(log, configurationsOf(system)), configurationsOf(system), {
      fromMs: from,
      toMs: to,
    });
    expect(entries.map(({ sums }) => sums.loadWh)).toEqual([500, 600]);
    expect([cellAt(log, from), cellAt(log, 0), cellAt(log, Infinity)]).toEqual([19, 0, 48]);
  });
});

describe('the strip of a day', () => {
  test('has its slots in every day, of 23 and of 25 hours too', async () => {
    for (const [start, hours] of [
      ['2024-03-31T00:00:00Z', 23],
      ['2024-10-26T23:00:00Z', 25],
    ] as const) {
      const log = await merged(
        Array.from({ length: hours * 4 }, () => ({ soc_pct: 40, grid_w: 0 })),
        900,
        'Europe/Lisbon',
        start,
      );
      const { soc, marks } = stripsOf(log, busColumns(log, configurationsOf(system)));
      expect([soc.length, marks.length]).toEqual([STRIP_SLOTS, STRIP_SLOTS]);
      expect([...soc].every((value) => Math.abs(value - 0.4) < 1e-6)).toBe(true);
      expect([...marks].every((mark) => mark === 0)).toBe(true);
    }
  });

  test('marks the grid, an outage and what is missing, where they are', async () => {
    const rows = Array.from({ length: 96 }, (_, q): Row => ({
      soc_pct: 50,
      grid_w: q >= 8 && q < 12 ? 900 : 20,
      grid_v: q >= 40 && q < 44 ? 0 : 230,
    }));
    for (let q = 60; q < 70; q++) rows[q] = { grid_v: 230 };
    const log = await merged(rows, 900);
    const { soc, marks } = stripsOf(log, busColumns(log, configurationsOf(system)));
    const slots = (mark: number) => [...marks].flatMap((bits, s) => (bits & mark ? [s] : []));
    expect(slots(MARK.grid)).toEqual([8, 9, 10, 11]);
    expect(slots(MARK.outage)).toEqual([40, 41, 42, 43]);
    expect(slots(MARK.missing)).toEqual([60, 61, 62, 63, 64, 65, 66, 67, 68, 69]);
    expect([...soc].flatMap((value, s) => (Number.isNaN(value) ? [s] : []))).toEqual(slots(MARK.missing));
  });

  test('of a log with hourly steps has no holes', async () => {
    const log = await merged(
      Array.from({ length: 24 }, () => ({ soc_pct: 70, grid_w: 500 })),
      3600,
    );
    const { soc, marks } = stripsOf(log, busColumns(log, configurationsOf(system)));
    expect([...soc].some(Number.isNaN)).toBe(false);
    expect([...marks].every((mark) => mark === MARK.grid)).toBe(true);
  });
});

describe('gaps', () => {
  test('are told by what is missing together, and what of a range lies outside the log', async () => {
    const rows = Array.from({ length: 24 }, (_, h): Row =>
      h >= 4 && h < 9 ? { load_w: 1 } : h >= 15 && h < 20 ? {} : { load_w: 1, solar_w: 1 },
    );
    const log = await merged(rows, 3600);
    const hour = (h: number) => Date.parse(START) + h * 3_600_000;
    const gaps = findGaps(log);
    expect(gaps).toEqual([
      { fromMs: hour(4), toMs: hour(9), quantities: ['solar'] },
      { fromMs: hour(15), toMs: hour(20), quantities: ['solar', 'load'] },
    ]);
    expect(
      gapsIn(gaps, log, { fromMs: hour(-2), toMs: hour(6) }).map(({ fromMs, toMs }) => [fromMs, toMs]),
    ).toEqual([
      [hour(-2), hour(0)],
      [hour(4), hour(6)],
    ]);
    expect(gapsIn(gaps, log, { fromMs: hour(20), toMs: hour(30) })).toEqual([
      { fromMs: hour(24), toMs: hour(30), quantities: ['solar', 'load'] },
    ]);
  });

  test('a bridged gap is still a gap', async () => {
    const rows = Array.from({ length: 10 }, (_, h): Row =>
      h === 4 ? { solar_w: 1 } : { load_w: h, solar_w: 1 },
    );
    const log = await merged(rows, 3600);
    expect(log.channels.get('load')!.values[4]).toBe(4);
    expect(findGaps(log).map(({ quantities }) => quantities)).toEqual([['load']]);
  });
});

test('a prepared home is gone through once: asking again for a range changes nothing in it', async () => {
  const rows = Array.from({ length: 200 }, (_, h) => ({
    load_w: 400,
    grid_w: 400 - (h % 7) * 50,
    battery_w: (h % 7) * 50,
    solar_w: 0,
    soc_pct: 90 - (h % 24),
  }));
  const prepared = prepare(system, [await logOf(rows, START, 3600)]);
  const before = JSON.stringify(prepared.entries);
  const { report } = await import('../report/report.js');
  const range = { fromMs: prepared.log.startMs + 5.5e6, toMs: prepared.log.startMs + 4.5e8 };
  expect(report(prepared, range)).toEqual(report(prepared, range));
  expect(JSON.stringify(prepared.entries)).toBe(before);
});

describe('a leg that carries more than the inverter may give on it', () => {
  test('is noted on its day with the highest of its powers', async () => {
    const legs = { leg1_w: 900, leg2_w: 1200 };
    const rows = Array.from({ length: 48 }, (_, h): Row => ({
      load_w: 2100,
      ...legs,
      ...(h === 30 ? { leg2_w: 4600 } : h === 31 ? { leg1_w: 4100 } : {}),
    }));
    const log = await logOf(rows, START, 3600);
    const described = { ...systemOf(TEN_KWH).configurations![0]!, inverter: { legs: 2, perLegKW: 4 } };
    const of = (perLegKW: number) =>
      rollOf(
        prepare({ ...system, configurations: [{ ...described, inverter: { legs: 2, perLegKW } }] }, [log]),
      ).map(({ notes }) => notes.filter(({ kind }) => kind === 'leg-overload'));
    expect(of(4)).toEqual([
      [],
      [{ kind: 'leg-overload', kW: 4.6, atMs: Date.parse(START) + 30 * 3_600_000 }],
    ]);
    expect(of(5)).toEqual([[], []]);
  });
});

test('the stress of a range is that of its days, however many blocks of them were added up before', async () => {
  // Hours of a hundred days and ten: three blocks and more, with parts of days at both ends.
  const rows = Array.from({ length: 24 * 110 }, (_, i) => ({
    battery_w: ((i * 7919) % 4001) - 2000,
    soc_pct: (i * 13) % 101,
  }));
  const log = await merged(rows, 3600);
  const configurations = configurationsOf(system);
  const columns = busColumns(log, configurations);
  const scanned = { log, columns, configurations };
  const all = dayEntriesPass.scan(scanned);
  fc.assert(
    fc.property(fc.nat(rows.length - 1), fc.nat(rows.length - 1), (a, b) => {
      const range = {
        fromMs: log.startMs + Math.min(a, b) * log.stepMs,
        toMs: log.startMs + (Math.max(a, b) + 1) * log.stepMs,
      };
      const own = dayEntriesPass.slice(all, range, scanned);
      const stress = stressWithin(all, own);
      const sum = (of: (entry: (typeof own)[number]) => number) =>
        own.reduce((total, entry) => total + of(entry), 0);
      expect(own[0]!.fromMs).toBe(range.fromMs);
      expect(own.at(-1)!.toMs).toBe(range.toMs);
      expect(stress.highS).toBe(sum((entry) => entry.stress.highS));
      expect(stress.topRate).toBe(Math.max(...own.map((entry) => entry.stress.topRate)));
      for (const name of ['socTime', 'levelS', 'rateS'] as const)
        expect(stress[name].reduce((total, one) => total + one, 0)).toBeCloseTo(
          sum((entry) => entry.stress[name].reduce((total, one) => total + one, 0)),
          3,
        );
    }),
    { numRuns: 200 },
  );
});

test('what is made of a range is shared by all who ask for it, and made anew alike when others were looked at since', async () => {
  const rows = Array.from({ length: 240 }, (_, i) => ({
    load_w: 300 + i,
    solar_w: 5 * i,
    grid_w: 300 - 4 * i,
  }));
  const prepared = prepare(systemOf(TEN_KWH), [await logOf(rows, '2024-01-01T00:00:00Z', 3600)]);
  const { startMs } = prepared.log;
  const daysFrom = (day: number) => ({
    fromMs: startMs + day * 86_400_000,
    toMs: startMs + (day + 2) * 86_400_000,
  });
  const first = rangeDataOf(prepared, daysFrom(0));
  expect(rangeDataOf(prepared, daysFrom(1))).not.toBe(first);
  expect(rangeDataOf(prepared, daysFrom(0))).toBe(first);
  for (const day of [2, 3, 4, 5]) rangeDataOf(prepared, daysFrom(day));
  const anew = rangeDataOf(prepared, daysFrom(0));
  expect(anew).not.toBe(first);
  expect(anew).toEqual(first);
});
