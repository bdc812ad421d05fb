import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { powerSeries } from '../../views/powerSeries.js';
import { rollOf } from '../../views/roll.js';
import { prepare } from '../../passes/prepare.js';
import { analyse } from '../../report/report.js';
import type { SourceLog } from '../../model/log.js';
import { seededRandom } from '../../statistics/random.js';
import { csvOf, logOf, read, systemOf, TEN_KWH, type Row } from '../../testing/logs.js';
import { shuffled } from '../../testing/mutation.js';
import { daysBetween } from '../../time/days.js';
import { offsetAt, zoneOf } from '../../time/zone.js';
import { bridge } from './bridge.js';
import { instantsOf } from './instants.js';
import { mergeSources } from './mergeSources.js';
import { sampleAtStarts, spreadMeans } from './spread.js';
import { durations, findStep } from './step.js';
import { longTest, runs } from '../../testing/long.js';

const START = '2024-01-01T00:00:00Z';
const system = systemOf(TEN_KWH);
const row = fc.record({
  solar_w: fc.integer({ min: 0, max: 5000 }),
  load_w: fc.integer({ min: 0, max: 5000 }),
  grid_w: fc.integer({ min: -5000, max: 5000 }),
  battery_w: fc.integer({ min: -5000, max: 5000 }),
  soc_pct: fc.integer({ min: 0, max: 100 }),
});

describe('the step of a log', () => {
  const times = (...ms: number[]) => Float64Array.from(ms);

  test('is its usual distance, gaps or not', () => {
    const minutes = [0, 5, 10, 15, 40, 45, 50, 55, 60].map((m) => m * 60_000);
    expect(findStep(times(...minutes))).toEqual({ stepMs: 300_000, phaseMs: 0, regular: true });
  });

  test('is the nearest usual one when the clock jitters', () => {
    const random = seededRandom(5);
    const jittered = Array.from({ length: 200 }, (_, i) => i * 300_000 + Math.round(9000 * random()));
    const { stepMs, regular } = findStep(times(...jittered));
    expect([stepMs, regular]).toEqual([300_000, false]);
  });

  test('is the finer of two when the logger was set anew, and coarse rows last as long as they say', () => {
    const coarse = Array.from({ length: 20 }, (_, i) => i * 900_000);
    const fine = Array.from({ length: 30 }, (_, i) => 20 * 900_000 + i * 300_000);
    const all = times(...coarse, ...fine);
    const { stepMs, regular } = findStep(all);
    expect([stepMs, regular]).toEqual([300_000, false]);
    const lasts = durations(all, stepMs);
    expect([lasts[0], lasts[18], lasts[25], lasts.at(-1)]).toEqual([900_000, 900_000, 300_000, 300_000]);
  });
});

describe('rows on a grid they do not fit', () => {
  test('keep their energy', () => {
    const rows = fc.array(fc.tuple(fc.integer({ min: 0, max: 5000 }), fc.integer({ min: 1, max: 40 })), {
      minLength: 3,
      maxLength: 60,
    });
    fc.assert(
      fc.property(rows, fc.integer({ min: 1, max: 30 }), (list, stepMinutes) => {
        let at = 0;
        const timeMs = Float64Array.from(list, ([, minutes]) => (at += minutes * 60_000) - minutes * 60_000);
        const lastsMs = Float64Array.from(list, ([, minutes]) => minutes * 60_000);
        const stepMs = stepMinutes * 60_000;
        const grid = { startMs: 0, stepMs, count: Math.floor(at / stepMs) };
        const cells = spreadMeans(
          { timeMs, lastsMs },
          Float64Array.from(list, ([w]) => w),
          grid,
        );
        const inCells = cells.reduce((sum, w) => sum + w * stepMs, 0);
        const end = grid.count * stepMs;
        const inRows = list.reduce(
          (sum, [w], i) => sum + w * Math.max(0, Math.min(end, timeMs[i]! + lastsMs[i]!) - timeMs[i]!),
          0,
        );
        expect(inCells).toBeCloseTo(inRows, 3);
      }),
    );
  });

  test('instant values are taken on the line between neighbours, not across a long gap', () => {
    const rows = { timeMs: Float64Array.of(0, 10, 100), lastsMs: Float64Array.of(10, 10, 10) };
    const samples = sampleAtStarts(rows, Float64Array.of(0, 1, 5), { startMs: 0, stepMs: 5, count: 22 });
    expect([...samples.slice(0, 4)]).toEqual([0, 0.5, 1, NaN]);
    expect([samples[20], samples[19]]).toEqual([5, NaN]);
  });
});

describe('gaps', () => {
  test('of up to three cells are bridged in a line and marked, longer ones stay', () => {
    const values = Float64Array.of(1, NaN, 3, NaN, NaN, NaN, 7, NaN, NaN, NaN, NaN, 2, NaN);
    const asGiven = values.slice();
    const filled = bridge(values);
    expect([...filled.bridged]).toEqual([0, 1, 0, 1, 1, 1, 0, 0, 0, 0, 0, 0, 0]);
    expect([...filled.values]).toEqual([1, 2, 3, 4, 5, 6, 7, NaN, NaN, NaN, NaN, 2, NaN]);
    expect(values).toEqual(asGiven);
    const whole = Float64Array.of(1, 2, NaN, NaN, NaN, NaN, 3);
    expect(bridge(whole).values).toBe(whole);
  });
});

describe('several files', () => {
  test('a log split in two, in either order, gives the figures of the whole', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(row, { minLength: 8, maxLength: 120 }),
        fc.double({ min: 0.1, max: 0.9, noNaN: true }),
        async (rows, at) => {
          const cut = Math.max(2, Math.min(rows.length - 2, Math.floor(rows.length * at)));
          const second = new Date(Date.parse(START) + cut * 600_000).toISOString();
          const parts = [
            await logOf(rows.slice(0, cut), START, 600, 'a.csv'),
            await logOf(rows.slice(cut), second, 600, 'b.csv'),
          ] as [SourceLog, SourceLog];
          const whole = analyse(system, [await logOf(rows, START, 600, 'a.csv')]);
          const split = analyse(system, parts);
          const turned = analyse(system, [parts[1], parts[0]]);
          expect(turned).toEqual(split);
          const plain = ({ figures }: typeof whole) =>
            Object.entries(figures).map(([key, { value, low, high, reason }]) => [
              key,
              value,
              low,
              high,
              reason,
            ]);
          expect(plain(split)).toEqual(plain(whole));
          expect(split.days).toEqual(whole.days);
        },
      ),
      runs(20, 60),
    );
  });

  test('the finer of two leads and the coarser fills its gaps', async () => {
    const fine = await logOf([{ load_w: 100 }, { load_w: 200 }], START, 1800, 'fine.csv');
    const coarse = await logOf([{ load_w: 150 }, { load_w: 600 }], START, 3600, 'coarse.csv');
    const { log, findings } = mergeSources([coarse, fine], 'UTC', []);
    expect([...log.channels.get('load')!.values]).toEqual([100, 200, 600, 600]);
    expect(findings).toEqual([]);
    const again = await logOf([{ load_w: 100 }, { load_w: 250 }], START, 1800, 'later.csv');
    expect(mergeSources([again, fine], 'UTC', []).findings.map(({ message }) => message)).toEqual([
      'The files fine.csv and later.csv give the load twice and differ in 1 interval; fine.csv leads.',
    ]);
  });

  test('where one source fills a gap of another it is marked, told and shown on its day', async () => {
    const hours = Array.from({ length: 48 }, (_, h): Row =>
      h >= 5 && h < 9 ? { solar_w: 0 } : { solar_w: 0, load_w: 400 },
    );
    const other = Array.from({ length: 60 }, (): Row => ({ load_w: 500 }));
    // The second file goes on after the first, too: that is no filled gap.
    const sources = [
      await logOf(hours, START, 3600, 'a.csv'),
      await logOf(other.slice(0, 50), START, 3600, 'b.csv'),
    ];
    const home = prepare(system, sources, [{ kind: 'lead', source: 'a.csv', quantity: 'load' }]);
    const at = (hour: number) => Date.parse(START) + hour * 3_600_000;
    const fill = { quantity: 'load', source: 'b.csv', fromMs: at(5), toMs: at(9) };
    expect(home.log.fills).toEqual([fill]);
    expect(home.findings.filter(({ code }) => code === 'gap-filled')).toMatchObject([
      {
        source: 'b.csv',
        kWh: 2,
        message: '4 h 00 of the load that a.csv lacks are taken from b.csv, in one stretch.',
      },
    ]);
    expect(rollOf(home).map(({ notes }) => notes.filter(({ kind }) => kind === 'filled'))).toEqual([
      [{ kind: 'filled', quantity: 'load', source: 'b.csv', hours: 4 }],
      [],
      [],
    ]);
    const [first, second] = daysBetween(zoneOf('UTC'), at(0), at(48));
    expect([powerSeries(home, first!).fills, powerSeries(home, second!).fills]).toEqual([[fill], []]);
    expect(prepare(system, sources.slice(1)).log.fills).toEqual([]);
  });

  longTest(
    'far apart in step and date count as means over a step that can be held, with their energy',
    async () => {
      const seconds = Array.from({ length: 7200 }, (_, i) => ({ load_w: i % 2000, solar_w: 0, soc_pct: 50 }));
      const hours = Array.from({ length: 48 }, () => ({ load_w: 300, solar_w: 100, soc_pct: 40 }));
      const sources = [
        await logOf(seconds, '2010-01-01T00:00:00Z', 1),
        await logOf(hours, '2020-01-01T00:00:00Z', 3600),
      ];
      const { log, findings } = mergeSources(sources, 'UTC', []);
      expect(log.stepMs).toBe(60_000);
      const told = findings.find(({ code }) => code === 'coarser-step');
      expect(told?.message).toMatch(/too long for steps of 1 s: log\.csv counts as means over 60 s/);
      const { values } = log.channels.get('load')!;
      const wh = values.reduce((sum, watts) => sum + (Number.isNaN(watts) ? 0 : watts / 60), 0);
      expect(wh).toBeCloseTo(seconds.reduce((sum, { load_w: watts }) => sum + watts / 3600, 0) + 48 * 300, 6);
      const turned = mergeSources([...sources].reverse(), 'UTC', []).log.channels.get('load')!.values;
      expect(values.findIndex((watts, i) => !Object.is(watts, turned[i]))).toBe(-1);
    },
  );

  test('what one file lacks another brings', async () => {
    const rows: Row[] = [{ solar_w: 1000 }, { solar_w: 2000 }];
    const loads: Row[] = [{ load_w: 300 }, { load_w: 500 }];
    const { log } = mergeSources(
      [await logOf(rows, START, 3600, 's.csv'), await logOf(loads, '2024-01-01T01:00:00Z', 3600, 'l.csv')],
      'UTC',
      [],
    );
    expect([...log.channels.get('solar')!.values]).toEqual([1000, 2000, NaN]);
    expect([...log.channels.get('load')!.values]).toEqual([NaN, 300, 500]);
  });
});

test('a shuffled file gives the log of the ordered one', async () => {
  const rows = Array.from({ length: 50 }, (_, i) => ({ load_w: i * 10, soc_pct: i }));
  const [header, ...lines] = csvOf(rows, START, 300).trim().split('\n');
  const plain = await read([header, ...lines].join('\n'));
  await fc.assert(
    fc.asyncProperty(fc.shuffledSubarray(lines, { minLength: 50, maxLength: 50 }), async (shuffled) => {
      const { log } = await read([header, ...shuffled].join('\n'));
      expect(log.columns).toEqual(plain.log.columns);
      expect([log.startMs, log.stepMs, log.count]).toEqual([
        plain.log.startMs,
        plain.log.stepMs,
        plain.log.count,
      ]);
    }),
    { numRuns: 30 },
  );
});

describe('an hour that the clock shows twice', () => {
  // Lisbon puts its clock back on 27 October 2024 at 02:00; 01:00 to 02:00 come twice.
  const zone = zoneOf('Europe/Lisbon');
  const truth = Array.from({ length: 96 }, (_, i) => Date.parse('2024-10-26T18:00:00Z') + i * 900_000);
  const local = truth.map((ms) => ms + offsetAt(zone, ms));
  const instants = (order: readonly number[]) =>
    [
      ...instantsOf(
        Float64Array.from(order, (i) => local[i]!),
        'Europe/Lisbon',
      ).timeMs,
    ].sort((a, b) => a - b);
  const all = truth.map((_, i) => i);

  test('is told apart in whatever order the rows are', () => {
    expect(instants(all)).toEqual(truth);
    expect(instants([...all].reverse())).toEqual(truth);
    // Sorted by the clock: each reading beside its second showing.
    expect(instants([...all].sort((a, b) => local[a]! - local[b]!))).toEqual(truth);
    expect(instants([...all.slice(48), ...all.slice(0, 48)])).toEqual(truth);
    expect(instants(shuffled(all, seededRandom(5)))).toEqual(truth);
  });

  test('keeps the order of the file where it has one, and rows that are doubled stay doubled', () => {
    const { timeMs, repeated } = instantsOf(Float64Array.from(local), 'Europe/Lisbon');
    expect([[...timeMs], repeated]).toEqual([truth, 4]);
    expect(instants(all.flatMap((i) => [i, i]))).toEqual(truth.flatMap((ms) => [ms, ms]));
  });
});
