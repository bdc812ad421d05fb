import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { DateTime } from 'luxon';
import { readPart, surveyFile } from '../readLog.js';
import { analyse } from '../../report/report.js';
import { bytesOf, read, TEN_KWH, systemOf } from '../../testing/logs.js';
import { followCounter } from './counter.js';
import { instantsOf } from './instants.js';
import { mergeSources } from './mergeSources.js';
import { readingsLog } from './readings.js';
import { longTest } from '../../testing/long.js';

const hours = (count: number) => Float64Array.from({ length: count }, (_, i) => i * 3_600_000);
const follow = (wh: readonly number[], digit = 1, daily = false) => {
  const { risen, faults } = followCounter(hours(wh.length), Float64Array.from(wh), digit, daily);
  return { risen: [...risen], ...faults };
};

describe('a counter', () => {
  test('gives what it rose by since its last reading, missing ones passed over', () => {
    expect(follow([100, 150, NaN, 400, 400])).toEqual({
      risen: [0, 50, NaN, 250, 0],
      resets: 0,
      rollovers: 0,
      glitches: 0,
    });
  });
  test('that starts anew keeps what it had; one replaced by another that stands higher does too', () => {
    expect(follow([900, 950, 20, 70])).toMatchObject({ risen: [0, 50, 20, 50], resets: 1 });
    expect(follow([900, 950, 70_000_000, 70_000_100], 1)).toMatchObject({
      risen: [0, 50, 0, 100],
      resets: 1,
    });
  });
  test.each([
    ['2^16', 65_530, 10, 16],
    ['2^32', 4_294_967_290, 4, 10],
    ['99 999', 99_990, 15, 25],
  ])('rolls over at %s', (_name, before, after, rise) => {
    expect(follow([before, after])).toMatchObject({ risen: [0, rise], rollovers: 1, resets: 0 });
  });
  test('a glitch that falls and comes back is left out', () => {
    expect(follow([5000, 5100, 0, 5200])).toMatchObject({
      risen: [0, 100, NaN, 100],
      glitches: 1,
      resets: 0,
    });
    expect(follow([5000, 5100, 9e9, 5200])).toMatchObject({ risen: [0, 100, NaN, 100], glitches: 1 });
  });
  test('of the day never rolls over: near midnight a fall from 9.95 kWh is a new day', () => {
    expect(follow([9900, 9950, 0, 40], 1, true)).toMatchObject({
      risen: [0, 50, 0, 40],
      rollovers: 0,
      resets: 1,
    });
  });
  test('the sum of its rises is last less first, however it is cut, as long as it only rises', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 5000 }), { minLength: 2, maxLength: 200 }), (rises) => {
        let total = 1e5;
        const wh = rises.map((rise) => (total += rise));
        const { risen } = follow(wh);
        expect(risen.reduce((sum, rise) => sum + rise, 0)).toBe(wh.at(-1)! - wh[0]!);
      }),
    );
  });
});

describe('a wall clock', () => {
  const zones = ['Europe/Lisbon', 'America/New_York', 'Pacific/Auckland', 'Australia/Lord_Howe'];
  longTest.each(zones)(
    'of %s leads back to the instants over both changes, in either direction, against luxon',
    (zone) => {
      for (const stepMinutes of [5, 30, 60]) {
        const fromMs = Date.UTC(2024, 0, 1);
        const instants = Float64Array.from(
          { length: (366 * 1440) / stepMinutes },
          (_, i) => fromMs + i * stepMinutes * 60_000,
        );
        const readings = instants.map((ms) => ms + DateTime.fromMillis(ms, { zone }).offset * 60_000);
        const { timeMs, skipped, repeated } = instantsOf(readings, zone);
        expect([timeMs.findIndex((ms, i) => ms !== instants[i]), skipped.count]).toEqual([-1, 0]);
        const overlapMinutes = zone === 'Australia/Lord_Howe' ? 30 : 60;
        expect(repeated).toBe(Math.max(1, overlapMinutes / stepMinutes));
        const back = instantsOf(readings.slice().reverse(), zone).timeMs.reverse();
        expect(back.findIndex((ms, i) => ms !== instants[i])).toBe(-1);
      }
    },
  );
  test('that keeps one time all year shows readings that the zone skips, and that is told', () => {
    const readings = Float64Array.from({ length: 48 }, (_, i) => Date.UTC(2024, 2, 30, 12) + i * 3_600_000);
    expect(instantsOf(readings, 'Europe/Lisbon').skipped).toEqual({
      count: 1,
      firstMs: Date.UTC(2024, 2, 31, 1),
    });
    expect(instantsOf(readings, '+00:00').skipped.count).toBe(0);
  });
});

describe('energies whose course is not known', () => {
  const system = systemOf(TEN_KWH, 'Europe/Lisbon');
  const daily = (rows: readonly string[]) =>
    `Date,Solar kWh,Consumption kWh,Import kWh,Export kWh\n${rows.join('\n')}\n`;
  const DAYS = ['2024-05-01,20,10,2,9', '2024-05-02,18,11,3,8', '2024-05-03,5,12,7,0'];

  async function logsOf(name: string, text: string) {
    const { surveys } = await surveyFile(name, () => bytesOf(text), system);
    return Promise.all(surveys.map(async ({ part, mapping }) => (await readPart(part, mapping, system)).log));
  }

  test('daily totals count in totals, days and the meter’s self-sufficiency; what needs the course says so', async () => {
    const { figures, days } = analyse(system, await logsOf('days.csv', daily(DAYS)));
    expect(['solar', 'load', 'import', 'export'].map((key) => figures[`account.${key}`]!.value)).toEqual([
      43, 33, 12, 17,
    ]);
    expect(figures['account.load']!.basis).toMatchObject({
      shapelessKWh: 33,
      shapelessHours: 72,
      coverage: 1,
    });
    expect(figures['account.selfSufficiency.grid']!.value).toBeCloseTo(1 - 12 / 33, 12);
    expect(figures['account.selfSufficiency.supply']).toMatchObject({ value: null, status: 'not-measured' });
    expect(days.map(({ date, load, import: bought, gridFree }) => [date, load, bought, gridFree])).toEqual([
      ['2024-05-01', 10, 2, false],
      ['2024-05-02', 11, 3, false],
      ['2024-05-03', 12, 7, false],
    ]);
  });

  test('a fine log leads; the totals fill the days it lacks, and are told where they differ', async () => {
    const fine = Array.from(
      { length: 96 },
      (_, i) => `${new Date(Date.UTC(2024, 3, 30, 23) + i * 900_000).toISOString()},${i < 90 ? 400 : ''}`,
    );
    const { log } = await read(`time,load_w\n${fine.join('\n')}\n`, 'fine.csv');
    const totals = await logsOf('days.csv', daily(DAYS));
    const merged = mergeSources([log, ...totals], 'Europe/Lisbon', []);
    const [first] = merged.log.lumps.filter(({ flow }) => flow === 'load');
    // 10 kWh of the first day, of which 22.5 h at 400 W are known.
    expect(first!.wh).toBeCloseTo(10_000 - 22.5 * 400, 6);
    expect(first!.unknownS).toBe(1.5 * 3600);
    const turned = mergeSources([...totals, log], 'Europe/Lisbon', []);
    expect(turned).toEqual(merged);
    expect(analyse(system, [log, ...totals]).figures['account.load']!.value).toBeCloseTo(33, 9);
  });

  test('monthly totals hold what their days do not', async () => {
    const months = await logsOf(
      'months.csv',
      'Month start,Consumption kWh\n2024-05-01,310\n2024-06-01,300\n2024-07-01,290\n',
    );
    const days = await logsOf('days.csv', daily(DAYS));
    const { log } = mergeSources([...months, ...days], 'Europe/Lisbon', []);
    const load = log.lumps.filter(({ flow }) => flow === 'load').map(({ wh }) => Math.round(wh));
    expect(load.sort((a, b) => a - b)).toEqual([10_000, 11_000, 12_000, 277_000, 290_000, 300_000]);
  });

  test('counter readings noted by hand give the energy between them', async () => {
    const text =
      'Date;Time;Import counter kWh;Export counter kWh;Note\n01.05.2024;08:00;1200,5;400;\n09.05.2024;19:30;1261,5;455;meter read\n01.06.2024;07:00;1400;602,5;\n';
    const [log] = await logsOf('readings.csv', text);
    expect(log!.lumps.map(({ flow, wh }) => [flow, Math.round(wh)])).toEqual([
      ['import', 61_000],
      ['import', 138_500],
      ['export', 55_000],
      ['export', 147_500],
    ]);
    expect(analyse(system, [log!]).figures['account.import']!.value).toBeCloseTo(199.5, 9);
  });

  test('typed into the form they are a source of their own', () => {
    const at = (day: number, counters: Record<string, number>) => ({
      atMs: Date.UTC(2024, 4, day),
      counters,
      note: '',
    });
    expect(readingsLog([at(1, { import: 100 })])).toBeNull();
    const log = readingsLog([
      at(9, { import: 160.5, solar: 40 }),
      at(1, { import: 100 }),
      at(20, { import: 2.5, solar: 75 }),
    ])!;
    expect(log.lumps.map(({ flow, wh }) => [flow, wh])).toEqual([
      ['solar', 35_000],
      ['import', 60_500],
      ['import', 2500],
    ]);
    expect(analyse(system, [log]).figures['account.import']!.value).toBeCloseTo(63, 9);
  });

  test('a counter beside the power gives the energy of the power’s gap exactly', async () => {
    const rows = Array.from({ length: 48 }, (_, i) => {
      const watts = i >= 20 && i < 32 ? '' : 600;
      return `${new Date(Date.UTC(2024, 4, 1) + i * 1_800_000).toISOString()},${watts},${(100 + i * 0.3).toFixed(1)}`;
    });
    const [log] = await logsOf(
      'both.csv',
      `Timestamp,Load power W,Total consumption kWh\n${rows.join('\n')}\n`,
    );
    const { figures } = analyse(system, [log!]);
    expect(figures['account.load']!.value).toBeCloseTo(0.6 * 24, 6);
    expect(figures['account.load']!.basis['shapelessKWh']).toBeCloseTo(3.6, 6);
  });
});
