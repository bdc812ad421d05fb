import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { analyse, report } from '../../report/report.js';
import { prepare } from '../../passes/prepare.js';
import { logOf, reportOf, systemOf, TEN_KWH, testData, valueOf, type Row } from '../../testing/logs.js';
import { daysBetween } from '../../time/days.js';
import { zoneOf } from '../../time/zone.js';

const START = '2024-01-01T00:00:00Z';
const system = systemOf(TEN_KWH);

describe('published definitions', () => {
  // R. Luthander et al., Applied Energy 142 (2015): M = min(L, P + S); P 0, 2, 4, 1 and L 1, 1, 1, 3, worked by hand.
  const solar = [0, 2000, 4000, 1000];
  const load = [1000, 1000, 1000, 3000];

  test('self-consumption 3/7 and self-sufficiency 3/6 without a store', async () => {
    const rows = solar.map((s, i) => ({
      solar_w: s,
      load_w: load[i]!,
      grid_w: load[i]! - s,
      battery_w: 0,
      soc_pct: 50,
    }));
    const figures = await reportOf(system, rows, START, 3600);
    expect(valueOf(figures, 'account.selfConsumption')).toBeCloseTo(3 / 7, 12);
    expect(valueOf(figures, 'account.selfSufficiency.supply')).toBeCloseTo(3 / 6, 12);
  });

  test('5/7 and 5/6 with a lossless store of 2 kWh; the meter says the same', async () => {
    const battery = [0, -1000, -1000, 2000];
    const soc = [0, 0, 50, 100];
    const rows = solar.map((s, i) => ({
      solar_w: s,
      load_w: load[i]!,
      battery_w: battery[i]!,
      grid_w: load[i]! - s - battery[i]!,
      soc_pct: soc[i]!,
    }));
    const figures = await reportOf(systemOf({ ...TEN_KWH, moduleKWh: 2 }), rows, START, 3600);
    expect(valueOf(figures, 'account.selfConsumption')).toBeCloseTo(5 / 7, 12);
    expect(valueOf(figures, 'account.selfSufficiency.supply')).toBeCloseTo(5 / 6, 12);
    expect(valueOf(figures, 'account.selfSufficiency.grid')).toBeCloseTo(5 / 6, 12);
  });
});

describe('facts of the trade (common practice, no published source)', () => {
  const kWh = (list: readonly [number, number, number, number][]): Row[] =>
    list.map(([s, b, g, l]) => ({
      solar_w: s * 1000,
      battery_w: b * 1000,
      grid_w: g * 1000,
      load_w: l * 1000,
    }));

  test('one day: solar 18.3 = 8.3 direct + 9.0 to battery + 1.0 export; load 23.3; self-sufficiency 74 %', async () => {
    const figures = await reportOf(
      system,
      kWh([
        [8.3, 0, 0, 8.3],
        [9, -9, 0, 0],
        [1, 0, -1, 0],
        [0, 9, 6, 15],
      ]),
      START,
      3600,
    );
    expect(valueOf(figures, 'account.solar')).toBeCloseTo(18.3, 9);
    expect(valueOf(figures, 'account.load')).toBeCloseTo(23.3, 9);
    expect(valueOf(figures, 'account.export')).toBeCloseTo(1, 9);
    expect(Math.round(100 * valueOf(figures, 'account.selfSufficiency.supply'))).toBe(74);
    expect(valueOf(figures, 'account.closingError')).toBeCloseTo(0, 9);
  });

  test('one day with carried-over store: 4.1 direct, and the account notes the change in store', async () => {
    const rows = kWh([
      [4.1, 0, 0, 4.1],
      [7, -7, 0, 0],
      [1, 0, -1, 0],
      [0, 13, 0, 13],
      [0, 0, 0, 0],
    ]);
    const soc = [60, 60, 95, 95, 30];
    const figures = await reportOf(
      systemOf({ ...TEN_KWH, moduleKWh: 20, maxDischargeKW: 15 }),
      rows.map((r, i) => ({ ...r, soc_pct: soc[i]! })),
      START,
      3600,
    );
    expect(valueOf(figures, 'account.load')).toBeCloseTo(17.1, 9);
    expect(valueOf(figures, 'account.storeChange')).toBeCloseTo(-6, 9);
    expect(valueOf(figures, 'account.import')).toBe(0);
    expect(valueOf(figures, 'account.selfSufficiency.supply')).toBe(1);
    const { assumptions, working } = figures.figures['account.selfSufficiency.supply']!;
    expect(working[0]!.label).toBe('solar to load');
    expect(working[0]!.value).toBeCloseTo(4.1, 9);
    expect(assumptions.join(' ')).toMatch(
      /change in store exceeds 10 % of the load: 6\.0 kWh was stored before/,
    );
  });

  test('an inverter that idles at 250 W, twice, takes 12 kWh a day; one at 11 W takes 0.26', async () => {
    for (const [watts, daily] of [
      [500, 12],
      [11, 0.264],
    ] as const) {
      const rows = Array.from({ length: 24 }, () => ({ load_w: watts, grid_w: watts }));
      expect(valueOf(await reportOf(system, rows, START, 3600), 'account.load')).toBeCloseTo(daily, 9);
    }
  });
});

describe('laws', () => {
  const flow = fc.record({
    s: fc.integer({ min: 0, max: 6000 }),
    l: fc.integer({ min: 0, max: 6000 }),
    b: fc.integer({ min: -3000, max: 3000 }),
  });

  test('the account of any lossless home closes: no closing error, no losses', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(flow, { minLength: 3, maxLength: 60 }), async (flows) => {
        let stored = 5000;
        const rows = flows.map(({ s, l, b }) => {
          const battery = Math.round(Math.max(Math.min(b, stored * 6), (stored - 10_000) * 6));
          const now = {
            solar_w: s,
            load_w: l,
            battery_w: battery,
            grid_w: l - s - battery,
            soc_pct: stored / 100,
          };
          stored -= battery / 6;
          return now;
        });
        const figures = await reportOf(system, rows, START, 600);
        expect(valueOf(figures, 'account.closingError')).toBeCloseTo(0, 9);
        expect(valueOf(figures, 'account.losses')).toBeCloseTo(0, 6);
        const split = ['solar', 'import', 'discharge', 'load', 'export', 'charge'].map((key) =>
          valueOf(figures, `account.${key}`),
        );
        expect(split[0]! + split[1]! + split[2]!).toBeCloseTo(split[3]! + split[4]! + split[5]!, 9);
        for (const key of ['account.selfSufficiency.supply', 'account.selfConsumption']) {
          const value = figures.figures[key]!.value;
          if (value !== null) expect(value >= 0 && value <= 1).toBe(true);
        }
      }),
    );
  });

  test('days and any cut of the range add up to the whole', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(flow, { minLength: 60, maxLength: 200 }),
        fc.integer({ min: 1, max: 59 }),
        async (flows, cut) => {
          const rows = flows.map(({ s, l, b }) => ({
            solar_w: s,
            load_w: l,
            battery_w: b,
            grid_w: l - s - b,
          }));
          const prepared = prepare(systemOf(TEN_KWH, 'Pacific/Auckland'), [await logOf(rows, START, 3600)]);
          const { startMs } = prepared.log;
          const end = startMs + rows.length * 3_600_000;
          const middle = startMs + cut * 3_600_000;
          const whole = report(prepared, { fromMs: startMs, toMs: end });
          const parts = [
            report(prepared, { fromMs: startMs, toMs: middle }),
            report(prepared, { fromMs: middle, toMs: end }),
          ];
          for (const key of [
            'account.solar',
            'account.load',
            'account.import',
            'account.export',
            'account.charge',
            'wear.efc.nameplate',
          ]) {
            expect(parts.reduce((sum, part) => sum + valueOf(part, key), 0)).toBeCloseTo(
              valueOf(whole, key),
              6,
            );
          }
          expect(whole.days.reduce((sum, day) => sum + day.load!, 0)).toBeCloseTo(
            valueOf(whole, 'account.load'),
            6,
          );
        },
      ),
      { numRuns: 30 },
    );
  });

  test('energy converts back: total ÷ time is the mean power of the working', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.integer({ min: 0, max: 9000 }), { minLength: 2, maxLength: 50 }),
        fc.constantFrom(60, 300, 900, 3600),
        async (watts, step) => {
          const figure = (
            await reportOf(
              system,
              watts.map((w) => ({ load_w: w })),
              START,
              step,
            )
          ).figures['account.load']!;
          const [mean, hours] = figure.working;
          expect(mean!.value).toBeCloseTo(watts.reduce((a, b) => a + b, 0) / watts.length, 6);
          expect((figure.value! * 1000) / hours!.value).toBeCloseTo(mean!.value, 6);
        },
      ),
    );
  });
});

describe('daily energies across a change of clocks, against pandas and scipy (energy_across_dst.json)', () => {
  interface Case {
    readonly zone: string;
    readonly start: string;
    readonly stepSeconds: number;
    readonly watts: readonly number[];
    readonly days: readonly { readonly date: string; readonly hours: number; readonly kWh: number }[];
    readonly totalKWh: number;
  }
  const { cases } = testData('energy_across_dst.json') as { cases: readonly Case[] };

  test.each(cases.map((one) => [`${one.zone} ${one.days[0]!.date}`, one] as const))(
    '%s',
    async (_name, one) => {
      const figures = await reportOf(
        systemOf(TEN_KWH, one.zone),
        one.watts.map((w) => ({ load_w: w })),
        one.start,
        one.stepSeconds,
      );
      expect(figures.days.map(({ date }) => date)).toEqual(one.days.map(({ date }) => date));
      figures.days.forEach((day, i) => expect(day.load).toBeCloseTo(one.days[i]!.kWh, 9));
      expect(valueOf(figures, 'account.load')).toBeCloseTo(one.totalKWh, 9);
      const lengths = daysBetween(
        zoneOf(one.zone),
        Date.parse(one.start),
        Date.parse(one.start) + one.watts.length * 1_800_000,
      );
      expect(lengths.map(({ fromMs, toMs }) => (toMs - fromMs) / 3_600_000)).toEqual(
        one.days.map(({ hours }) => hours),
      );
    },
  );
});

describe('uncertainty', () => {
  const rows = Array.from({ length: 288 }, () => ({
    solar_w: 1000,
    load_w: 900,
    grid_w: -100,
    battery_w: 0,
    soc_pct: 50,
  }));

  test('a meter’s gain does not average out, and its zero counts for as long as it reads', async () => {
    const exact = { ...system, accuracy: { load: 0.02, offsetW: 0 } };
    const load = (await reportOf(exact, rows, START, 300)).figures['account.load']!;
    // 21.6 kWh ± 2 % and half a watt for 24 hours, as roots of squares (GUM 5.1).
    expect(load.high! - load.value!).toBeCloseTo(Math.hypot(0.02 * 21.6, 0.012), 9);
    const offset = (await reportOf({ ...system, accuracy: { load: 0, offsetW: 5 } }, rows, START, 300))
      .figures['account.load']!;
    expect(offset.high! - offset.value!).toBeCloseTo(5.5 * 0.024, 9);
  });

  test('every figure with a value lies in its interval, with a working that ends in it', async () => {
    const figures = await reportOf(system, rows, START, 300);
    for (const [key, figure] of Object.entries(figures.figures)) {
      if (figure.value === null) continue;
      expect([key, figure.low! <= figure.value && figure.value <= figure.high!]).toEqual([key, true]);
      expect([key, figure.working.find(({ role }) => role === 'result')?.value]).toEqual([key, figure.value]);
      expect(figure.source.length).toBeGreaterThan(10);
    }
  });
});

test('the same input gives the same report to the last digit', async () => {
  const rows = Array.from({ length: 600 }, (_, i) => ({
    solar_w: (i * 37) % 3000,
    load_w: 500,
    grid_w: 20,
    battery_w: 480 - ((i * 37) % 3000),
    soc_pct: i % 101,
  }));
  const log = await logOf(rows, START, 300);
  expect(analyse(system, [log])).toEqual(analyse(system, [log]));
});
