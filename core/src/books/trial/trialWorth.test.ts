import { expect, test } from '@jest/globals';
import { endMs } from '../../model/log.js';
import { prepare } from '../../passes/prepare.js';
import { report } from '../../report/report.js';
import { simulatedStore, STORE_HOME } from '../../testing/store.js';
import { evaluateTrial } from './evaluate.js';
import { trialDifferences } from './trialDifferences.js';
import { parseTrial } from './trialFile.js';
import { trialWorth } from './trialWorth.js';

test('without a log everything is worth trying, what gives a number first', () => {
  const all = trialWorth(STORE_HOME, {});
  expect(all).toHaveLength(7);
  expect(all.slice(0, 3).map(({ kind, gain }) => [kind, gain])).toEqual([
    ['drawdown', Infinity],
    ['idle', Infinity],
    ['recharge', Infinity],
  ]);
  expect(all[0]!.says).toMatch(/not known from the log; a drawdown from full to 15 % would tell it to ±\d/);
});

test('with a log each says what it is known to and what it would come to, which is never worse', () => {
  const log = simulatedStore({
    seed: 3,
    days: 120,
    stepSeconds: 900,
    idleW: 40,
    efficiency: 0.9,
    socStep: 0.01,
  });
  const { figures } = report(prepare(STORE_HOME, [log]), { fromMs: log.startMs, toMs: endMs(log) });
  const drawdown = trialWorth(STORE_HOME, figures).find(({ kind }) => kind === 'drawdown')!;
  const [now, then] = [...drawdown.says.matchAll(/±([\d.]+) %/g)].map(([, share]) => Number(share));
  expect(then).toBeLessThan(now!);
  expect(drawdown.gain).toBeGreaterThan(1);
  const gains = trialWorth(STORE_HOME, figures).map(({ gain }) => gain);
  expect(gains).toEqual([...gains].sort((a, b) => b - a));
});

test('a trial is set beside the one before with both intervals in full (GUM, JCGM 100:2008, 5.1)', () => {
  const drawn = (kWh: number) =>
    evaluateTrial(
      parseTrial(
        JSON.stringify({
          schema: 'long-tally/trial@1',
          kind: 'drawdown',
          readings: [
            { at: '2024-05-01T20:00:00Z', soc: 1, dischargeKWh: 100, chargeKWh: 1, isTapered: true },
            { at: '2024-05-02T04:00:00Z', soc: 0.2, dischargeKWh: 100 + kWh, chargeKWh: 1 },
          ],
        }),
        'trial.json',
      ),
      STORE_HOME,
      null,
      'trial.json',
    );
  const [before, after] = [drawn(7.5), drawn(7.1)];
  const capacity = trialDifferences(before, after).find(({ key }) => key === 'trial.capacity')!;
  expect(capacity.difference.value).toBeCloseTo(-0.4 / 0.8, 9);
  const half = (of: typeof before) => {
    const { low, high } = of.figures['trial.capacity']!;
    return (Number(high) - Number(low)) / 2;
  };
  expect(capacity.difference.high - capacity.difference.value).toBeCloseTo(
    Math.hypot(half(before), half(after)),
    9,
  );
  expect(trialDifferences({ ...before, figures: {} }, after)).toEqual([]);
});
