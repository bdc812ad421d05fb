import { describe, expect, test } from '@jest/globals';
import { prepare } from '../../passes/prepare.js';
import { logOf, type Row } from '../../testing/logs.js';
import { evaluateTrial } from './evaluate.js';
import { parseTrial, trialOf } from './trialFile.js';
import { trialStretches } from './stretches.js';
import { at, homeOf, SIX, trial } from '../../testing/trials.js';

describe('trial files and logs', () => {
  test('what is wrong is named with its place and how to mend it', () => {
    const problems = (file: object) => {
      try {
        parseTrial(JSON.stringify({ schema: 'long-tally/trial@1', kind: 'drawdown', ...file }), 't.json');
        return '';
      } catch (error) {
        return (error as Error).message;
      }
    };
    expect(problems({ readings: [{ at: at(0), soc: 85 }] })).toMatch(
      /key readings\[0\]\.soc.*share from 0 to 1/s,
    );
    expect(problems({ readings: [{ at: 'yesterday' }] })).toMatch(/write the date and time with its offset/i);
    expect(problems({ from: at(5), to: at(1) })).toMatch(/end after it begins/);
    expect(problems({ kind: 'nap' })).toMatch(/drawdown/);
    expect(() => evaluateTrial(trial('drawdown', []), SIX, null, 't.json')).toThrow(/when the trial was/);
  });

  test('a log leads where it is finer, and finds its own stretches, best first', async () => {
    const home = homeOf({ modules: 1, moduleKWh: 10, usableShare: 1, maxChargeKW: 4, cutOff: 0.05 });
    let soc = 100;
    const rows: Row[] = Array.from({ length: 3 * 96 }, (_, i) => {
      const hour = (i / 4) % 24;
      const battery = hour >= 18 || hour < 4 ? 700 : hour >= 9 && hour < 14 ? -1450 : 0;
      const row = {
        load_w: 700,
        solar_w: hour >= 9 && hour < 14 ? 2150 : 0,
        grid_w: battery === 0 ? 700 : 0,
        battery_w: battery,
        soc_pct: Math.round(soc),
      };
      soc = Math.min(100, Math.max(0, soc - (battery / 4 / 10_000) * 100));
      return row;
    });
    const prepared = prepare(home, [await logOf(rows, '2024-05-01T00:00:00Z', 900)]);
    const stretches = trialStretches(prepared, {
      fromMs: prepared.log.startMs,
      toMs: prepared.log.startMs + 3 * 86_400_000,
    });
    expect(stretches.map(({ kind }) => kind)).toEqual(expect.arrayContaining(['drawdown', 'recharge']));
    expect(stretches[0]!.deltaSoc).toBeGreaterThan(0.3);
    const night = trialOf({
      schema: 'long-tally/trial@1',
      kind: 'drawdown',
      from: '2024-05-01T18:00:00Z',
      to: '2024-05-02T04:00:00Z',
      readings: [],
    });
    const { figures } = evaluateTrial(night, home, prepared, 'log');
    expect(figures['trial.delivered']!.value).toBeCloseTo(7, 9);
    expect(figures['trial.delivered']!.basis['source']).toBe('log');
  });
});
