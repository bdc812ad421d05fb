import { describe, expect, test } from '@jest/globals';
import { reportOf, systemOf, TEN_KWH, type Row, logOf } from '../../testing/logs.js';
import { prepare, rangeDataOf } from '../../passes/prepare.js';
import { endMs } from '../../model/log.js';
import type { System } from '../../system/schema.js';
import { legHome, simulatedLegs } from '../../testing/legs.js';
import { peakLoads } from './peakLoads.js';
import { longTest } from '../../testing/long.js';

const START = '2024-01-01T00:00:00Z';
const base = systemOf(TEN_KWH);
const split: System = {
  ...base,
  configurations: [
    {
      ...base.configurations![0]!,
      inverter: { continuousKW: 8, batteryOnlyKW: 6, legs: 2, perLegKW: 3 },
    },
  ],
};

async function courseOf(system: System, rows: readonly Row[], stepSeconds: number) {
  const prepared = prepare(system, [await logOf(rows, START, stepSeconds)]);
  const range = { fromMs: prepared.log.startMs, toMs: endMs(prepared.log) };
  return peakLoads(rangeDataOf(prepared, range), prepared.columns);
}

describe('legs', () => {
  test('3 kW a leg, 2 kW on each and 1.6 kW more on one: over its limit below the total’s (common practice)', async () => {
    const rows: Row[] = Array.from({ length: 10 }, (_, i) => ({
      load_w: i < 8 ? 4000 : 5600,
      leg1_w: i < 8 ? 2000 : 3600,
      leg2_w: 2000,
    }));
    const { figures } = await courseOf(split, rows, 900);
    expect(figures['peak.hoursAbove.leg']!.value).toBe(0.5);
    expect(figures['peak.hoursAbove.batteryOnly']!.value).toBe(0);
    expect(figures['peak.leg.load']!.value).toBe(3.6);
    // (8 × 0 + 2 × 800) ÷ (8 × 2000 + 2 × 2800)
    expect(figures['peak.leg.imbalance']!.value).toBeCloseTo(1600 / 21_600, 12);
  });

  test('without columns or a limit each figure says what is missing', async () => {
    const { figures } = await reportOf(base, [{ load_w: 7000 }, { load_w: 100 }], START, 3600);
    expect(figures['peak.leg.imbalance']!.reason).toMatch(/leg1_w and leg2_w/);
    expect(figures['peak.hoursAbove.continuous']!.reason).toMatch(/continuous rating is not described/);
    expect(figures['peak.hoursAbove.batteryOnly']!.value).toBe(1);
    expect(figures['peak.transfers']!.reason).toMatch(
      /no grid power, no battery power and no state of charge; columns .* would supply them/,
    );
    const { figures: blind } = await reportOf(base, [{ soc_pct: 50 }, { soc_pct: 51 }], START, 3600);
    expect(blind['peak.load.p999']!.reason).toMatch(/load_w would supply/);
  });
});

describe('the highest loads', () => {
  test('are one a day, with what was on; 99.9 % of the time lies below the percentile', async () => {
    const rows = Array.from({ length: 3 * 1000 }, (_, i) => ({
      load_w: i === 700 ? 5005 : i === 2500 ? 6505 : 200 + (i % 100) * 10,
      kettle_load_w: i === 2500 ? 2000 : 0,
      oven_load_w: i === 2500 ? 3000 : 0,
    })) as unknown as Row[];
    const { peaks, figures } = await courseOf(split, rows, 60);
    expect(peaks.map(({ loadW }) => loadW)).toEqual([6505, 5005, 1190]);
    expect(peaks[0]).toMatchObject({
      atMs: Date.parse(START) + 2500 * 60_000,
      parts: [
        { name: 'oven', watts: 3000 },
        { name: 'kettle', watts: 2000 },
      ],
      limitW: 6000,
    });
    // 2997 of 3000 minutes: below the three highest lies 1190 W.
    expect(Math.abs(figures['peak.load.p999']!.value! - 1.19)).toBeLessThanOrEqual(0.01);
  });
});

describe('a transfer by overload', () => {
  /** A battery that carries 900 W, at 18 h a start, the grid for a quarter of an hour. */
  const rows = (jumpW: number, rest: number, soc = 60): Row[] =>
    Array.from({ length: 96 }, (_, i) => {
      const isOnGrid = i >= 72 && i < 72 + rest;
      const load = isOnGrid ? jumpW : 900;
      return {
        load_w: load,
        solar_w: 0,
        battery_w: isOnGrid ? 0 : 895,
        grid_w: isOnGrid ? load : 5,
        soc_pct: soc,
      };
    });

  test('is a jump of the load to the grid with charge left, the battery back within the hour', async () => {
    const { transfers, figures } = await courseOf(base, rows(3500, 1), 900);
    expect(transfers).toEqual([
      {
        atMs: Date.parse('2024-01-01T18:00:00Z'),
        toMs: Date.parse('2024-01-01T18:15:00Z'),
        loadW: 3500,
        beforeW: 900,
        legsW: [],
        cause: 'jump',
        soc: 0.6,
        wasCharging: false,
      },
    ]);
    expect(figures['peak.transfers']).toMatchObject({ value: 1, low: 0, high: 1 });
  });

  test('by a leg above its limit is found while the sun charges too, and counts without doubt', async () => {
    const day: Row[] = Array.from({ length: 96 }, (_, i) => {
      const isOver = i >= 50 && i < 52;
      const load = isOver ? 3800 : 900;
      return {
        load_w: load,
        leg1_w: isOver ? 3300 : 450,
        leg2_w: isOver ? 500 : 450,
        solar_w: 3000,
        battery_w: isOver ? -2900 : -2100,
        grid_w: isOver ? load : 0,
        soc_pct: 60,
      };
    });
    const { transfers, figures, findings } = await courseOf(split, day, 900);
    expect(transfers).toMatchObject([{ cause: 'leg', wasCharging: true, legsW: [3300, 500], loadW: 3800 }]);
    expect(figures['peak.transfers']).toMatchObject({ value: 1, low: 1, high: 1 });
    expect(findings.map(({ code }) => code)).toEqual(['leg-transfers', 'leg-over']);
  });

  test('is none where the battery was empty, was told to rest for long, or the load did not jump', async () => {
    for (const other of [rows(3500, 1, 12), rows(3500, 20), rows(1000, 1)])
      expect((await courseOf(base, other, 900)).transfers).toEqual([]);
  });
});

describe('a stop of the output', () => {
  const alone: System = {
    ...split,
    configurations: [{ ...split.configurations![0]!, grid: 'none' }],
  };
  /** Seconds of a home alone: a load on both legs, a third of it on the first as something starts, dark for a while. */
  const seconds = (legW: number, soc: number, darkS: number): Row[] =>
    Array.from({ length: 2000 }, (_, i) => {
      const isOn = i >= 300 && i < 305;
      const isDark = i >= 305 && i < 305 + darkS;
      const first = isDark ? 0 : isOn ? legW : 800;
      const second = isDark ? 0 : 700;
      return {
        load_w: first + second,
        leg1_w: first,
        leg2_w: second,
        battery_w: first + second,
        solar_w: 0,
        soc_pct: soc,
      };
    });

  test('is told with its legs, the limit exceeded, the seconds dark and the restart; what held and what tripped bound it', async () => {
    const { stops, proven, figures, findings } = await courseOf(alone, seconds(3400, 50, 40), 1);
    const atMs = Date.parse(START) + 305_000;
    expect(stops).toEqual([
      {
        atMs,
        restartMs: atMs + 40_000,
        cause: 'leg',
        loadW: 4100,
        legsW: [3400, 700],
        limitW: 3000,
        soc: 0.5,
        fault: null,
      },
    ]);
    expect(proven.find(({ leg }) => leg === 1)).toMatchObject({
      charge: 'above',
      heldW: 800,
      trippedW: 3400,
    });
    expect(figures['peak.stops']).toMatchObject({ value: 1, low: 1, high: 1 });
    expect(figures['peak.leg.tripped']!.value).toBeCloseTo(3.4, 9);
    expect(figures['peak.leg.held']!.value).toBeCloseTo(0.8, 9);
    expect(figures['peak.headroom.leg']!.value).toBeCloseTo(-0.4, 9);
    expect(findings.map(({ code }) => code)).toContain('output-stops');
  });

  test('at an empty battery is low charge; one that nothing explains says so; a load that held is none', async () => {
    expect((await courseOf(alone, seconds(900, 1, 40), 1)).stops[0]!.cause).toBe('low-charge');
    const unknown = await courseOf(alone, seconds(900, 50, 40), 1);
    expect(unknown.stops[0]!.cause).toBe('unknown');
    expect(unknown.figures['peak.stops']).toMatchObject({ value: 1, low: 0 });
    const held = await courseOf(alone, seconds(2900, 50, 0), 1);
    expect(held.stops).toEqual([]);
    expect(held.figures['peak.leg.held']!.value).toBeCloseTo(2.9, 9);
  });
});

describe('simulated legs with known stops', () => {
  longTest.each([1, 5, 20])('every stop is found at a step of %s s, and none is invented', (stepSeconds) => {
    for (let seed = 1; seed <= 4; seed++) {
      const { log, stops } = simulatedLegs({ seed, days: 3, stepSeconds, perLegW: 2600 });
      const prepared = prepare(legHome(2600), [log]);
      const range = { fromMs: log.startMs, toMs: endMs(log) };
      const { stops: found, proven } = peakLoads(rangeDataOf(prepared, range), prepared.columns);
      expect(found).toHaveLength(stops.length);
      stops.forEach(({ atMs }, k) => expect(Math.abs(found[k]!.atMs - atMs)).toBeLessThan(2 * log.stepMs));
      // What was held was held; what tripped it is only told where the step shows it.
      for (const { leg, heldW, trippedW } of proven) {
        if (leg > 0) expect(heldW <= 2600).toBe(true);
        if (stepSeconds === 20) expect(trippedW).toBeNaN();
        else if (leg > 0 && stepSeconds === 1 && !Number.isNaN(trippedW))
          expect(trippedW).toBeGreaterThan(2600);
      }
    }
  });
});
