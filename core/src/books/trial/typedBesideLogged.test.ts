import { describe, expect, test } from '@jest/globals';
import { prepare } from '../../passes/prepare.js';
import type { System } from '../../system/schema.js';
import { logOf, type Row } from '../../testing/logs.js';
import { evaluateTrial } from './evaluate.js';
import { trialOf, type TrialFile } from './trialFile.js';

const home: System = {
  schema: 'long-tally/system@1',
  name: 'Trial home',
  timeZone: 'UTC',
  configurations: [
    { from: '2020-01-01T00:00:00Z', battery: { modules: 2, moduleKWh: 5, usableShare: 1, cutOff: 0.05 } },
  ],
};

/** A drawdown of 10 h at 600 W from full, logged each 15 minutes with charge to a tenth of a per cent. Invented. */
async function resultOf(readings: TrialFile['readings']) {
  const rows: Row[] = Array.from({ length: 60 }, (_, i) => ({
    solar_w: 0,
    load_w: 600,
    grid_w: 0,
    battery_w: 600,
    soc_pct: Number((100 - 1.53 * i).toFixed(1)),
  }));
  const prepared = prepare(home, [await logOf(rows, '2024-05-01T18:00:00Z', 900)]);
  const file = trialOf({ schema: 'long-tally/trial@1', kind: 'drawdown', readings });
  return evaluateTrial(file, home, prepared, 'trial.json');
}

const at = (hours: number) => new Date(Date.UTC(2024, 4, 1, 18) + hours * 3_600_000).toISOString();
const START = { at: at(0), soc: 1, dischargeKWh: 100, chargeKWh: 200, isTapered: true, loadW: 610 };

describe('what was typed beside the log of the same hours', () => {
  test('agrees within its digits; the finer of them counts, for the energy and for the charge', async () => {
    const result = await resultOf([
      START,
      { at: at(10), soc: 0.39, dischargeKWh: 106.1, chargeKWh: 200, loadW: 580 },
    ]);
    const of = (what: string) => result.compared.find((one) => one.what === what)!;
    expect(of('discharge')).toMatchObject({ readings: 2, agrees: true, leads: 'readings' });
    expect(of('discharge').typed).toBeCloseTo(6.1, 9);
    // By hand: 40 quarters of an hour at 600 W.
    expect(of('discharge').logged).toBeCloseTo(6, 9);
    expect(of('state of charge')).toMatchObject({ readings: 2, agrees: true, leads: 'log' });
    // 100 − 40 × 1.53, where the display says 39.
    expect(result.figures['trial.deltaSoc']!.value).toBeCloseTo(0.612, 9);
    expect(of('load')).toMatchObject({ readings: 2, agrees: true, leads: null });
    expect(of('load').difference).toBeCloseTo(-5, 9);
    expect(result.compared.some(({ what }) => what === 'solar')).toBe(false);
  });

  test('of another hour or another home is told with where it differs most, and what was typed counts', async () => {
    const result = await resultOf([
      START,
      { at: at(5), soc: 0.45, loadW: 2600 },
      { at: at(10), soc: 0.3, dischargeKWh: 109, chargeKWh: 200 },
    ]);
    const of = (what: string) => result.compared.find((one) => one.what === what)!;
    expect(of('discharge')).toMatchObject({ agrees: false, leads: 'readings' });
    expect(of('load')).toMatchObject({ agrees: false, typed: 2600, logged: 600, at: '2024-05-01T23:00:00Z' });
    expect(of('state of charge').agrees).toBe(false);
    expect(Date.parse(of('state of charge').at!)).toBe(Date.parse(at(5)));
    expect(result.figures['trial.deltaSoc']!.value).toBeCloseTo(0.7, 9);
    expect(result.checks.find(({ code }) => code === 'log-differs')!.ok).toBe(false);
  });

  test('is nothing without a log of its hours', () => {
    const file = trialOf({
      schema: 'long-tally/trial@1',
      kind: 'drawdown',
      readings: [START, { at: at(10), soc: 0.39, dischargeKWh: 106 }],
    });
    expect(evaluateTrial(file, home, null, 'trial.json').compared).toEqual([]);
  });
});
