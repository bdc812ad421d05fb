import { describe, expect, test } from '@jest/globals';
import { prepare, rangeDataOf } from '../../passes/prepare.js';
import { endMs, type SourceLog } from '../../model/log.js';
import { ISLAND_HOME, simulatedIslands } from '../../testing/islands.js';
import { logOf, systemOf, TEN_KWH, type Row } from '../../testing/logs.js';
import { openedOutage, outagesView, outageStarts } from '../../views/outages.js';
import { homeStorage } from '../shared/homeStorage.js';
import { expectedOf } from './expectedRuntime.js';
import { scenarioOf } from './scenario.js';
import { typicalRuntime } from './typicalRuntime.js';

const START = '2024-06-01T00:00:00Z';
const home = systemOf({ ...TEN_KWH, cutOff: 0.1 });

const courseOf = (system: typeof home, log: SourceLog) =>
  outagesView(prepare(system, [log]), { fromMs: log.startMs, toMs: endMs(log) });

/** Days of a steady load on the grid with a full battery; the grid is down from an hour on. */
async function steady(loadW: number, days: number, downFrom: number, hours: number, gone = hours) {
  const rows: Row[] = Array.from({ length: days * 24 }, (_, h) => {
    const down = h >= downFrom && h < downFrom + hours;
    const dark = down && h >= downFrom + gone;
    const load = dark ? 0 : loadW;
    return {
      load_w: load,
      solar_w: 0,
      battery_w: down ? load : 0,
      grid_w: down ? 0 : loadW,
      grid_v: down ? 0 : 230,
      soc_pct: down ? Math.max(5, 100 - (h - downFrom) * 5) : 100,
    };
  });
  return courseOf(home, await logOf(rows, START, 3600));
}

describe('what an outage could be expected to last', () => {
  test('is what its charge lasts on the days before it', async () => {
    const { outages } = await steady(470, 40, 30 * 24 + 5, 6);
    // 10 kWh × 0.95 from full to empty, a tenth of it below the cut-off; 30 W are taken for the draw.
    const { expectedH, lastedH, end, isHeld } = outages[0]!.expected!;
    expect(expectedH!.value).toBe(Math.floor((9500 * 0.9) / 500));
    expect(expectedH!.low < expectedH!.value && expectedH!.value < expectedH!.high).toBe(true);
    expect([lastedH, end, isHeld]).toEqual([6, 'grid', true]);
  });

  test('needs a week before it, and tells a home that went dark with charge left from one that ran out', async () => {
    expect((await steady(470, 10, 5 * 24, 6)).outages[0]!.expected!.expectedH).toBeNull();
    const tripped = (await steady(470, 40, 30 * 24, 10, 3)).outages[0]!.expected!;
    expect([tripped.end, tripped.lastedH, tripped.isHeld]).toEqual(['dark', 3, null]);
    const empty = (await steady(470, 40, 30 * 24, 24, 18)).outages[0]!.expected!;
    expect([empty.end, empty.lastedH, empty.isHeld]).toEqual(['empty', 18, true]);
  });

  test('doubts the load by its meter, and neither the sun nor the store’s own draw with it', async () => {
    const rows: Row[] = Array.from({ length: 40 * 24 }, (_, h) => {
      const down = h >= 30 * 24 && h < 30 * 24 + 3;
      return {
        load_w: 500,
        solar_w: 0,
        battery_w: down ? 500 : 0,
        grid_w: down ? 0 : 500,
        grid_v: down ? 0 : 230,
        soc_pct: 100,
      };
    });
    const log = await logOf(rows, START, 3600);
    const prepared = prepare(home, [log]);
    const known = homeStorage(rangeDataOf(prepared, { fromMs: log.startMs, toMs: endMs(log) }))!;
    const storage = { ...known, capacityOff: 0, socOff: 0, parameters: { ...known.parameters, idleW: 500 } };
    const { expectedH } = expectedOf(prepared.log, prepared.columns, prepared.outages[0]!, storage, 0.5);
    // 8.55 kWh at 500 W of own draw beside a load of 500, 750 and 250 W.
    expect(expectedH).toEqual({ value: 8, low: 6, high: 11 });
  });

  test('uses nothing that came later', () => {
    const truth = { seed: 3, days: 60, stepSeconds: 900, hasVoltage: true };
    const { log } = simulatedIslands({ ...truth, outages: [[40 * 24 + 19, 300]] });
    const [first] = courseOf(ISLAND_HOME, log).outages;
    const from = Math.round((first!.fromMs - log.startMs) / log.stepMs);
    const load = log.columns.get('load')!;
    // From the outage on another home: its expectation stays, what the load led to does not.
    const other = load.values.map((watts, i) => (i < from ? watts : watts * 3 + 40));
    const changed = { ...log, columns: new Map([...log.columns, ['load', { ...load, values: other }]]) };
    const [second] = courseOf(ISLAND_HOME, changed as SourceLog).outages;
    expect(second!.expected!.expectedH!.value).toBeCloseTo(first!.expected!.expectedH!.value, 0);
    expect(second!.expected!.charge!.reckoned.value).toBeLessThan(first!.expected!.charge!.reckoned.value);
  });

  test('opened, an outage has its course with an hour around it and its neighbours', () => {
    const truth = { seed: 3, days: 60, stepSeconds: 900, hasVoltage: true };
    const { log } = simulatedIslands({
      ...truth,
      outages: [
        [35 * 24, 60],
        [40 * 24, 120],
      ],
    });
    const prepared = prepare(ISLAND_HOME, [log]);
    const [a, b] = prepared.outages.map(({ fromMs }) => fromMs) as [number, number];
    const opened = openedOutage(prepared, a)!;
    expect([opened.beforeMs, opened.afterMs]).toEqual([null, b]);
    expect(opened.course.range).toEqual({ fromMs: a - 3_600_000, toMs: a + 2 * 3_600_000 });
    expect([...opened.course.gridDown].join('')).toBe('000011110000');
    expect(openedOutage(prepared, a + 1)).toBeNull();
  });
});

describe('the runtime as usual at an hour of a month', () => {
  test('is the median over the days of that month', async () => {
    const rows = Array.from({ length: 30 * 24 }, (_, h) => ({
      load_w: h % 24 < 12 ? 170 : 470,
      solar_w: 0,
      grid_w: 500,
      battery_w: 0,
      soc_pct: 100,
    }));
    const log = await logOf(rows, START, 3600);
    const prepared = prepare(home, [log]);
    const starts = outageStarts(prepared, { fromMs: log.startMs, toMs: endMs(log) })!;
    const half = scenarioOf({ startSoc: 0.5 });
    // 3.8 kWh: from noon 500 W for 7.6 h, from midnight twelve hours at 200 W and 2.8 at 500 W.
    expect(typicalRuntime(starts, half, 5, 12)!.value).toBe(7);
    expect(typicalRuntime(starts, half, 5, 0)!.value).toBe(14);
    const noon = typicalRuntime(starts, half, 5, 12)!;
    expect(noon.starts).toBe(30);
    expect(noon.low <= noon.value && noon.value <= noon.high).toBe(true);
    expect(typicalRuntime(starts, half, 6, 12)).toBeNull();
  });
});
