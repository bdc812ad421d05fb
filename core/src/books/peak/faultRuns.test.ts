import { expect, test } from '@jest/globals';
import { canonicalCsv } from '../../bookFile/canonicalCsv.js';
import { endMs } from '../../model/log.js';
import { prepare } from '../../passes/prepare.js';
import { openedStop } from '../../views/stops.js';
import { read, systemOf, TEN_KWH } from '../../testing/logs.js';
import type { System } from '../../system/schema.js';
import { faultRuns, faultsOf } from './faultRuns.js';

const home = systemOf(TEN_KWH);

/** One row a minute of a home on its battery, with what it says of its faults. */
async function logWith(faults: readonly string[]) {
  const rows = faults.map(
    (fault, i) => `${new Date(Date.UTC(2024, 0, 1, 0, i)).toISOString()},500,0,500,60,${fault}`,
  );
  const { log } = await read(`time,load_w,grid_w,battery_w,soc_pct,fault\n${rows.join('\n')}\n`);
  return prepare(home, [log]).log;
}

test('faults written as words keep them, codes stay codes, and words that say all is well are none', async () => {
  const log = await logWith([
    '',
    'OK',
    '"E07, over temperature"',
    '"E07, over temperature"',
    'no fault',
    '12',
    '0',
    'E9',
  ]);
  const runs = faultRuns(log, { fromMs: log.startMs, toMs: endMs(log) });
  expect(
    runs.map(({ text, fromMs, toMs }) => [text, (fromMs - log.startMs) / 60_000, (toMs - fromMs) / 60_000]),
  ).toEqual([
    ['E07, over temperature', 2, 2],
    ['code 12', 5, 1],
    ['E9', 7, 1],
  ]);
  expect(faultsOf([...runs, runs[2]!])[0]).toMatchObject({ text: 'E9', runs: [runs[2], runs[2]] });
});

test('a code never becomes another one on the way: gaps hold it, rows of one time keep the highest, the export reads back', async () => {
  const log = await logWith(['7', '', '', '9', 'stuck relay', '', 'stuck relay']);
  const values = [...log.channels.get('fault')!.values];
  expect(values.slice(0, 4)).toEqual([7, 7, 7, 9]);
  expect(values[5]).toBe(values[4]);
  const doubled = await read(
    [
      'time,load_w,fault',
      ...['3', '5', '4'].map((code, i) => `2024-01-01T00:0${i === 2 ? 1 : 0}:00Z,1,${code}`),
    ].join('\n') + '\n',
  );
  expect([...doubled.log.columns.get('fault')!.values]).toEqual([5, 4]);
  const again = await read([...canonicalCsv(log)].join(''));
  expect(again.log.columns.get('fault')!.texts).toEqual(log.channels.get('fault')!.texts);
  expect(again.log.columns.get('fault')!.values[6]).toBe(values[6]);
});

test('a column that says something new in every row is kept to 500 texts', async () => {
  const log = await logWith(Array.from({ length: 900 }, (_, i) => `event ${i}`));
  expect(Object.keys(log.channels.get('fault')!.texts!)).toHaveLength(500);
});

test('a stop is opened with its fault, its legs and its neighbours', async () => {
  const split: System = {
    ...home,
    configurations: [
      {
        ...home.configurations![0]!,
        grid: 'none',
        inverter: { continuousKW: 6, batteryOnlyKW: 6, legs: 2, perLegKW: 3 },
      },
    ],
  };
  const at = (i: number) => new Date(Date.UTC(2024, 0, 1) + i * 1000).toISOString();
  const isDark = (i: number) => (i >= 400 && i < 440) || (i >= 700 && i < 720);
  const rows = Array.from({ length: 1200 }, (_, i) => {
    const leg1 = isDark(i) ? 0 : i >= 396 && i < 400 ? 3400 : 300;
    const leg2 = isDark(i) ? 0 : 200;
    return `${at(i)},${leg1 + leg2},${leg1},${leg2},${leg1 + leg2},60,${i >= 400 && i < 440 ? 'F04 overload leg 1' : ''}`;
  });
  const { log } = await read(
    `time,load_w,leg1_w,leg2_w,battery_w,soc_pct,fault\n${rows.join('\n')}\n`,
    'log.csv',
    undefined,
    split,
  );
  const prepared = prepare(split, [log]);
  const atMs = Date.parse(at(400));
  const opened = openedStop(prepared, atMs)!;
  expect(opened.stop).toMatchObject({
    kind: 'stop',
    cause: 'leg',
    legsW: [3400, 200],
    limitW: 3000,
    restartMs: Date.parse(at(440)),
    fault: 'F04 overload leg 1',
  });
  expect([opened.beforeMs, opened.afterMs]).toEqual([null, Date.parse(at(700))]);
  // Five minutes before and after.
  expect([opened.course.startMs, opened.course.load!.length]).toEqual([Date.parse(at(100)), 640]);
  expect(openedStop(prepared, atMs + 1000)).toBeNull();
});
