import { describe, expect, test } from '@jest/globals';
import { endMs, type SourceLog } from '../../model/log.js';
import type { JournalNote } from '../../system/journal.js';
import { extendPrepared } from '../../passes/extendPrepared.js';
import { prepare, rangeDataOf } from '../../passes/prepare.js';
import { report } from '../../report/report.js';
import { simulatedStore, STORE_HOME } from '../../testing/store.js';
import { homeStorage } from '../shared/homeStorage.js';
import { parseTrialFile, type TrialFile } from './trialFile.js';
import { trialRecords } from './trialRecords.js';
import { longTest } from '../../testing/long.js';

const log = simulatedStore({
  seed: 9,
  days: 90,
  stepSeconds: 900,
  idleW: 40,
  efficiency: 0.9,
  socStep: 0.01,
});
const at = (hours: number) => new Date(log.startMs + hours * 3_600_000).toISOString();
const trial = (kind: TrialFile['kind'], readings: TrialFile['readings'], more: Partial<TrialFile> = {}) =>
  parseTrialFile(JSON.stringify({ schema: 'long-tally/trial@1', kind, readings, ...more }), 'trial.json');
const figuresWith = (
  files: readonly TrialFile[],
  source: SourceLog = log,
  journal: readonly JournalNote[] = [],
) => {
  const prepared = prepare(STORE_HOME, [source], [], journal, trialRecords(files, STORE_HOME));
  return { prepared, ...report(prepared, { fromMs: source.startMs, toMs: endMs(source) }) };
};
/** 10 kWh, from full to 20 %: 7.2 kWh came out in 8 h. */
const DRAWN = trial(
  'drawdown',
  [
    { at: at(60 * 24 + 20), soc: 1, dischargeKWh: 300, chargeKWh: 400, isTapered: true },
    { at: at(60 * 24 + 28), soc: 0.2, dischargeKWh: 307.2, chargeKWh: 400 },
  ],
  { name: 'May drawdown' },
);

describe('trials that were run count in the other books', () => {
  longTest(
    'a drawdown by typed counters is an estimate of the capacity, and tells how many modules answer',
    () => {
      const [record] = trialRecords([DRAWN], STORE_HOME);
      // (7.2 kWh + 30 W × 8 h) ÷ 0.8
      expect(record!.capacity!.wh).toBeCloseTo((7200 + 30 * 8) / 0.8, 6);
      expect(record).toMatchObject({ isOffGrid: true, name: 'May drawdown', idle: null });
      const { capacity, figures } = figuresWith([DRAWN]);
      expect(capacity.filter(({ kind }) => kind === 'trial')).toHaveLength(1);
      expect(figures['capacity.trial.modules']!.value).toBe(2);
      expect(figuresWith([]).figures['capacity.trial.modules']!.value).toBeNull();
    },
  );

  test('where the log holds the discharge of a trial the log leads, and the typed one is not counted twice', () => {
    const night = figuresWith([]).prepared.capacity.segments.find(
      ({ direction, socFrom, socTo }) => direction === 'discharge' && socFrom - socTo > 0.5,
    )!;
    const kept = trial('drawdown', [], {
      from: new Date(night.fromMs - 600_000).toISOString(),
      to: new Date(night.toMs + 600_000).toISOString(),
    });
    const own = figuresWith([kept]).capacity.filter(({ kind }) => kind === 'trial');
    expect(own).toHaveLength(1);
    expect(Date.parse(own[0]!.at)).toBe(night.toMs);
    const typed = {
      ...DRAWN,
      readings: DRAWN.readings.map((one, i) => ({ ...one, at: i === 0 ? kept.from! : kept.to! })),
    };
    expect(figuresWith([typed]).capacity.filter(({ kind }) => kind === 'trial')).toEqual(own);
  });

  test('an idle draw is set against the log, and serves the runtime where the log does not tell one', () => {
    const idle = (watts: number) =>
      trial('idle', [
        { at: at(500), soc: 0.8, batteryW: watts, loadW: 0 },
        { at: at(504), soc: 0.8, batteryW: watts, loadW: 0 },
        { at: at(509), soc: 0.79, batteryW: watts, loadW: 0 },
      ]);
    const agrees = figuresWith([idle(42)]).findings.find(({ code }) => code === 'trial-idle')!;
    expect([agrees.severity, agrees.message]).toEqual(['note', expect.stringMatching(/they agree/)]);
    const differs = figuresWith([idle(180)]).findings.find(({ code }) => code === 'trial-idle')!;
    expect([differs.severity, differs.message]).toEqual([
      'warning',
      expect.stringMatching(/180 W .* they differ/),
    ]);
    // Three days tell no draw of their own.
    const short = {
      ...log,
      count: 3 * 96,
      columns: new Map(
        [...log.columns].map(([name, column]) => [
          name,
          { ...column, values: column.values.slice(0, 3 * 96) },
        ]),
      ),
    };
    const storageWith = (files: readonly TrialFile[]) => {
      const { prepared } = figuresWith(files, short);
      return homeStorage(rangeDataOf(prepared, { fromMs: short.startMs, toMs: endMs(short) }))!.parameters
        .idleW;
    };
    const early = {
      ...idle(180),
      readings: idle(180).readings.map((one, i) => ({ ...one, at: at(40 + 4 * i) })),
    };
    expect(storageWith([])).toBe(30);
    expect(storageWith([early])).toBe(180);
  });

  test('a run without the grid is held against what its charge should have lasted', () => {
    const run = (hours: number) =>
      trial('off-grid-run', [
        { at: at(700), soc: 0.9, loadKWh: 100 },
        { at: at(700 + hours), soc: 0.5, loadKWh: 103.4 },
      ]);
    const told = (hours: number) =>
      figuresWith([run(hours)]).findings.find(({ code }) => code === 'trial-run')!;
    // 4 kWh of the cells give about 3.4 kWh beside their own draw.
    expect(told(9).severity).toBe('note');
    expect(told(9).message).toMatch(/should have lasted .* h .* it lasted 9\.0 h\./);
    expect(told(30).severity).toBe('warning');
  });

  test('a leg that held and one that tripped prove its limit, and one below the described limit is warned of', () => {
    const [only] = STORE_HOME.configurations!;
    const home = {
      ...STORE_HOME,
      configurations: [{ ...only!, inverter: { continuousKW: 6, legs: 2, perLegKW: 3 } }],
    };
    const full = trial('full-load', [
      { at: at(800), soc: 0.8, legW: [2100, 900] },
      { at: at(800.1), soc: 0.8, legW: [2400, 900], event: 'trip' },
    ]);
    const prepared = prepare(home, [log], [], [], trialRecords([full], home));
    const { figures, findings } = report(prepared, { fromMs: log.startMs, toMs: endMs(log) });
    expect(figures['peak.leg.held']!.value).toBe(2.1);
    expect(figures['peak.leg.tripped']!.value).toBe(2.4);
    expect(findings.find(({ code }) => code === 'trial-leg')!.message).toMatch(/2400 W, below the 3000 W/);
  });

  test('one that is void, or of which nothing says when it was, proves nothing; adding one prepares no log again', () => {
    const charged = { ...DRAWN, readings: [DRAWN.readings[0]!, { ...DRAWN.readings[1]!, chargeKWh: 405 }] };
    expect(trialRecords([charged, trial('idle', [])], STORE_HOME)).toEqual([]);
    const before = prepare(STORE_HOME, [log]);
    const after = extendPrepared(before, STORE_HOME, [log], [], [], trialRecords([DRAWN], STORE_HOME));
    expect(after.windows).toBe(before.windows);
    expect(after.estimates.length).toBe(before.estimates.length + 1);
  });
});
