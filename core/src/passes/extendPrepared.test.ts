import { isDeepStrictEqual } from 'node:util';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Correction } from '../model/correction.js';
import { prepare } from './prepare.js';
import { extendPrepared } from './extendPrepared.js';
import type { SourceLog } from '../model/log.js';
import type { Quantity } from '../model/quantity.js';
import type { JournalNote } from '../system/journal.js';
import type { System } from '../system/schema.js';
import { simulatedStore, STORE_HOME } from '../testing/store.js';
import { longTest } from '../testing/long.js';

// A simulation that tests a method against preparing the whole, which is checked elsewhere.
const HOME = { ...STORE_HOME, timeZone: 'Pacific/Auckland', latitude: -36.9, longitude: 174.6 };
const DAYS = 110;
const STEPS_A_DAY = 48;
const whole = withDcSide(
  simulatedStore({
    seed: 3,
    days: DAYS,
    stepSeconds: 1800,
    idleW: 40,
    efficiency: 0.9,
    socStep: 0.01,
    gridCharged: true,
  }),
);

/** The battery's DC side beside its AC side, so that the inverter's tare line has points. */
function withDcSide(log: SourceLog): SourceLog {
  const { values, resolution } = log.columns.get('battery')!;
  const dc = values.map((power) => (power > 0 ? 1.04 * power + 60 : power));
  return { ...log, columns: new Map([...log.columns, ['batteryDc', { values: dc, resolution }]]) };
}

/** Cells [from, to) of the simulated home as a file of its own, with some stretches missing. */
function fileOf(name: string, from: number, to: number, holes: readonly Hole[] = []): SourceLog {
  const columns = new Map(
    [...whole.columns].map(([quantity, column]) => {
      const values = column.values.slice(from, to);
      for (const hole of holes)
        if (hole.quantity === quantity)
          values.fill(NaN, Math.max(0, hole.at - from), Math.max(0, hole.at + hole.cells - from));
      return [quantity, { ...column, values }] as const;
    }),
  );
  return { ...whole, name, startMs: whole.startMs + from * whole.stepMs, count: to - from, columns };
}

function withDigit(log: SourceLog, quantity: Quantity, resolution: number): SourceLog {
  const columns = new Map(log.columns).set(quantity, { ...log.columns.get(quantity)!, resolution });
  return { ...log, columns };
}

interface Hole {
  readonly quantity: Quantity;
  readonly at: number;
  readonly cells: number;
}

const LAST = DAYS * STEPS_A_DAY;
const hole = fc.record({
  quantity: fc.constantFrom<Quantity>('solar', 'load', 'grid', 'battery', 'batteryDc', 'soc'),
  at: fc.nat(LAST - 1),
  cells: fc.oneof(fc.integer({ min: 1, max: 5 }), fc.integer({ min: 20, max: 400 })),
});

describe('a home prepared further', () => {
  longTest('is the home prepared as a whole, wherever the new log begins and whatever is missing', () => {
    let joined = 0;
    const runs = 24;
    fc.assert(
      fc.property(
        fc.integer({ min: 64 * STEPS_A_DAY, max: LAST - 1 }),
        fc.nat(6 * STEPS_A_DAY),
        fc.array(hole, { maxLength: 4 }),
        (end, pause, holes) => {
          const first = fileOf('a.csv', 0, end, holes);
          const next = fileOf('b.csv', Math.min(end + pause, LAST - 1), LAST, holes);
          const before = prepare(HOME, [first]);
          const after = extendPrepared(before, HOME, [first, next], []);
          expect(isDeepStrictEqual(after, prepare(HOME, [first, next]))).toBe(true);
          if (after.entries[0] === before.entries[0]) joined++;
        },
      ),
      { numRuns: runs },
    );
    // Most are joined on; the others have lost what would show that they may be.
    expect(joined).toBeGreaterThan(runs / 5);
  });

  test('goes on file after file, day by day', () => {
    const files = [fileOf('0.csv', 0, 80 * STEPS_A_DAY)];
    let home = prepare(HOME, [...files]);
    const [{ sums }] = home.entries as [(typeof home.entries)[number]];
    for (let day = 80; day < 85; day++) {
      files.push(fileOf(`${day}.csv`, day * STEPS_A_DAY, (day + 1) * STEPS_A_DAY));
      home = extendPrepared(home, HOME, [...files], []);
      expect(home.entries[0]!.sums).toBe(sums);
    }
    expect(isDeepStrictEqual(home, prepare(HOME, files))).toBe(true);
  });

  test('with another note in the journal reads it again, and goes through no sample', () => {
    const log = fileOf('a.csv', 0, 70 * STEPS_A_DAY);
    const before = prepare(HOME, [log]);
    const note = (leaveOut: boolean): JournalNote => ({
      kind: 'test',
      fromMs: log.startMs,
      toMs: log.startMs + 5 * 86_400_000,
      text: '',
      leaveOut,
    });
    const told = extendPrepared(before, HOME, [log], [], [note(false)]);
    expect(told.columns).toBe(before.columns);
    expect(isDeepStrictEqual(told, prepare(HOME, [log], [], [note(false)]))).toBe(true);
    const less = extendPrepared(told, HOME, [log], [], [note(true)]);
    expect(isDeepStrictEqual(less, prepare(HOME, [log], [], [note(true)]))).toBe(true);
    expect(Number.isNaN(less.log.channels.get('load')!.values[0])).toBe(true);
  });

  test('leaves what it goes on from as it was, even where two go on from the same', () => {
    const end = 90 * STEPS_A_DAY;
    const first = fileOf('a.csv', 0, end);
    const second = fileOf('b.csv', end, end + 200);
    const third = fileOf('c.csv', end + 200, end + 300);
    const other = fileOf('d.csv', end + 250, end + 350);
    const start = extendPrepared(prepare(HOME, [first]), HOME, [first, second], []);
    const one = extendPrepared(start, HOME, [first, second, third], []);
    const two = extendPrepared(start, HOME, [first, second, other], []);
    const wholes = [[second], [second, third], [second, other]].map((more) =>
      prepare(HOME, [first, ...more]),
    );
    [start, one, two].forEach((home, i) => expect(isDeepStrictEqual(home, wholes[i])).toBe(true));
    const load = (home: typeof start) => home.log.channels.get('load')!.values.buffer;
    // The first to go on has the room behind the columns, the second gets a copy.
    expect([load(one) === load(start), load(two) === load(start)]).toEqual([true, false]);
  });

  longTest('is prepared as a whole where more than its end has changed', () => {
    const end = 100 * STEPS_A_DAY;
    const first = fileOf('a.csv', 0, end);
    const before = prepare(HOME, [first]);
    const next = fileOf('b.csv', end, LAST);
    const blank: Correction = {
      kind: 'blank',
      source: 'a.csv',
      quantity: 'load',
      stretches: [[first.startMs, first.startMs + 86_400_000]],
    };
    const cases: readonly (readonly [System, readonly SourceLog[], readonly Correction[]])[] = [
      [HOME, [first, next], [blank]],
      [HOME, [first, fileOf('b.csv', end - 2 * STEPS_A_DAY, LAST)], []],
      [HOME, [next], []],
      [{ ...HOME, configurations: [] }, [first, next], []],
      [HOME, [first, { ...next, stepMs: 900_000 }], []],
      [HOME, [first, { ...next, startMs: next.startMs + 60_000 }], []],
      [HOME, [first, withDigit(next, 'soc', 0.05)], []],
    ];
    for (const [system, sources, corrections] of cases) {
      const after = extendPrepared(before, system, sources, corrections);
      expect(isDeepStrictEqual(after, prepare(system, sources, corrections))).toBe(true);
      expect(after.entries[0]).not.toBe(before.entries[0]);
    }
  });
});

test('another tariff goes through no sample again, and gives what preparing anew gives', () => {
  const before = prepare(HOME, [whole]);
  const priced: System = {
    ...HOME,
    currency: 'NZD',
    tariffs: [{ from: '2022-01-01', import: [{ rate: 0.3 }] }],
    degreeDays: { heatingBaseC: 17 },
  };
  const after = extendPrepared(before, priced, [whole], []);
  expect(after.entries).toBe(before.entries);
  expect(isDeepStrictEqual(after, prepare(priced, [whole]))).toBe(true);
});
