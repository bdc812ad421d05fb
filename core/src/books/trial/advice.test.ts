import { expect, test } from '@jest/globals';
import { prepare } from '../../passes/prepare.js';
import type { System } from '../../system/schema.js';
import { logOf, type Row } from '../../testing/logs.js';
import { evaluateTrial } from './evaluate.js';
import { trialOf, type TrialFile } from './trialFile.js';

const home: System = {
  schema: 'long-tally/system@1',
  name: 'Trial home',
  timeZone: 'Europe/London',
  latitude: 51.5,
  longitude: -0.1,
  configurations: [
    {
      from: '2020-01-01T00:00:00Z',
      battery: { modules: 2, moduleKWh: 10, usableShare: 1, cutOff: 0.1 },
    },
  ],
};
const evaluated = (
  kind: TrialFile['kind'],
  readings: TrialFile['readings'],
  log: Parameters<typeof evaluateTrial>[2] = null,
) => evaluateTrial(trialOf({ schema: 'long-tally/trial@1', kind, readings }), home, log, 'trial.json');

test('20 kWh, 100 → 60 % from 06:00 to 22:00: 8 kWh, 500 W, enough for a second day down to 10 % (common practice, no published source)', () => {
  const { figures, advice } = evaluated('off-grid-run', [
    { at: '2024-03-01T06:00:00Z', soc: 1 },
    { at: '2024-03-01T22:00:00Z', soc: 0.6 },
  ]);
  expect(figures['trial.power.mean']!.value).toBeCloseTo(500, 6);
  // Half of full is left above the cut-off: 10 kWh at 500 W.
  expect(figures['trial.projectedRuntime']!.value).toBeCloseTo(20, 6);
  // At 300 W instead of 500 they would last 33.3 h.
  expect(advice).toContainEqual(expect.stringMatching(/200 W less would make it last about 13\.3 h longer/));
  // London, 2 March 2024: sunrise at about a quarter to seven (almanac, from memory).
  const [, clock, share] = /At sunrise, 2024-03-02 (06:4\d), the charge would be (\d+) %/.exec(
    advice!.join(' '),
  )!;
  expect(clock).toMatch(/^06:4\d$/);
  expect(Math.abs(Number(share) - (60 - (8.75 * 100) / 40))).toBeLessThan(1);
});

test('a part of the load that is logged by name is what to switch off; a run of days has its tally', async () => {
  const rows = Array.from({ length: 40 * 24 }, () => ({
    load_w: 600,
    solar_w: 0,
    pool_load_w: 250,
  })) as unknown as Row[];
  const prepared = prepare(home, [await logOf(rows, '2024-02-01T00:00:00Z', 3600)]);
  const { advice } = evaluated(
    'off-grid-run',
    [
      { at: '2024-03-01T06:00:00Z', soc: 1 },
      { at: '2024-03-01T22:00:00Z', soc: 0.8 },
      { at: '2024-03-02T22:00:00Z', soc: 0.5 },
    ],
    prepared,
  );
  expect(advice!.join(' ')).toMatch(/Without pool, usually 250 W in these hours/);
  expect(advice!.at(-1)).toBe('Day by day: 2024-03-01 100 % → 80 %, 2024-03-02 80 % → 50 %.');
});

test('a drawdown under way is told when the charge for a check comes, and when to stop', () => {
  const { advice } = evaluated('drawdown', [
    { at: '2024-03-01T18:00:00Z', soc: 1, dischargeKWh: 100, chargeKWh: 5, isTapered: true },
    { at: '2024-03-01T22:00:00Z', soc: 0.6, dischargeKWh: 107.6, chargeKWh: 5 },
  ]);
  // A tenth an hour: 40 % in two hours, 13 % in 4.7.
  expect(advice).toEqual([
    '40 %, enough for a check, comes at 00:00 at this pace.',
    'Stop at 13 %, above the cut-off: at this pace at 02:42.',
  ]);
});
