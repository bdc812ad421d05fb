import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { analyse } from '../../report/report.js';
import type { SourceLog } from '../../model/log.js';
import { seededRandom } from '../../statistics/random.js';
import type { JournalNote } from '../../system/journal.js';
import { reportOf, systemOf, TEN_KWH, type Row } from '../../testing/logs.js';
import { longTest } from '../../testing/long.js';

const START = '2024-01-01T00:00:00Z';
const home = systemOf(TEN_KWH);

function note(kind: JournalNote['kind'], from: string, to: string): JournalNote {
  return { kind, fromMs: Date.parse(from), toMs: Date.parse(to), text: '', leaveOut: false };
}

describe('an outage that only the journal knows', () => {
  // A grid that rests at zero now and then tells nothing by itself.
  const rows: Row[] = Array.from({ length: 96 }, (_, i) => ({
    load_w: 400,
    solar_w: 0,
    battery_w: i % 3 === 0 ? 400 : 150,
    grid_w: i % 3 === 0 || (i >= 40 && i < 52) ? 0 : 250,
    soc_pct: 80,
  }));
  const told = (kind: JournalNote['kind'], from: string, to: string) =>
    reportOf(home, rows, START, 900, [note(kind, from, to)]);

  test('is entered as far as nothing in the log speaks against it, and is an estimate', async () => {
    const { outages, figures } = await told('outage', '2024-01-01T09:30:00Z', '2024-01-01T14:00:00Z');
    expect(outages.map(({ from, to, evidence }) => [from, to, evidence])).toEqual([
      // From 39, which rests at zero by chance, to 52.
      ['2024-01-01T09:45:00Z', '2024-01-01T13:00:00Z', 'journal'],
    ]);
    expect(figures['outage.count']).toMatchObject({ value: 1, low: 0, status: 'estimated' });
    const none = await told('other', '2024-01-01T09:30:00Z', '2024-01-01T14:00:00Z');
    expect(none.outages).toEqual([]);
  });

  test('a test with the grid at rest is a planned run by itself, with its lowest charge, and no outage', async () => {
    const { outages, figures } = await told('test', '2024-01-01T09:45:00Z', '2024-01-01T13:00:00Z');
    expect(outages).toMatchObject([{ planned: true, evidence: 'journal', hours: 3.25, socLowest: 0.8 }]);
    expect(figures['outage.count']!.value ?? 0).toBe(0);
  });

  test('a grid that rests at zero anyway is no evidence: not measured, never none', async () => {
    const { figures } = await reportOf(home, rows, START, 900);
    expect(figures['outage.count']).toMatchObject({ value: null, status: 'not-measured' });
    expect(figures['outage.count']!.reason).toMatch(/rests at exactly zero anyway/);
  });

  test('a note over whole days names the day, not the hours', async () => {
    const { outages } = await told('outage', '2024-01-01T00:00:00Z', '2024-01-02T00:00:00Z');
    expect(outages).toEqual([]);
  });

  test('against a grid at work the log leads, and says so', async () => {
    const { outages, findings } = await told('outage', '2024-01-01T05:15:00Z', '2024-01-01T06:00:00Z');
    expect(outages).toEqual([]);
    expect(findings.find(({ code }) => code === 'journal-outage')!.message).toMatch(/grid at work/);
  });
});

describe('an outage by the logged voltage', () => {
  const rows: Row[] = Array.from({ length: 48 }, (_, i) => {
    const down = i >= 20 && i < 32;
    const dark = i >= 26 && i < 29;
    return {
      load_w: dark ? 0 : down ? 1000 + 100 * (i - 20) : 500,
      solar_w: 0,
      battery_w: dark ? 0 : down ? 1000 + 100 * (i - 20) : 500,
      grid_w: down ? 0 : 5,
      soc_pct: 90 - i,
      grid_v: down ? 0 : 231,
    };
  });

  test('is entered with what the home did in it, the time without power and the restart', async () => {
    const { outages, figures, findings } = await reportOf(home, rows, START, 900);
    expect(findings.find(({ code }) => code === 'outage-dark')).toMatchObject({
      severity: 'warning',
      from: '2024-01-01T05:00:00Z',
      message: expect.stringMatching(/without power for 0\.8 h in an outage, first at 2024-01-01 06:30/),
    });
    expect(outages).toEqual([
      {
        from: '2024-01-01T05:00:00Z',
        to: '2024-01-01T08:00:00Z',
        hours: 3,
        evidence: 'voltage',
        socStart: expect.closeTo(0.7, 9),
        socEnd: 0.58,
        socLowest: 0.58,
        lowestAt: '2024-01-01T08:00:00Z',
        // Nine quarters of an hour with power: 1.0 to 1.5 kW, then 1.9 to 2.1 kW.
        load: expect.closeTo(3.375, 9),
        solar: 0,
        battery: expect.closeTo(3.375, 9),
        peakKW: 2.1,
        unservedHours: 0.75,
        heldBack: false,
        restart: '2024-01-01T07:15:00Z',
        planned: false,
        // Five hours of log are too few to expect anything by; it went dark with charge left.
        expectedHours: null,
        carriedHours: 1.5,
        end: 'dark',
      },
    ]);
    expect(figures['outage.count']!.value).toBe(1);
    expect(figures['outage.hours']!.value).toBe(3);
    expect(figures['outage.carriedShare']!.value).toBe(0.75);
    expect(figures['outage.count']!.basis['evidence']).toEqual(['voltage']);
  });

  test('within a test of the journal is a planned run, and counts as no outage', async () => {
    const { outages, figures, findings } = await reportOf(home, rows, START, 900, [
      note('test', '2024-01-01T04:30:00Z', '2024-01-01T07:00:00Z'),
    ]);
    expect(outages.map(({ planned, evidence }) => [planned, evidence])).toEqual([[true, 'voltage']]);
    expect(figures['outage.count']!.value).toBe(0);
    expect(figures['outage.hours']!.value).toBe(0);
    expect(figures['outage.count']!.basis['plannedRuns']).toBe(1);
    expect(figures['outage.carriedShare']!.reason).toMatch(/was not down/);
    expect(findings.find(({ code }) => code === 'outage')!.message).toMatch(/one run .* 3\.0 h, was planned/);
  });

  test('a home without a grid has none, and a log without a sign of it says what is missing', async () => {
    const alone = { ...home, configurations: [{ ...home.configurations![0]!, grid: 'none' as const }] };
    const hut = await reportOf(alone, rows, START, 900);
    expect(hut.outages).toEqual([]);
    expect(hut.figures['outage.count']!.reason).toMatch(/has no grid/);
    // Its load is gone for three quarters of an hour of twelve all the same: an interruption, no outage.
    const often = hut.figures['outage.unservedHours']!;
    expect(often.reason).toMatch(/below 10 W for 6 % of the time/);
    const longer = await reportOf(alone, [...rows, ...rows.slice(0, 24)], START, 900);
    expect(longer.figures['outage.unservedHours']).toMatchObject({
      value: 0.75,
      basis: { interruptions: 1 },
    });
    const blind = await reportOf(home, [{ load_w: 1 }, { load_w: 2 }], START, 900);
    expect(blind.figures['outage.hours']!.reason).toMatch(/grid_up, grid_v or grid_hz/);
  });

  test('solar shut off by a full battery is seen against the days around', async () => {
    const day = (held: boolean, down: boolean): Row[] =>
      Array.from({ length: 24 }, (_, h) => {
        const sun = h > 7 && h < 18 ? 3000 * (held && h >= 12 ? 0.1 : 1) : 0;
        return {
          solar_w: sun,
          load_w: 300,
          grid_w: down && h >= 12 && h < 16 ? 0 : 10,
          battery_w: 0,
          soc_pct: h >= 12 ? 99 : 60,
          grid_v: down && h >= 12 && h < 16 ? 0 : 230,
        };
      });
    const days = (held: boolean) =>
      Array.from({ length: 21 }, (_, d) => day(held && d === 10, d === 10)).flat();
    expect((await reportOf(home, days(true), START, 3600)).outages[0]!.heldBack).toBe(true);
    expect((await reportOf(home, days(false), START, 3600)).outages[0]!.heldBack).toBe(false);
  });
});

describe('an outage inferred from a grid that never rests', () => {
  /** A home of 60 days at 5 min (invented) whose grid trickles by night and is held at zero while it charges. */
  function simulated(
    seed: number,
    outages: readonly (readonly [atHour: number, minutes: number])[],
  ): SourceLog {
    const random = seededRandom(seed);
    const count = 60 * 288;
    const names = ['solar', 'load', 'grid', 'battery'] as const;
    const [solar, load, grid, battery] = names.map(() => new Float64Array(count)) as [
      Float64Array,
      Float64Array,
      Float64Array,
      Float64Array,
    ];
    for (let i = 0; i < count; i++) {
      const hour = (i / 12) % 24;
      const down = outages.some(([at, minutes]) => i / 12 >= at && i / 12 < at + minutes / 60);
      const sun = Math.max(0, 3500 * Math.sin((Math.PI * (hour - 6)) / 12) * (0.4 + 0.6 * random()));
      const need = 250 + 400 * random();
      const isCharging = sun > need + 100;
      const trickle = down || (isCharging && random() < 0.7) ? 0 : Math.round(5 + 20 * random());
      solar[i] = sun;
      load[i] = need;
      grid[i] = trickle;
      battery[i] = need - sun - trickle;
    }
    const column = (values: Float64Array) => ({ values, resolution: 1 });
    return {
      name: 'home.csv',
      startMs: Date.parse(START),
      stepMs: 300_000,
      count,
      lumps: [],
      findings: [],
      columns: new Map(names.map((name, k) => [name, column([solar, load, grid, battery][k]!)])),
    };
  }

  longTest(
    'is found from a quarter of an hour on by night, and none is invented in homes without any',
    () => {
      const planted = [
        [26, 15],
        [100, 45],
        [340, 240],
        [700, 31 * 60],
        [1200, 20],
      ] as const;
      let found = 0;
      for (let seed = 1; seed <= 6; seed++) {
        const { outages } = analyse(home, [simulated(seed, planted)]);
        expect(outages.every(({ evidence }) => evidence === 'inferred')).toBe(true);
        for (const [at, minutes] of planted)
          if (
            outages.some(
              ({ from, hours }) =>
                Math.abs(Date.parse(from) - Date.parse(START) - at * 3_600_000) <= 3_600_000 &&
                Math.abs(hours * 60 - minutes) <= 60,
            )
          )
            found++;
        expect(outages.length).toBeLessThanOrEqual(planted.length);
        expect(analyse(home, [simulated(seed + 50, [])]).outages).toEqual([]);
      }
      expect(found).toBeGreaterThanOrEqual(0.9 * 6 * planted.length);
    },
  );

  // Simulated homes with known truth: 5 outages of a quarter of an hour to 31 hours, or none.
  test('its count has an interval that holds the truth and says more than “none to all”', () => {
    const planted = [
      [26, 15],
      [100, 45],
      [340, 240],
      [700, 31 * 60],
      [1200, 20],
    ] as const;
    for (let seed = 11; seed <= 14; seed++)
      for (const truth of [planted, []]) {
        const figure = analyse(home, [simulated(seed, truth)]).figures['outage.count']!;
        expect(figure.status).toBe('estimated');
        expect(figure.low! <= truth.length && truth.length <= figure.high!).toBe(true);
        if (truth.length > 0) expect(figure.low).toBeGreaterThan(0);
        expect(figure.high! - figure.low!).toBeLessThan(12);
      }
  });

  test('a meter that rests at zero anyway tells of none, however long it rests', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.integer({ min: 0, max: 3 }), { minLength: 30, maxLength: 80 }),
        async (list) => {
          const rows: Row[] = list.map((grid) => ({
            load_w: 400,
            battery_w: 400,
            grid_w: grid < 2 ? 0 : 50,
          }));
          expect((await reportOf(home, rows, START, 900)).outages).toEqual([]);
        },
      ),
      { numRuns: 30 },
    );
  });
});
