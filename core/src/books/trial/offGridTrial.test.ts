import { describe, expect, test } from '@jest/globals';
import { prepare } from '../../passes/prepare.js';
import { logOf, type Row } from '../../testing/logs.js';
import { evaluateTrial } from './evaluate.js';
import { trialOf } from './trialFile.js';
import { at, evaluated, homeOf, values } from '../../testing/trials.js';

describe('an off-grid run', () => {
  const home = homeOf({ modules: 4, moduleKWh: 5, usableShare: 1, cutOff: 0.1 });

  test('20 kWh, 100 → 60 % in 16 h: 8 kWh, 500 W mean, enough for a second day down to 10 % (common practice, no published source)', () => {
    const run = evaluated(
      'off-grid-run',
      [
        { at: at(0), soc: 1 },
        { at: at(16), soc: 0.6 },
      ],
      home,
    );
    expect(values(run)['power.mean']).toBeCloseTo(500, 9);
    expect(values(run)['projectedRuntime']).toBeCloseTo(20, 6);
    expect(values(run)['projectedRuntime']).toBeGreaterThan(16);
  });

  test('projects the charge at its goal, and says when it is reached or missed', () => {
    const goal = { until: at(24), soc: 0.2 };
    const under = evaluated(
      'off-grid-run',
      [
        { at: at(0), soc: 1 },
        { at: at(8), soc: 0.8 },
      ],
      home,
      { goal },
    );
    expect(under.figures['trial.socAtGoal']!.value).toBeCloseTo(0.4, 9);
    expect(under.verdict).toMatchObject({
      code: 'under-way',
      message: expect.stringMatching(/will be reached|probably/),
    });
    const reached = evaluated(
      'off-grid-run',
      [
        { at: at(0), soc: 1 },
        { at: at(24), soc: 0.4 },
      ],
      home,
      { goal },
    );
    expect(reached.verdict.code).toBe('reached');
    const missed = evaluated(
      'off-grid-run',
      [
        { at: at(0), soc: 1 },
        { at: at(20), soc: 0.1 },
      ],
      home,
      { goal },
    );
    expect(missed.verdict.code).toBe('missed');
  });

  test('with a log the hours to come are used as they usually are', async () => {
    const rows: Row[] = Array.from({ length: 21 * 24 }, (_, i) => ({
      load_w: i % 24 >= 18 && i % 24 < 22 ? 1500 : 250,
      soc_pct: 80,
      battery_w: 0,
    }));
    const prepared = prepare(home, [await logOf(rows, '2024-05-01T00:00:00Z', 3600)]);
    const from = '2024-05-20T08:00:00Z';
    const run = trialOf({
      schema: 'long-tally/trial@1',
      kind: 'off-grid-run',
      readings: [
        { at: from, soc: 1 },
        { at: '2024-05-20T16:00:00Z', soc: 0.9 },
      ],
      goal: { until: '2024-05-21T08:00:00Z' },
    });
    const { figures } = evaluateTrial(run, home, prepared, 'run');
    // Eight hours of 250 W, the evening's four of 1.5 kW, and eight quiet ones: 2 + 6 + 2 less the first two quiet hours.
    expect(figures['trial.socAtGoal']!.value).toBeCloseTo(0.9 - (12 * 0.25 + 4 * 1.5) / 20, 2);
  });
});

describe('curtailment and restart', () => {
  test('solar that ramps with the frequency is told from one that drops out, and where it resumes', () => {
    const home = homeOf({ modules: 2, moduleKWh: 10, usableShare: 1 });
    const course = (steps: readonly (readonly [hz: number, solarW: number, soc: number])[]) =>
      evaluated(
        'curtailment',
        steps.map(([hz, solarW, soc], k) => ({ at: at(k / 10), hz, solarW, soc })),
        home,
      );
    const ramps = course([
      [50, 4000, 0.98],
      [50.6, 3400, 0.99],
      [51, 2000, 1],
      [51.4, 900, 1],
      [51.8, 0, 1],
      [50.1, 3000, 0.97],
    ]);
    expect(values(ramps)).toMatchObject({ shiftStartHz: 50.6, shiftEndHz: 51.8, resumeSoc: 0.97 });
    expect(ramps.verdict.code).toBe('ramps');
    const drops = course([
      [50, 4000, 0.98],
      [51.2, 0, 1],
      [51.2, 0, 1],
      [50, 4000, 0.97],
    ]);
    expect(drops.verdict.code).toBe('drops-out');
  });

  test('a restart is told with its delay and charge', () => {
    const result = evaluated('restart', [
      { at: at(0), soc: 0.05, event: 'low-charge' },
      { at: at(0.5), soc: 0.08, event: 'restart' },
    ]);
    expect(values(result)).toMatchObject({ restartDelay: 0.5, resumeSoc: 0.08 });
  });
});
