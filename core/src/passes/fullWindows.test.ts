import { describe, expect, test } from '@jest/globals';
import { mergeSources } from '../import/merge/mergeSources.js';
import { configurationsOf } from '../system/configuration.js';
import type { System } from '../system/schema.js';
import { logOf, systemOf, TEN_KWH, type Row } from '../testing/logs.js';
import { nightlyDischarges } from './depthOfDischarge.js';
import { fullWindows } from './fullWindows.js';

const START = '2024-01-01T00:00:00Z';
const MINUTE = 60_000;

/** Rows of 5 minutes from runs of [minutes, battery W, SOC %]. */
function rowsOf(
  runs: readonly (readonly [minutes: number, watts: number | undefined, soc: number])[],
): Row[] {
  return runs.flatMap(([minutes, watts, soc]) =>
    Array.from({ length: minutes / 5 }, (): Row => ({
      soc_pct: soc,
      ...(watts === undefined ? {} : { battery_w: watts }),
    })),
  );
}

async function windowsOf(runs: Parameters<typeof rowsOf>[0], system: System = systemOf(TEN_KWH)) {
  const { log } = mergeSources([await logOf(rowsOf(runs), START, 300)], 'UTC', []);
  return fullWindows(log, configurationsOf(system)).map(({ fromMs, toMs, chargeWh, dischargeWh }) => ({
    from: (fromMs - log.startMs) / MINUTE,
    to: (toMs - log.startMs) / MINUTE,
    charge: Math.round(chargeWh),
    discharge: Math.round(dischargeWh),
  }));
}

// Ratings of 5 kW: calm means charge up to 250 W and discharge up to 100 W.
describe('full-to-full windows', () => {
  const cycle = [
    [60, -2000, 80],
    [20, -100, 100],
    [120, 1000, 60],
  ] as const;

  test('run from the end of one hold to the end of the next; energy of a hold belongs to the window it ends', async () => {
    expect(await windowsOf([...cycle, ...cycle, ...cycle])).toEqual([
      { from: 80, to: 280, charge: 2000 + 33, discharge: 2000 },
      { from: 280, to: 480, charge: 2000 + 33, discharge: 2000 },
    ]);
  });

  test('count the time at the foot of the charge in which nothing flows', async () => {
    // The reserve lies at 20 %: at rest above it, or giving power at it, the battery is not empty.
    const day = [...cycle, [60, 0, 60], [60, 600, 20], [120, 0, 20], [30, 8, 19], [300, -500, 70]] as const;
    const system = systemOf({ ...TEN_KWH, reserve: 0.2 });
    const { log } = mergeSources([await logOf(rowsOf([...day, ...day, ...cycle]), START, 300)], 'UTC', []);
    const found = fullWindows(log, configurationsOf(system));
    expect(found.map(({ emptyS }) => emptyS / 60)).toEqual([150, 150]);
  });

  test('need a hold of fifteen minutes', async () => {
    const short = [
      [60, -2000, 80],
      [10, -100, 100],
      [120, 1000, 60],
    ] as const;
    expect(await windowsOf([...short, ...short, ...short])).toEqual([]);
    expect(await windowsOf([...cycle, ...short, ...cycle])).toEqual([
      { from: 80, to: 470, charge: 4000 + 17 + 33, discharge: 4000 },
    ]);
  });

  test('need the full state to be reached by charging', async () => {
    const nightAtFull = [
      [60, 1000, 99],
      [30, 50, 99],
      [60, 1000, 90],
    ] as const;
    expect(await windowsOf([...cycle, ...nightAtFull])).toEqual([]);
  });

  test('need the charge to have tapered off, and the discharge to be small', async () => {
    const hard = [
      [60, -2000, 80],
      [20, -400, 100],
      [120, 1000, 60],
    ] as const;
    const leaking = [
      [60, -2000, 80],
      [20, 150, 100],
      [120, 1000, 60],
    ] as const;
    expect(await windowsOf([...hard, ...hard])).toEqual([]);
    expect(await windowsOf([...leaking, ...leaking])).toEqual([]);
  });

  test('end at a gap in battery power and begin anew behind it', async () => {
    const gap = [[60, undefined, 60]] as const;
    expect(await windowsOf([...cycle, ...gap, ...cycle, ...cycle])).toEqual([
      { from: 340, to: 540, charge: 2033, discharge: 2000 },
    ]);
  });

  test('do not cross a change of configuration', async () => {
    const system: System = {
      ...systemOf(TEN_KWH),
      configurations: [
        { from: START, battery: TEN_KWH },
        { from: '2024-01-01T02:30:00Z', battery: { ...TEN_KWH, modules: 2 } },
      ],
    };
    expect(await windowsOf([...cycle, ...cycle, ...cycle], system)).toEqual([
      { from: 280, to: 480, charge: 2033, discharge: 2000 },
    ]);
  });

  test('without power limits half the nameplate a hour is taken; without any size there are none', async () => {
    expect(await windowsOf([...cycle, ...cycle], systemOf({ modules: 1, moduleKWh: 10 }))).toHaveLength(1);
    expect(await windowsOf([...cycle, ...cycle], systemOf({ reserve: 0.1 }))).toEqual([]);
  });
});

describe('nights', () => {
  // Hourly: full at 18:00, down 5 % an hour to 06:00, up again.
  const soc = (hour: number) =>
    hour >= 18 ? 100 - 5 * (hour - 18) : hour <= 6 ? 70 - 5 * hour : Math.min(100, 40 + 6 * (hour - 6));
  const rows = Array.from({ length: 96 }, (_, h): Row => ({ soc_pct: soc(h % 24) }));

  test('a night runs from noon to noon; the depth is from its highest to its lowest', async () => {
    const { log } = mergeSources([await logOf(rows, START, 3600)], 'UTC', []);
    const nights = nightlyDischarges(log, configurationsOf(systemOf(TEN_KWH)));
    expect(
      nights.map(({ atMs, depth }) => [new Date(atMs).toISOString().slice(5, 13), Math.round(depth * 100)]),
    ).toEqual([
      ['01-01T00', 30],
      ['01-01T12', 60],
      ['01-02T12', 60],
      ['01-03T12', 60],
      ['01-04T12', 25],
    ]);
  });

  test('a night in which the configuration changes is left out', async () => {
    const system: System = {
      ...systemOf(TEN_KWH),
      configurations: [
        { from: START, battery: TEN_KWH },
        { from: '2024-01-02T20:00:00Z', battery: { ...TEN_KWH, modules: 2 } },
      ],
    };
    const { log } = mergeSources([await logOf(rows, START, 3600)], 'UTC', []);
    expect(
      nightlyDischarges(log, configurationsOf(system)).map(({ atMs }) =>
        new Date(atMs).toISOString().slice(5, 10),
      ),
    ).not.toContain('01-02');
  });
});
