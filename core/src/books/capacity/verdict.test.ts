import { describe, expect, test } from '@jest/globals';
import { endMs } from '../../model/log.js';
import { prepare, rangeDataOf } from '../../passes/prepare.js';
import { simulatedStore, STORE_HOME, type Truth } from '../../testing/store.js';
import { verdictOf } from './verdict.js';

// Simulated homes (invented, with known truth).
const PLAIN: Truth = { seed: 8, days: 400, stepSeconds: 900, idleW: 40, efficiency: 0.9, socStep: 0.01 };
function simulated(truth: Truth) {
  const log = simulatedStore(truth);
  const prepared = prepare(STORE_HOME, [log]);
  return (days = truth.days) => {
    const toMs = Math.min(endMs(log), log.startMs + days * 86_400_000);
    return verdictOf(rangeDataOf(prepared, { fromMs: log.startMs, toMs }));
  };
}

describe('the verdict on a capacity', () => {
  const plain = simulated(PLAIN);

  test('says of a day how much it rests on, and never one of one', () => {
    const days = [1, 2, 3, 5, 8].map((count) => plain(count).restsOn);
    for (const says of days) expect(says).not.toMatch(/\b1 (discharges|charges|months)|\b1 of them/);
    expect(days[0]).toMatch(/^Rests on one charge of 30 % or more over 1 day with .+, not from full to near/);
    expect(days.at(-1)).toMatch(/over \d days with .+, one of them from full to near the cut-off\.$/);
  });

  test('without a deep discharge cannot be given, and says what would give it', () => {
    const { says, restsOn, sharpen } = plain(0.2);
    expect(says).toBe('The capacity cannot be estimated from this range.');
    expect(restsOn).toMatch(/No discharge in it takes the battery down by 30 %/);
    expect(sharpen).toMatch(/One evening and night on the battery, from full/);
  });

  test('of a battery that does not fade names no rate', () => {
    const { says, restsOn } = plain();
    expect(says).toMatch(/kWh from full to empty\./);
    expect(says).not.toMatch(/It loses/);
    expect(restsOn).toMatch(/ over 13 months with /);
  });

  test('of one that fades names its rate with the interval', () => {
    const { says } = simulated({ ...PLAIN, days: 1100, fadeAYear: 0.04 })();
    const [, rate, low, high] = /It loses (\d\.\d) % a year \((\d\.\d) % to (\d\.\d) %\)/.exec(says) ?? [];
    expect([Number(low) <= 4, Number(high) >= 4]).toEqual([true, true]);
    expect(Math.abs(Number(rate) - 4)).toBeLessThan(1);
  });
});
