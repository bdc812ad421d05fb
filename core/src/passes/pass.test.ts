import { isDeepStrictEqual } from 'node:util';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { cellAt, type Log, type SourceLog } from '../model/log.js';
import { simulatedStore, STORE_HOME } from '../testing/store.js';
import { dayNumberAt, dayOf } from '../time/days.js';
import { zoneOf } from '../time/zone.js';
import type { BusColumns } from './busColumns.js';
import { extendPrepared } from './extendPrepared.js';
import type { Scanned } from './pass.js';
import { PASSES, scanAll, type Kept } from './passes.js';
import { prepare } from './prepare.js';
import { longTest, runs } from '../testing/long.js';

// Laws of every pass, on a simulated home in a zone that changes its clocks.
const HOME = { ...STORE_HOME, timeZone: 'Pacific/Auckland' };
const DAYS = 120;
const STEPS_A_DAY = 48;
const DAY_MS = 86_400_000;
const source = simulatedStore({
  seed: 11,
  days: DAYS,
  stepSeconds: 1800,
  idleW: 30,
  efficiency: 0.9,
  socStep: 0.01,
  gridCharged: true,
});
const { values, resolution } = source.columns.get('battery')!;
const dc = values.map((power) => (power > 0 ? 1.04 * power + 60 : power));
const whole: SourceLog = {
  ...source,
  columns: new Map([...source.columns, ['batteryDc', { values: dc, resolution }]]),
};
const holed = (holes: readonly (readonly [at: number, cells: number])[]): SourceLog => ({
  ...whole,
  columns: new Map(
    [...whole.columns].map(([quantity, column]) => {
      const own = column.values.slice();
      for (const [at, cells] of holes) own.fill(NaN, at, at + cells);
      return [quantity, { ...column, values: own }] as const;
    }),
  ),
});
const part = (log: SourceLog, name: string, from: number, to: number): SourceLog => ({
  ...log,
  name,
  startMs: log.startMs + from * log.stepMs,
  count: to - from,
  columns: new Map(
    [...log.columns].map(([quantity, column]) => [
      quantity,
      { ...column, values: column.values.slice(from, to) },
    ]),
  ),
});
const holes = fc.array(fc.tuple(fc.nat(DAYS * STEPS_A_DAY - 1), fc.integer({ min: 1, max: 90 })), {
  maxLength: 3,
});
const names = Object.keys(PASSES) as (keyof Kept)[];

/** The cells [from, to) of what was gone through. */
function clipped({ log, columns, configurations }: Scanned, from: number, to: number): Scanned {
  const cut = <T>(value: T): T =>
    ArrayBuffer.isView(value)
      ? ((value as unknown as Float64Array).subarray(from, to) as unknown as T)
      : value;
  const channels = new Map(
    [...log.channels].map(([quantity, channel]) => [
      quantity,
      { ...channel, values: cut(channel.values), bridged: cut(channel.bridged) },
    ]),
  );
  const clippedLog: Log = { ...log, startMs: log.startMs + from * log.stepMs, count: to - from, channels };
  const own = Object.fromEntries(Object.entries(columns).map(([key, value]) => [key, cut(value)]));
  return { log: clippedLog, columns: own as unknown as BusColumns, configurations };
}

describe('every pass', () => {
  test('joins two stretches to what a scan of the whole keeps', () => {
    let joined = 0;
    fc.assert(
      fc.property(fc.integer({ min: 70, max: DAYS - 2 }), holes, (day, at) => {
        const log = holed(at);
        const cut = day * STEPS_A_DAY;
        const files = [part(log, 'a.csv', 0, cut), part(log, 'b.csv', cut, log.count)];
        const first = prepare(HOME, files.slice(0, 1));
        const both = extendPrepared(first, HOME, files, []);
        const once = prepare(HOME, files);
        for (const name of names)
          expect([name, isDeepStrictEqual(both[name], once[name])]).toEqual([name, true]);
        if (both.entries[0] === first.entries[0]) joined++;
      }),
      runs(6, 12),
    );
    expect(joined).toBeGreaterThan(1);
  });

  test('joins a log whose battery rests and lacks readings where the later samples begin', () => {
    const night = (i: number) => (i * whole.stepMs + whole.startMs + 12 * 3_600_000) % DAY_MS < 6 * 3_600_000;
    const columns = new Map(whole.columns);
    for (const quantity of ['battery', 'batteryDc'] as const)
      columns.set(quantity, {
        ...columns.get(quantity)!,
        values: columns.get(quantity)!.values.map((power, i) => (night(i) ? 0 : power)),
      });
    const solar = columns.get('solar')!.values.map((power, i) => (night(i) ? NaN : power));
    columns.set('solar', { ...columns.get('solar')!, values: solar });
    const log: SourceLog = { ...whole, columns };
    const files = [part(log, 'a.csv', 0, 90 * STEPS_A_DAY), part(log, 'b.csv', 90 * STEPS_A_DAY, log.count)];
    const first = prepare(HOME, files.slice(0, 1));
    expect(first.rests.length).toBeGreaterThan(80);
    expect(first.gaps.length).toBeGreaterThan(80);
    const both = extendPrepared(first, HOME, files, []);
    const once = prepare(HOME, files);
    expect(both.entries[0]).toBe(first.entries[0]);
    for (const name of names) expect([name, isDeepStrictEqual(both[name], once[name])]).toEqual([name, true]);
  });

  longTest('slices what was kept of the whole to what a scan of the part keeps, but at its edges', () => {
    const zone = zoneOf(HOME.timeZone);
    fc.assert(
      fc.property(fc.nat(60), fc.integer({ min: 20, max: 55 }), holes, (begin, days, at) => {
        const prepared = prepare(HOME, [holed(at)]);
        const { log } = prepared;
        const day = dayNumberAt(zone, log.startMs) + 1 + begin;
        const own = { fromMs: dayOf(zone, day).fromMs, toMs: dayOf(zone, day + days).fromMs };
        const scanned = clipped(prepared, cellAt(log, own.fromMs), cellAt(log, own.toMs));
        const kept = scanAll(scanned);
        // What begins before the part or ends after it is cut by it: some days inside nothing is.
        const inner = { fromMs: own.fromMs + 6 * DAY_MS, toMs: own.toMs - 6 * DAY_MS };
        for (const name of names) {
          const slice = PASSES[name].slice as (all: unknown, range: typeof inner, of: Scanned) => unknown;
          const same = isDeepStrictEqual(
            slice(prepared[name], inner, prepared),
            slice(kept[name], inner, scanned),
          );
          expect([name, same]).toEqual([name, true]);
        }
      }),
      { numRuns: 40 },
    );
  });
});
